import type { Chart, ChartCell, ChartPanel } from './chart.ts';
import { colorAt, OTHERS_COLOR } from './colors.ts';

/** One measure of one split: what has a colour and a line in the legend. */
export interface Series {
  name: string;
  split: number;
  measure: number;
  color: string;
  /** Its place among all: patterns, symbols and dashes go by it. */
  sign: number;
  drawnAs: 'column' | 'line' | 'area' | null;
  isSecond: boolean;
}

/** The series of a chart whose measures are each shown by themselves, in the order of the legend. */
export const seriesOf = ({ splits, measures, settings }: Chart, most = measures.length): Series[] => {
  const list: Series[] = [];
  const shown = measures.slice(0, most);
  for (const [s, split] of splits.entries())
    for (const [m, measure] of shown.entries()) {
      const names = [split.label, ...(shown.length > 1 ? [measure.caption] : [])].filter((name) => name !== '');
      const sign = list.length;
      list.push({
        name: names.join(', ') || measure.caption,
        split: s,
        measure: m,
        color:
          (shown.length > 1 ? (measure.color ?? split.color) : (split.color ?? measure.color)) ??
          (split.isOthers ? OTHERS_COLOR : colorAt(settings.palette, sign)),
        sign,
        drawnAs: measure.drawnAs,
        isSecond: measure.isSecond,
      });
    }
  return list;
};

export const cellAt = (panel: ChartPanel, split: number, place: number): ChartCell | null =>
  panel.cells[split]?.[place] ?? null;

export const valueAt = (panel: ChartPanel, { split, measure }: Series, place: number): number | null =>
  cellAt(panel, split, place)?.values[measure] ?? null;

export const textAt = (panel: ChartPanel, { split, measure }: Series, place: number): string =>
  cellAt(panel, split, place)?.texts[measure] ?? '';

/** The colour of one value: a condition’s, or its series’. */
export const colorOf = (panel: ChartPanel, series: Series, place: number): string =>
  cellAt(panel, series.split, place)?.colors?.[series.measure] ?? series.color;

/** What is shown where a pointer rests on a value. */
export const tipOf = (chart: Chart, panel: ChartPanel, series: Series, place: number): string => {
  const place0 = chart.places[place];
  const head = [
    panel.title,
    place0?.label ?? '',
    chart.splits.length > 1 || chart.measures.length > 1 ? series.name : '',
  ]
    .filter((part) => part !== '')
    .join(', ');
  return `${head}${head === '' ? '' : ': '}${textAt(panel, series, place)}`;
};

/** What pointing at a value shows, and where a click on it leads. */
export const partOf = (chart: Chart, panel: ChartPanel, series: Series, place: number) => ({
  tip: tipOf(chart, panel, series, place),
  to: cellAt(panel, series.split, place)?.link,
});

/** The smallest and the greatest of numbers; null when there is none. */
export type Extent = readonly [number, number];

export const extentOf = (values: Iterable<number | null>): Extent | null => {
  let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (const value of values) {
    if (value === null) continue;
    if (value < low) low = value;
    if (value > high) high = value;
  }
  return low <= high ? [low, high] : null;
};

export const joined = (a: Extent | null, b: Extent | null): Extent | null =>
  a && b ? [Math.min(a[0], b[0]), Math.max(a[1], b[1])] : (a ?? b);
