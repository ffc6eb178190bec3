import { type AxesKind, drawAxes } from '../axes.ts';
import type { Chart, ChartCell, ChartPanel } from '../chart.ts';
import type { ChartKind } from '../kind.ts';
import type { Plot } from '../plot.ts';
import { cellAt, colorOf, type Extent, extentOf, seriesOf } from '../series.ts';
import { drawSymbol } from '../symbols.ts';
import { labelOf } from '../writer.ts';
import { seriesLegend } from './common.ts';

const DOT_SIZE = 6;
/** Widest bubble, as a share of the shorter side of the plot, and the smallest one in points. */
const WIDEST = 0.18;
const SMALLEST = 3;

/** Room around the outermost points, as a share of how far they reach. */
const AROUND = 0.05;

const cellsOf = (chart: Chart, panel: ChartPanel): { split: number; place: number; cell: ChartCell }[] =>
  chart.splits.flatMap((_, split) =>
    chart.places.flatMap((__, place) => {
      const cell = cellAt(panel, split, place);
      return cell ? [{ split, place, cell }] : [];
    }),
  );

const measured = (chart: Chart, panel: ChartPanel, measure: number): (number | null)[] =>
  cellsOf(chart, panel).map(({ cell }) =>
    cell.values[0] === null || cell.values[1] === null ? null : cell.values[measure]!,
  );

const widened = (extent: Extent | null, share: number, isLog: boolean): Extent | null => {
  if (!extent || isLog) return extent;
  const room = (extent[1] - extent[0]) * share;
  // What is never below 0 has no use for a scale that is.
  const low = extent[0] - room;
  return [extent[0] >= 0 ? Math.max(0, low) : low, extent[1] + room];
};

const draw = (plot: Plot, hasSize: boolean): void => {
  const { chart, panel, out, box, labels, writer } = plot;
  const { places, settings } = chart;
  const series = seriesOf(chart, 1);
  const scale = plot.scale(false);
  const all = chart.panels.flatMap((one) => measured(chart, one, 2)).filter((size) => size !== null && size > 0);
  const greatest = (hasSize ? extentOf(all)?.[1] : null) ?? 1;
  const widest = Math.max(SMALLEST, Math.min(box.width, box.height) * WIDEST);
  const dots = cellsOf(chart, panel).flatMap(({ split, place, cell }) => {
    const [x, y, size = null] = cell.values;
    if (x == null || y == null) return [];
    const [along, length] = [plot.along.at!(x), scale.of(y)];
    const isInside = along >= 0 && along <= plot.alongLength && length >= 0 && length <= box.height;
    if (!isInside) return [];
    // Areas go by the size: what is twice as much covers twice as much.
    const width = !hasSize
      ? DOT_SIZE
      : size === null || size <= 0
        ? 0
        : Math.max(SMALLEST, widest * Math.sqrt(size / greatest));
    return width === 0 ? [] : [{ split, place, cell, at: plot.point(along, length), width }];
  });
  // Great ones first, so that small ones are seen.
  dots.sort((a, b) => b.width - a.width);
  for (const { split, place, cell, at, width } of dots) {
    const one = series[split]!;
    const label = labelOf(places[place]!.label);
    const head = [panel.title, label, chart.splits.length > 1 ? one.name : ''].filter((part) => part !== '').join(', ');
    const tip = `${head}${head === '' ? '' : ': '}${cell.texts.join(' · ')}`;
    const sign = hasSize || settings.symbols === false ? 0 : one.sign;
    const color = colorOf(panel, one, place);
    drawSymbol(out, sign, at[0], at[1], width, { fill: color, opacity: hasSize ? 0.7 : 0.85, tip, to: cell.link });
  }
  if (settings.labels === 'none') return;
  for (const { at, width } of dots) labels.avoid({ x: at[0] - width / 2, y: at[1] - width / 2, width, height: width });
  for (const { cell, place, at, width } of dots) {
    const text = settings.labels === 'name' ? labelOf(places[place]!.label) : (cell.texts[hasSize ? 2 : 1] ?? '');
    const [x, y] = at;
    const off = width / 2 + writer.capHeight / 2 + 2;
    const beside = width / 2 + writer.width(text) / 2 + 2;
    labels.put(text, [
      [x, y - off],
      [x + beside, y],
      [x - beside, y],
      [x, y + off],
    ]);
  }
};

/** Points by two measures; with a third they are as large as it. */
export const dotsKind = (hasSize: boolean): ChartKind => {
  const around = hasSize ? WIDEST : AROUND;
  const axes: AxesKind = {
    along: () => 'stretch',
    alongExtent: (chart) => {
      const all = chart.panels.flatMap((panel) => measured(chart, panel, 0));
      return widened(extentOf(all), around, chart.settings.along.log) ?? [0, 1];
    },
    format: (chart) => chart.measures[1]?.format ?? null,
    extents: (chart, panel) => [
      widened(extentOf(measured(chart, panel, 1)), around, chart.settings.scales[0].log),
      null,
    ],
    draw: (plot) => draw(plot, hasSize),
  };
  return {
    roles: hasSize ? ['x', 'y', 'size'] : ['x', 'y'],
    takes: { along: true, split: true },
    legend: (chart) => seriesLegend(chart, 'point', seriesOf(chart, 1)),
    draw: (chart, box, writer, out) => {
      const [x] = chart.measures;
      const { settings } = chart;
      const along = { ...settings.along, kind: 'numbers' as const, format: settings.along.format };
      const titled = along.title === '' && x ? { ...along, title: x.caption } : along;
      drawAxes(axes, { ...chart, settings: { ...settings, along: titled } }, box, writer, out);
    },
  };
};
