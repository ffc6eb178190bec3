import { scaleUtc } from 'd3-scale';
import type { Saying } from './chart.ts';
import type { Extent } from './series.ts';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;

export interface TimeTick {
  ms: number;
  label: string;
  /** What is said below it: the day of hours, the year of months; empty where it stays the same. */
  below: string;
}

/** How ticks so far apart are written, and what stands below them. */
const wordsFor = (step: number): { code: string; below: string } => {
  if (step >= 360 * DAY) return { code: 'yyyy', below: '' };
  if (step >= 27 * DAY) return { code: 'mmm', below: 'yyyy' };
  if (step >= DAY) return { code: 'd mmm', below: '' };
  return { code: step >= 60_000 ? 'hh:mm' : 'hh:mm:ss', below: 'd mmm' };
};

/**
 * Ticks at dates and hours that people name, in the time of the report’s clock. `format`: a number format instead of those that
 * suit the steps. `isDays`: at whole days alone.
 */
export const timeTicks = (
  [low, high]: Extent,
  count: number,
  format: string,
  isDays: boolean,
  saying: Saying,
): TimeTick[] => {
  const { wallClock } = saying;
  const named = scaleUtc()
    .domain([wallClock(low), wallClock(high)])
    .ticks(count)
    .map(Number)
    .filter((wall) => !isDays || wall % DAY === 0);
  const step = named.length > 1 ? named[1]! - named[0]! : Math.max(isDays ? DAY : 0, high - low);
  const { code, below } = format === '' ? wordsFor(step) : { code: format, below: '' };
  let last = '';
  let before = Number.NaN;
  return named.flatMap((wall) => {
    // The moment at which clocks show it; where they are put forward it may not exist, where back come twice.
    let ms = wall - (wallClock(wall) - wall);
    ms = wall - (wallClock(ms) - ms);
    if (ms < low || ms > high || ms === before) return [];
    before = ms;
    const under = below === '' ? '' : saying.time(ms, below);
    const isNew = under !== last;
    last = under;
    return [{ ms, label: saying.time(ms, code), below: isNew ? under : '' }];
  });
};
