import { scaleLinear, scaleLog } from 'd3-scale';
import type { Saying, ScaleSettings } from './chart.ts';
import type { Extent } from './series.ts';

export interface Tick {
  /** Points along the axis, from its start. */
  at: number;
  label: string;
}

/** Values as lengths along an axis. */
export interface ValueScale {
  /** Points from the start of the axis. Values past its ends lie outside. */
  of: (value: number) => number;
  /** The same, held to the axis. */
  within: (value: number) => number;
  domain: Extent;
  ticks: Tick[];
  /** Where bars begin: at 0, or at the end of the scale that is nearest to it. */
  base: number;
}

/** Beyond it the difference of two values is no number any more. */
const GREATEST = 1e300;

/** Nearer to 0 than this is 0: the steps between such numbers are no numbers any more. */
const LEAST = 1e-290;

/** Points to where nothing is drawn any more. */
const FAR = 1e6;

const held = (value: number): number => (Math.abs(value) < LEAST ? 0 : Math.max(-GREATEST, Math.min(GREATEST, value)));

/** Values that differ by less than their last digits can tell apart are one. */
const isOne = (low: number, high: number): boolean =>
  Math.abs(high - low) <= 1e-12 * Math.max(Math.abs(low), Math.abs(high));

/** Decimals that the steps of ticks need. */
const decimalsOf = (step: number): number => {
  if (!(step > 0)) return 0;
  const digits = Math.max(0, Math.ceil(-Math.log10(step) - 1e-9));
  // Steps such as 2.5 need one more.
  for (let more = 0; more < 3; more++) {
    const scaled = step * 10 ** (digits + more);
    if (Math.abs(scaled - Math.round(scaled)) < 1e-6 * scaled) return digits + more;
  }
  return digits + 2;
};

/** Most decimals that are written out. */
const MOST_DECIMALS = 10;
/** From here on numbers are written with powers of ten. */
const HUGE = 1e12;

/** A number format whose decimals suit ticks a step apart. `format` of the values says whether they are shares. */
export const tickFormat = (format: string, step: number, greatest: number): string => {
  // A sign in quotation marks is a word like any other.
  const isShare = format.replace(/"[^"]*"|\\./g, '').includes('%');
  const decimals = decimalsOf(isShare ? step * 100 : step);
  if (decimals > MOST_DECIMALS || greatest >= HUGE) return '0.0E+0';
  return `#,##0${decimals > 0 ? `.${'0'.repeat(decimals)}` : ''}${isShare ? '%' : ''}`;
};

const fallBack: Extent = [0, 1];

/** The ends of a scale: those that are set, and otherwise nice ones around its values. */
const domainOf = (
  extent: Extent | null,
  { from, to }: ScaleSettings,
): { domain: Extent; isSet: [boolean, boolean] } => {
  let [low, high] = (extent ?? fallBack).map(held) as [number, number];
  if (from !== null) low = held(from);
  if (to !== null) high = held(to);
  // Set the wrong way round, or past all values.
  if (from !== null && to !== null && low > high) [low, high] = [high, low];
  else if (from !== null && high < low) high = low + Math.max(1, Math.abs(low) * 0.1);
  else if (to !== null && low > high) low = high - Math.max(1, Math.abs(high) * 0.1);
  if (isOne(low, high)) {
    // One value alone stands in the middle of its scale, or at the end of one from 0.
    const room = Math.abs(low) > 0 ? Math.abs(low) * 0.1 : 1;
    if (from === null) low -= room;
    if (to === null || from !== null) high += room;
  }
  return { domain: [low, high], isSet: [from !== null, to !== null] };
};

/**
 * A scale of values over so many points. `extent`: of the values, null when there are none. A logarithmic one shows positive
 * values alone; what is not stands at its start.
 */
export const valueScale = (
  extent: Extent | null,
  length: number,
  settings: ScaleSettings,
  format: string,
  count: number,
  saying: Saying,
): ValueScale => (settings.log ? logScale : linearScale)({ extent, length, settings, format, count, saying });

/** What a scale is made of; see {@link valueScale}. */
interface Asked {
  extent: Extent | null;
  length: number;
  settings: ScaleSettings;
  format: string;
  count: number;
  saying: Saying;
}

const linearScale = ({ extent, length, settings, format, count, saying }: Asked): ValueScale => {
  const { domain, isSet } = domainOf(extent, settings);
  const nice = scaleLinear().domain(domain).nice(count).domain() as [number, number];
  const [low, high]: Extent = [isSet[0] ? domain[0] : nice[0], isSet[1] ? domain[1] : nice[1]];
  const scale = scaleLinear().domain([low, high]).range([0, length]);
  const values = scale.ticks(count);
  const step = values.length > 1 ? Math.abs(values[1]! - values[0]!) : Math.abs(high - low);
  const greatest = Math.max(Math.abs(low), Math.abs(high));
  const shown = settings.format || tickFormat(format, step, greatest);
  const of = (value: number): number => {
    const at = scale(held(value));
    // Further away than can be counted.
    return Number.isFinite(at) ? at : value > low ? FAR : -FAR;
  };
  return {
    of,
    within: (value) => Math.max(0, Math.min(length, of(value))),
    domain: [low, high],
    ticks: values.map((value) => ({ at: scale(value), label: saying.number(value === 0 ? 0 : value, shown) })),
    base: low > 0 ? low : high < 0 ? high : 0,
  };
};

const logScale = ({ extent, length, settings, format, count, saying }: Asked): ValueScale => {
  const positive = (value: number | null): number | null =>
    value !== null && value > 0 ? Math.max(LEAST, held(value)) : null;
  let low = positive(settings.from) ?? positive(extent?.[0] ?? null) ?? positive(extent?.[1] ?? null) ?? 1;
  let high = positive(settings.to) ?? positive(extent?.[1] ?? null) ?? 10;
  if (high < low) [low, high] = [high, low];
  if (high === low) [low, high] = [low / 10, high * 10];
  const whole = scaleLog().domain([low, high]).nice().domain() as [number, number];
  const domain: Extent = [positive(settings.from) ?? whole[0], positive(settings.to) ?? whole[1]];
  const scale = scaleLog().domain(domain).range([0, length]);
  const of = (value: number): number => (value > 0 ? scale(Math.max(LEAST, held(value))) : 0);
  const powers = scale.ticks().filter((value) => Math.abs(Math.log10(value) - Math.round(Math.log10(value))) < 1e-9);
  const all = powers.length >= 2 ? powers : scale.ticks(count);
  const every = Math.max(1, Math.ceil(all.length / Math.max(2, count)));
  const shown = all.filter((_, i) => i % every === 0);
  return {
    of,
    within: (value) => Math.max(0, Math.min(length, of(value))),
    domain,
    ticks: shown.map((value) => ({
      at: scale(value),
      label: saying.number(value, settings.format || tickFormat(format, value, value)),
    })),
    base: domain[0],
  };
};
