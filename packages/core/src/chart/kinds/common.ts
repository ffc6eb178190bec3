import type { Chart, ChartPanel } from '../chart.ts';
import type { LegendEntry } from '../legend.ts';
import { type Extent, extentOf, type Series, seriesOf, valueAt } from '../series.ts';
import { stacked } from '../stack.ts';

/** Entries of a legend for series; none for a series alone, which its axis tells of. */
export const seriesLegend = (chart: Chart, as: LegendEntry['as'], series = seriesOf(chart)): LegendEntry[] => {
  if (series.length < 2) return [];
  const { patterns, symbols } = chart.settings;
  return series.map(({ name, color, sign, drawnAs }) => {
    const drawn = drawnAs === null ? as : drawnAs === 'line' ? 'line' : 'area';
    const hasSymbol = drawn === 'point' || (drawn === 'line' && symbols !== false);
    return { name, color, as: drawn, symbol: hasSymbol ? sign : null, pattern: patterns ? sign : 0 };
  });
};

const numbersOf = (panel: ChartPanel, series: readonly Series[], places: number): (number | null)[] =>
  series.flatMap((one) => Array.from({ length: places }, (_, place) => valueAt(panel, one, place)));

/** The extent of series on one scale, on top of one another where the chart stacks them. */
export const seriesExtent = (
  { settings, places }: Chart,
  panel: ChartPanel,
  series: readonly Series[],
  fromZero: boolean,
): Extent | null => {
  if (series.length === 0) return null;
  const { stack, scales } = settings;
  if (stack !== 'beside') {
    const ends = stacked(panel, series, places.length, stack === 'full').flat(2);
    return extentOf([0, ...ends]);
  }
  const found = extentOf(numbersOf(panel, series, places.length));
  if (!found || scales[series[0]!.isSecond ? 1 : 0].log) return found;
  // Lines that stay far from 0 show more of themselves without it.
  const isNear = found[0] >= 0 ? found[0] <= found[1] * 0.4 : found[1] >= found[0] * 0.4;
  return fromZero || isNear ? extentOf([0, ...found]) : found;
};

/** Shares of a whole are shown as such. */
export const shareFormat = ({ settings }: Chart): string | null => (settings.stack === 'full' ? '0%' : null);

export const bySecond = (series: readonly Series[]): [Series[], Series[]] => [
  series.filter(({ isSecond }) => !isSecond),
  series.filter(({ isSecond }) => isSecond),
];
