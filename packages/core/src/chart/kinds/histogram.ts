import { ticks } from 'd3-array';
import { type AxesKind, drawAxes } from '../axes.ts';
import type { Chart, ChartCell } from '../chart.ts';
import type { ChartKind } from '../kind.ts';
import type { Plot } from '../plot.ts';
import { colorOf, type Extent, extentOf, partOf, seriesOf } from '../series.ts';
import { stacked } from '../stack.ts';
import { seriesLegend } from './common.ts';

/** Most bins that are made without being asked for. */
const MOST_BINS = 30;

type Spread = NonNullable<ChartCell['spread']>;

/** Every value of a chart with how often it comes, of all places of a split in a panel. */
const spreadOf = ({ panels }: Chart, panel: number, split: number): Spread =>
  (panels[panel]?.cells[split] ?? []).flatMap((cell) => cell?.spread ?? []);

/** The ends of the bins: nice ones, as many as the square root of the number of values or as asked for. */
export const binEnds = (extent: Extent, count: number, asked: number | null): number[] => {
  const [low, high] = extent;
  const wanted = asked ?? Math.max(4, Math.min(MOST_BINS, Math.ceil(Math.sqrt(count))));
  if (low === high) return [low - 0.5, high + 0.5];
  const inner = ticks(low, high, wanted);
  if (inner.length < 2) return [low, high];
  const step = inner[1]! - inner[0]!;
  const ends = [...inner];
  if (low < ends[0]!) ends.unshift(ends[0]! - step);
  // The last bin takes its upper end as well.
  if (high > ends.at(-1)!) ends.push(ends.at(-1)! + step);
  return ends;
};

/** Which bin a value falls into. */
const binOf = (ends: readonly number[], value: number): number => {
  let [low, high] = [0, ends.length - 2];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (value >= ends[middle]!) low = middle;
    else high = middle - 1;
  }
  return low;
};

/** A chart of how many values fall into each bin: its places are the bins. */
export const binned = (chart: Chart): { chart: Chart; ends: number[] } => {
  const { splits, panels, measures, saying, settings } = chart;
  const spreads = panels.map((_, panel) => splits.map((__, split) => spreadOf(chart, panel, split)));
  const all = spreads.flat(2);
  const extent = extentOf(all.map(([value]) => value)) ?? ([0, 1] as Extent);
  const count = all.reduce((sum, [, times]) => sum + times, 0);
  const ends = binEnds(extent, count, settings.bins);
  const format = measures[0]?.format ?? '';
  const said = (value: number): string => saying.number(value, settings.along.format || format);
  const places = ends
    .slice(1)
    .map((end, i) => ({ at: (ends[i]! + end) / 2, label: `${said(ends[i]!)} – ${said(end)}` }));
  const cells = spreads.map((panel) =>
    panel.map((spread) => {
      const counts = places.map(() => 0);
      for (const [value, times] of spread) counts[binOf(ends, value)]! += times;
      return counts.map((one): ChartCell => ({ values: [one], texts: [saying.number(one, '#,##0')] }));
    }),
  );
  return {
    ends,
    chart: {
      ...chart,
      places,
      measures: [{ caption: '', drawnAs: null, isSecond: false, color: measures[0]?.color ?? null, format: '#,##0' }],
      panels: panels.map(({ title }, i) => ({ title, cells: cells[i]! })),
      // Bars of a histogram stand on one another: there is nothing between them to stand beside.
      settings: {
        ...settings,
        stack: settings.stack === 'full' ? 'full' : 'stacked',
        along: { ...settings.along, kind: 'numbers' },
      },
    },
  };
};

const draw = (ends: readonly number[], plot: Plot): void => {
  const { chart, panel, out, along } = plot;
  const series = seriesOf(chart);
  const scale = plot.scale(false);
  const sums = stacked(panel, series, chart.places.length, chart.settings.stack === 'full');
  for (let bin = 0; bin < chart.places.length; bin++) {
    const [from, to] = [along.at!(ends[bin]!), along.at!(ends[bin + 1]!)];
    if (to < 0 || from > plot.alongLength) continue;
    for (const [s, one] of series.entries()) {
      const [low, high] = sums[s]![bin]!;
      const box = plot.bar((from + to) / 2, Math.max(0.5, to - from - 0.6), scale.within(low), scale.within(high));
      out.rect(box, {
        fill: colorOf(panel, one, bin),
        hatch: chart.settings.patterns ? one.sign : 0,
        ...partOf(chart, panel, one, bin),
      });
    }
  }
};

const axesOf = (ends: readonly number[]): AxesKind => ({
  along: () => 'stretch',
  alongExtent: () => [ends[0]!, ends.at(-1)!],
  format: ({ settings }) => (settings.stack === 'full' ? '0%' : '#,##0'),
  extents: (chart, panel) => {
    const sums = stacked(panel, seriesOf(chart), chart.places.length, chart.settings.stack === 'full');
    return [extentOf([0, ...sums.flat(2)]), null];
  },
  draw: (plot) => draw(ends, plot),
});

/** How many values lie in each of a row of ranges. */
export const histogramKind: ChartKind = {
  roles: ['spread'],
  takes: { along: false, split: true },
  isSpread: true,
  legend: (chart) => seriesLegend(chart, 'area'),
  draw: (chart, box, writer, out) => {
    const { chart: counted, ends } = binned(chart);
    drawAxes(axesOf(ends), counted, box, writer, out);
  },
};
