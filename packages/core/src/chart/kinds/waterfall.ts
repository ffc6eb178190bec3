import type { LinkTarget } from '../../page/page.ts';
import { type AxesKind, drawAxes } from '../axes.ts';
import type { Chart, ChartPanel } from '../chart.ts';
import { colorAt, inkOn } from '../colors.ts';
import type { ChartKind } from '../kind.ts';
import type { Plot } from '../plot.ts';
import { cellAt, extentOf } from '../series.ts';

/** One step: from what was there before to what is there after it. */
export interface Step {
  place: number;
  from: number;
  to: number;
}

/** The steps of a panel, one after the other; those without a value are none. */
export const stepsOf = ({ places }: Chart, panel: ChartPanel): Step[] => {
  let sum = 0;
  return places.flatMap((_, place) => {
    const value = cellAt(panel, 0, place)?.values[0] ?? null;
    if (value === null) return [];
    const from = sum;
    sum += value;
    return [{ place, from, to: sum }];
  });
};

/** A chart with the sum of all its steps as a place of its own. */
const withTotal = (chart: Chart): Chart => {
  const { totalCaption } = chart.settings;
  return totalCaption === '' ? chart : { ...chart, places: [...chart.places, { at: null, label: totalCaption }] };
};

const draw = (plot: Plot): void => {
  const { chart, panel, out, along, labels } = plot;
  const { palette, labels: shown } = chart.settings;
  const scale = plot.scale(false);
  const format = chart.measures[0]?.format ?? '';
  const width = Math.min(64, along.band * 0.72);
  const [up, down, total] = [colorAt(palette, 0), colorAt(palette, 3), colorAt(palette, 2)];
  const steps = stepsOf(chart, panel);
  const bar = (
    place: number,
    from: number,
    to: number,
    fill: string,
    tip: string,
    text: string,
    link?: LinkTarget | null,
  ): void => {
    const at = plot.place(place);
    if (at === null) return;
    const [low, high] = [scale.within(from), scale.within(to)];
    const box = plot.bar(at, width, low, high);
    out.rect(box, { fill, tip, to: link });
    labels.avoid(box);
    if (shown === 'none') return;
    const top = Math.max(low, high);
    if (!labels.put(text, [plot.point(at, top + 7)]))
      labels.put(text, [plot.point(at, (low + high) / 2)], { color: inkOn(fill), over: true });
  };
  for (const [i, { place, from, to }] of steps.entries()) {
    const cell = cellAt(panel, 0, place)!;
    const text = cell.texts[0] ?? '';
    const fill = cell.colors?.[0] ?? (to >= from ? up : down);
    bar(place, from, to, fill, `${chart.places[place]!.label}: ${text}`, text, cell.link);
    const next = steps[i + 1]?.place ?? (chart.settings.totalCaption === '' ? null : chart.places.length - 1);
    const [a, b] = [plot.place(place), next === null ? null : plot.place(next)];
    if (a === null || b === null) continue;
    const level = scale.within(to);
    const [[x1, y1], [x2, y2]] = [plot.point(a + width / 2, level), plot.point(b - width / 2, level)];
    if (x2 > x1) out.line(x1, y1, x2, y2, { stroke: '#6b7672', dash: [2, 2] });
  }
  if (chart.settings.totalCaption === '' || steps.length === 0) return;
  const sum = steps.at(-1)!.to;
  const text = chart.saying.number(sum, format);
  bar(chart.places.length - 1, 0, sum, total, `${chart.settings.totalCaption}: ${text}`, text);
};

const axes: AxesKind = {
  along: () => 'bands',
  extents: (chart, panel) => [extentOf([0, ...stepsOf(chart, panel).flatMap(({ from, to }) => [from, to])]), null],
  draw,
};

/** Steps up and down from nothing to a sum. */
export const waterfallKind: ChartKind = {
  roles: ['value'],
  takes: { along: true, split: false },
  legend: () => [],
  draw: (chart, box, writer, out) => drawAxes(axes, withTotal(chart), box, writer, out),
};
