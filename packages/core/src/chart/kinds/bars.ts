import { type AxesKind, drawAxes } from '../axes.ts';
import type { Chart } from '../chart.ts';
import { inkOn } from '../colors.ts';
import type { ChartKind } from '../kind.ts';
import { drawLines } from '../lines.ts';
import type { Plot } from '../plot.ts';
import { colorOf, type Extent, joined, partOf, type Series, seriesOf, textAt, valueAt } from '../series.ts';
import { type Stacked, stacked } from '../stack.ts';
import { bySecond, seriesExtent, seriesLegend, shareFormat } from './common.ts';

/** Share of its place that a bar, or a group of them, takes; and the widest, in points. */
const SHARE = 0.72;
const WIDEST = 64;

const isBar = ({ drawnAs }: Series): boolean => drawnAs === null || drawnAs === 'column';

/** Writes a value at the end of its bar: past it, or inside where there is no room. */
const labelBar = (plot: Plot, text: string, along: number, from: number, to: number, color: string): void => {
  const { writer, isFlipped, labels } = plot;
  const off = isFlipped ? writer.width(text) / 2 + 4 : writer.capHeight / 2 + 4;
  const way = to >= from ? 1 : -1;
  if (labels.put(text, [plot.point(along, to + way * off)])) return;
  if (Math.abs(to - from) > 2 * off)
    labels.put(text, [plot.point(along, to - way * off)], { color: inkOn(color), over: true });
};

const drawBars = (plot: Plot, series: readonly Series[]): void => {
  const { chart, panel, along, out, writer } = plot;
  const { settings, places } = chart;
  const isStacked = settings.stack !== 'beside';
  // Both scales have bars of their own: each stacks by itself, side by side with the other.
  const sets = isStacked ? bySecond(series).filter((set) => set.length > 0) : series.map((one) => [one]);
  const width = Math.min(WIDEST * sets.length, along.band * SHARE) / Math.max(1, sets.length);
  const sums: Stacked[] = isStacked
    ? sets.map((set) => stacked(panel, set, places.length, settings.stack === 'full'))
    : [];
  // Labels keep off every bar, so that all of them come first.
  const later: (() => void)[] = [];
  for (let place = 0; place < places.length; place++) {
    const middle = plot.place(place);
    if (middle === null) continue;
    for (const [s, set] of sets.entries())
      for (const [i, one] of set.entries()) {
        const value = valueAt(panel, one, place);
        if (value === null) continue;
        const scale = plot.scale(one.isSecond);
        const [low, high] = isStacked ? sums[s]![i]![place]! : [scale.base, value];
        const [from, to] = [scale.within(low), scale.within(high)];
        const at = middle + (s - (sets.length - 1) / 2) * width;
        const box = plot.bar(at, width * (sets.length > 1 ? 0.94 : 1), from, to);
        const fill = colorOf(panel, one, place);
        out.rect(box, {
          fill,
          hatch: settings.patterns ? one.sign : 0,
          ...partOf(chart, panel, one, place),
        });
        plot.labels.avoid(box);
        if (settings.labels === 'none') continue;
        const text = textAt(panel, one, place);
        if (!isStacked) later.push(() => labelBar(plot, text, at, from, to, fill));
        else if (Math.abs(to - from) > (plot.isFlipped ? writer.width(text) + 2 : writer.lineHeight))
          later.push(() =>
            plot.labels.put(text, [plot.point(at, (from + to) / 2)], { color: inkOn(fill), over: true }),
          );
      }
  }
  for (const label of later) label();
};

/** Lines and areas over stacked bars are not stacked themselves. */
const unstacked = (chart: Chart): Chart => ({ ...chart, settings: { ...chart.settings, stack: 'beside' } });

/** Upright or lying bars; some series may be lines or areas over them. */
export const barsKind = (isFlipped: boolean): ChartKind => {
  const axes: AxesKind = {
    isFlipped,
    along: () => 'bands',
    format: shareFormat,
    extents: (chart, panel) => {
      const extent = (series: readonly Series[]): Extent | null =>
        joined(
          seriesExtent(chart, panel, series.filter(isBar), true),
          seriesExtent(
            unstacked(chart),
            panel,
            series.filter((one) => !isBar(one)),
            false,
          ),
        );
      const [first, second] = bySecond(seriesOf(chart));
      return [extent(first), extent(second)];
    },
    draw: (plot) => {
      const series = seriesOf(plot.chart);
      // Lines lie over upright bars alone.
      const bars = isFlipped ? series : series.filter(isBar);
      const areas = isFlipped ? [] : series.filter(({ drawnAs }) => drawnAs === 'area');
      const lines = isFlipped ? [] : series.filter(({ drawnAs }) => drawnAs === 'line');
      if (areas.length > 0) drawLines(plot.with(unstacked(plot.chart)), areas, 'area');
      drawBars(plot, bars);
      if (lines.length > 0) drawLines(plot.with(unstacked(plot.chart)), lines, 'line');
    },
  };
  return {
    roles: ['value'],
    takes: { along: true, split: true },
    legend: (chart) => seriesLegend(chart, 'area'),
    draw: (chart, box, writer, out) => drawAxes(axes, chart, box, writer, out),
  };
};
