/** What laying one report out may not go past. */
export interface LayoutLimits {
  /** Most characters that one text shows; the rest is left out, with a notice. */
  maxText: number;
  /** Most pixels, width times height, of a picture that is shown. */
  maxPixels: number;
}

export const LAYOUT_LIMITS: LayoutLimits = { maxText: 50_000, maxPixels: 25_000_000 };
