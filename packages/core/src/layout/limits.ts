/** What laying one report out may not go past. */
export interface LayoutLimits {
  /** Most characters that one text shows; the rest is left out, with a notice. */
  maxText: number;
  /** Most pixels, width times height, of a picture that is shown. */
  maxPixels: number;
  /** Most bytes of rows that are read ahead at once, for totals, filters and sorting that need them all. */
  maxAhead: number;
}

export const LAYOUT_LIMITS: LayoutLimits = { maxText: 50_000, maxPixels: 25_000_000, maxAhead: 768 * 1024 * 1024 };
