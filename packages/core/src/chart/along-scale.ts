import { scaleLinear } from 'd3-scale';
import type { AxisLabel } from './axis-labels.ts';
import type { AlongSettings, ChartPlace, Saying } from './chart.ts';
import type { Extent } from './series.ts';
import { timeTicks } from './time-ticks.ts';
import { valueScale } from './value-scale.ts';

/** Places along the axis of a chart. Points from its start. */
export interface AlongScale {
  /** Middle of a place, by its number; null where it has none on this axis. */
  of: (place: number) => number | null;
  /** Of a value on an axis of numbers or time; null on one of categories. */
  at: ((value: number) => number) | null;
  /** Room that each place has for itself. */
  band: number;
  labels: AxisLabel[];
  /** Labels that follow from one another, as dates and numbers do. */
  isSequence: boolean;
  /** Where lines of the grid stand. */
  lines: number[];
}

/** One place beside the other. */
export const bandScale = (places: readonly ChartPlace[], length: number): AlongScale => {
  const band = length / Math.max(1, places.length);
  const of = (place: number): number => place * band + band / 2;
  return {
    of,
    at: null,
    band,
    labels: places.map(({ label }, i) => ({ at: of(i), label })),
    isSequence: places.length > 1 && places.every(({ at, isOthers }) => at !== null || isOthers),
    lines: [],
  };
};

/** The smallest distance of two numbers in ascending order, duplicates aside; null when there are no two. */
const leastStep = (sorted: readonly number[]): number | null => {
  let least: number | null = null;
  for (let i = 1; i < sorted.length; i++) {
    const step = sorted[i]! - sorted[i - 1]!;
    if (step > 0 && (least === null || step < least)) least = step;
  }
  return least;
};

interface Order {
  sorted: readonly number[];
  step: number | null;
}

/** An axis is laid out a few times until its labels fit; its places stay the same. */
const orders = new WeakMap<readonly ChartPlace[], Order>();

const inOrder = (places: readonly ChartPlace[]): Order => {
  let found = orders.get(places);
  if (!found) {
    const sorted = places.flatMap(({ at }) => (at === null ? [] : [at])).sort((a, b) => a - b);
    found = { sorted, step: leastStep(sorted) };
    orders.set(places, found);
  }
  return found;
};

/** Where places have room, as wide as the step from one to the next. */
export type Room = 'around' | 'after';

/** Places where their numbers or times say. `room`: the axis has it at its ends as well. */
export const stretchScale = (
  places: readonly ChartPlace[],
  length: number,
  settings: AlongSettings,
  count: number,
  saying: Saying,
  room: Room | null,
): AlongScale => {
  const { sorted, step } = inOrder(places);
  const found: Extent = sorted.length > 0 ? [sorted[0]!, sorted.at(-1)!] : [0, 1];
  const [before, after] = room === 'around' ? [0.5, 0.5] : room === 'after' ? [0, 1] : [0, 0];
  let [low, high] = [settings.from ?? found[0] - before * (step ?? 0), settings.to ?? found[1] + after * (step ?? 0)];
  if (low > high) [low, high] = [high, low];
  if (low === high) {
    const edge =
      settings.kind === 'days'
        ? 43_200_000
        : settings.kind === 'time'
          ? 1_800_000
          : Math.max(0.5, Math.abs(low) * 0.05);
    [low, high] = [low - edge, high + edge];
  }
  if (settings.kind === 'numbers') {
    const values = {
      title: '',
      format: settings.format,
      log: settings.log,
      from: low,
      to: high,
      grid: false,
      hidden: false,
    };
    // Logarithms start where their values do.
    const from = settings.log && low <= 0 ? (sorted.find((value) => value > 0) ?? 1) : low;
    const scale = valueScale([from, high], length, { ...values, from, to: Math.max(high, from) }, '', count, saying);
    return {
      of: (place) => {
        const at = places[place]?.at ?? null;
        return at === null || (settings.log && at <= 0) ? null : scale.of(at);
      },
      at: scale.of,
      band: step === null ? length : Math.abs(scale.of(from + step) - scale.of(from)),
      labels: scale.ticks.map(({ at, label }) => ({ at, label })),
      isSequence: true,
      lines: scale.ticks.map(({ at }) => at),
    };
  }
  const scale = scaleLinear().domain([low, high]).range([0, length]);
  const ticks = timeTicks([low, high], count, settings.format, settings.kind === 'days', saying);
  return {
    of: (place) => {
      const at = places[place]?.at ?? null;
      return at === null ? null : scale(at);
    },
    at: (value) => scale(value),
    band: step === null ? length : (step / (high - low)) * length,
    labels: ticks.map(({ ms, label, below }) => ({ at: scale(ms), label, below })),
    isSequence: true,
    lines: ticks.map(({ ms }) => scale(ms)),
  };
};
