import { color, formula } from '../../definition/basics.ts';
import { place } from '../../definition/item-parts.ts';
import { z } from '../../definition/zod.ts';

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

export const barcodeSchema = z.strictObject({
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
