import { formula, identifier, length, size } from './basics.ts';
import { z } from './zod.ts';

/** Settings of an item that a formula can decide on anew for each row. Lengths in millimetres, type sizes in points. */
export const FORMULA_SETTINGS = [
  'x',
  'y',
  'width',
  'height',
  'style',
  'font',
  'size',
  'bold',
  'italic',
  'underline',
  'strike',
  'color',
  'background',
  'align',
  'stands',
  'padding',
  'borderColor',
  'borderWidth',
  'borderDash',
  'radius',
  'spacing',
  'opacity',
  'turn',
  'format',
  'fit',
  'grow',
  'shrink',
  'outline',
  'fill',
  'stroke',
  'thickness',
  'dash',
  'stretch',
  'alternative',
  'code',
  'text',
  'quiet',
  'correction',
  'sign',
  'frame',
] as const;
export type FormulaSetting = (typeof FORMULA_SETTINGS)[number];

/** Settings of a band that a formula can decide on anew each time it is laid out. */
export const BAND_FORMULA_SETTINGS = ['height', 'background', 'keepWhole'] as const;
export type BandFormulaSetting = (typeof BAND_FORMULA_SETTINGS)[number];

/** Where a click on an item leads: an address or e-mail, an anchor in this report, or another report with values. */
const link = z.union([
  z.strictObject({ address: formula }),
  z.strictObject({ anchor: formula }),
  z.strictObject({ report: z.string().min(1).max(120), parameters: z.record(identifier, formula).default({}) }),
]);
export type Link = z.infer<typeof link>;

/** What every item has. Lengths in millimetres, from the top left corner of its band. */
export const place = {
  id: identifier,
  x: length,
  y: length,
  width: size,
  height: size,
  /** Place and width as shares of the band's width in percent; they win over `x` and `width`. */
  share: z
    .strictObject({ x: z.number().min(0).max(100).optional(), width: z.number().min(0).max(100).optional() })
    .optional(),
  /** Left out where the condition does not hold. */
  showIf: formula.optional(),
  link: link.optional(),
  /** Name that links in this report lead to. */
  anchor: formula.optional(),
  /** Settings that a formula decides on; they win over the ones that are set. Blank or unfit values change nothing. */
  formulas: z.partialRecord(z.enum(FORMULA_SETTINGS), formula).optional(),
  /** The column that the item belongs to: caption, value and total of one column move and get wider together. */
  column: z.strictObject({ set: identifier, name: identifier }).optional(),
  /** Items of one panel are selected and moved as one. */
  panel: identifier.optional(),
  /** Stays where it is on the board until it is unlocked. */
  locked: z.boolean().optional(),
};

/** Whether it gets as much higher as its band does. */
export const stretch = z.boolean().optional();
