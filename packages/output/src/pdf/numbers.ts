/** A number as page contents have it, to a hundredth of a point. */
export const n = (value: number): number => Math.round(value * 100) / 100;
