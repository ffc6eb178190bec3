/** A seeded generator of random numbers: the same sequence on every machine. */
export interface Random {
  /** At least `low`, at most `high`, whole. */
  whole(low: number, high: number): number;
  /** 0 to just below 1. */
  unit(): number;
  pick<T>(list: readonly T[]): T;
  chance(probability: number): boolean;
}

/** The mulberry32 generator. */
export const seededRandom = (seed: number): Random => {
  let state = seed >>> 0;
  const unit = (): number => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
  const whole = (low: number, high: number): number => low + Math.floor(unit() * (high - low + 1));
  return {
    unit,
    whole,
    pick: (list) => list[whole(0, list.length - 1)]!,
    chance: (probability) => unit() < probability,
  };
};
