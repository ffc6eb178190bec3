import { stack, stackOffsetDiverging } from 'd3-shape';
import type { ChartPanel } from './chart.ts';
import { type Series, valueAt } from './series.ts';

/** From and to of each series at each place. */
export type Stacked = (readonly (readonly [number, number])[])[];

/** The sum of what stands at a place, regardless of signs. */
const wholeAt = (panel: ChartPanel, series: readonly Series[], place: number): number =>
  series.reduce((sum, one) => sum + Math.abs(valueAt(panel, one, place) ?? 0), 0);

/**
 * Series on top of one another, those below 0 downwards. `full`: as shares of what stands at each place, so that their lengths
 * add up to 1 wherever there is anything.
 */
export const stacked = (panel: ChartPanel, series: readonly Series[], places: number, full: boolean): Stacked => {
  const wholes = Array.from({ length: places }, (_, place) => (full ? wholeAt(panel, series, place) : 1));
  return stack<number, number, Series>()
    .keys(series)
    .offset(stackOffsetDiverging)
    .value((place, one) => (wholes[place]! > 0 ? (valueAt(panel, one, place) ?? 0) / wholes[place]! : 0))(
      Array.from({ length: places }, (_, place) => place),
    )
    .map((one) => one.map(([from, to]) => [from, to] as const));
};
