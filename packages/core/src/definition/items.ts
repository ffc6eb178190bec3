import { color, dash, format, formula, identifier, length, size } from './basics.ts';
import { highlightSchema, lookSchema } from './look.ts';
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

const place = {
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

const words = {
  style: z.string().max(80).optional(),
  look: lookSchema.optional(),
  highlights: z.array(highlightSchema).max(50).optional(),
  /** Whether the box gets higher for its text; it does when left out. */
  grow: z.boolean().optional(),
  /** Whether the box gets lower than drawn for less text. What stands below moves up. */
  shrink: z.boolean().optional(),
  /** `shrink`: the type gets smaller until the text fits the box. */
  fit: z.enum(['wrap', 'shrink']).optional(),
  /** Makes the text an entry of the outline, at this level. */
  outline: z.number().int().min(1).max(6).optional(),
  /** Millimetres to move the left edge by, as for rows that lie deeper. */
  indent: formula.optional(),
};

/** A piece of a text item: words, words with a look of their own, or a formula whose value is shown there. */
const textPiece = z.union([
  z.string().max(20_000),
  z.strictObject({ text: z.string().max(20_000), look: lookSchema.optional() }),
  z.strictObject({ formula, format: format.optional(), look: lookSchema.optional() }),
]);
export type TextPiece = z.infer<typeof textPiece>;

const textItem = z.strictObject({
  kind: z.literal('text'),
  ...place,
  ...words,
  content: z.array(textPiece).max(500),
});

const fieldItem = z.strictObject({
  kind: z.literal('field'),
  ...place,
  ...words,
  formula,
  /** A spreadsheet number-format code; left out: the format of the field. */
  format: format.optional(),
});

const pictureItem = z.strictObject({
  kind: z.literal('picture'),
  ...place,
  /** A formula that gives a picture, or a picture as a `data:` address. One of the two. */
  formula: formula.optional(),
  source: z
    .string()
    .max(8_000_000)
    .regex(/^data:image\/(png|jpeg);base64,[A-Za-z0-9+/=]+$/, 'a PNG or JPEG picture as a data: address')
    .optional(),
  /**
   * `whole`: all of it, as large as the box allows; `fill`: the box is full, what does not fit is cut off; `stretch`: out
   * of its proportions; `real`: 96 pixels to the inch, cut off at the box.
   */
  fit: z.enum(['whole', 'fill', 'stretch', 'real']).default('whole'),
  opacity: z.number().min(0).max(1).optional(),
  alternative: z.string().max(500).default(''),
});

/** Barcodes, by their standards: ISO/IEC 15417, 16388, 15420 (EAN and UPC), 16390, GS1, 18004, 16022, 15438, 24778. */
export const BARCODES = [
  'code-128',
  'code-39',
  'ean-13',
  'ean-8',
  'upc-a',
  'itf-14',
  'gs1-128',
  'qr',
  'data-matrix',
  'pdf-417',
  'aztec',
] as const;
export type BarcodeCode = (typeof BARCODES)[number];

/** Those made of upright bars; they have text below them, and may be as high as one likes. */
export const FLAT_CODES: ReadonlySet<BarcodeCode> = new Set(BARCODES.slice(0, 7));

const barcodeItem = z.strictObject({
  kind: z.literal('barcode'),
  ...place,
  /** What it says to a reading device. */
  formula,
  code: z.enum(BARCODES).default('code-128'),
  /** Whether its content stands below the bars; it does when left out. Codes of two dimensions have no text. */
  text: z.boolean().optional(),
  /** Whether the white that its standard asks for around it is kept free inside its box; it is when left out. */
  quiet: z.boolean().optional(),
  /** How much of a QR code may be lost and it can still be read: 7, 15 (when left out), 25 or 30 percent. */
  correction: z.enum(['low', 'medium', 'quarter', 'high']).optional(),
  color: color.default('#000000'),
});

export const CHECK_SIGNS = ['tick', 'cross', 'dot'] as const;
export type CheckSign = (typeof CHECK_SIGNS)[number];

const checkItem = z.strictObject({
  kind: z.literal('check'),
  ...place,
  /** TRUE shows the sign, FALSE the frame alone, blank nothing. */
  formula,
  sign: z.enum(CHECK_SIGNS).default('tick'),
  /** Whether a frame stands around it; it does when left out. */
  frame: z.boolean().optional(),
  color: color.default('#1f2a2e'),
});

/** Whether it gets as much higher as its band does. */
const stretch = z.boolean().optional();

const lineItem = z.strictObject({
  kind: z.literal('line'),
  ...place,
  color: color.default('#1f2a2e'),
  thickness: size.default(0.2),
  dash: dash.default('solid'),
  stretch,
});

const rectangleItem = z.strictObject({
  kind: z.literal('rectangle'),
  ...place,
  fill: color.optional(),
  stroke: color.optional(),
  thickness: size.default(0.2),
  dash: dash.optional(),
  radius: size.default(0),
  opacity: z.number().min(0).max(1).optional(),
  stretch,
});

const subreportItem = z.strictObject({
  kind: z.literal('subreport'),
  ...place,
  /** Id of the stored report that runs here. */
  report: z.string().min(1).max(120),
  /** The nested report's parameters, each with a formula that is read in this band. */
  links: z.record(identifier, formula).default({}),
  /**
   * Rows of this report that the nested one's outermost drawer shows instead of fetching its own: those that a relation
   * leads to from the current row, or the current row itself.
   */
  rows: z.union([z.strictObject({ relation: identifier }), z.literal('current')]).optional(),
});

export const itemSchema = z.discriminatedUnion('kind', [
  textItem,
  fieldItem,
  pictureItem,
  barcodeItem,
  checkItem,
  lineItem,
  rectangleItem,
  subreportItem,
]);

export type Item = z.infer<typeof itemSchema>;
export type ItemKind = Item['kind'];
export type ItemOf<K extends ItemKind> = Extract<Item, { kind: K }>;
