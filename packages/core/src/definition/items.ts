import { barcodeSchema } from '../items/barcode/schema.ts';
import { chartSchema } from '../items/chart/schema.ts';
import { checkSchema } from '../items/check/schema.ts';
import { contentsSchema } from '../items/contents/schema.ts';
import { crosstabSchema } from '../items/crosstab/schema.ts';
import { fieldSchema } from '../items/field/schema.ts';
import { formattedSchema } from '../items/formatted/schema.ts';
import { gaugeSchema } from '../items/gauge/schema.ts';
import { lineSchema } from '../items/line/schema.ts';
import { mapSchema } from '../items/map/schema.ts';
import { panelSchema } from '../items/panel/schema.ts';
import { pictureSchema } from '../items/picture/schema.ts';
import { rectangleSchema } from '../items/rectangle/schema.ts';
import { sparklineSchema } from '../items/sparkline/schema.ts';
import { stateSchema } from '../items/state/schema.ts';
import { subreportSchema } from '../items/subreport/schema.ts';
import { textSchema } from '../items/text/schema.ts';
import { z } from './zod.ts';

export { BARCODES, type BarcodeCode, FLAT_CODES } from '../items/barcode/schema.ts';
export type { ChartMeasureSetting, Zone } from '../items/chart/schema.ts';
export { CHECK_SIGNS, type CheckSign } from '../items/check/schema.ts';
export { type AxisGroup, type CrosstabCell, SHOWN_AS } from '../items/crosstab/schema.ts';
export type { StateCase } from '../items/state/schema.ts';
export type { TextPiece } from '../items/text/schema.ts';
export type { BandFormulaSetting, FormulaSetting, Link } from './item-parts.ts';
export { BAND_FORMULA_SETTINGS, FORMULA_SETTINGS } from './item-parts.ts';
export type { OwnRows, RowGroup } from './row-groups.ts';

/** Every kind of item, in the order in which they are offered. */
const plainItemSchema = z.discriminatedUnion('kind', [
  fieldSchema,
  textSchema,
  formattedSchema,
  pictureSchema,
  barcodeSchema,
  checkSchema,
  lineSchema,
  rectangleSchema,
  panelSchema,
  crosstabSchema,
  chartSchema,
  gaugeSchema,
  mapSchema,
  sparklineSchema,
  stateSchema,
  contentsSchema,
  subreportSchema,
]);
type PlainItemSchema = typeof plainItemSchema;
export interface ItemSchema extends PlainItemSchema {}
export const itemSchema: ItemSchema = plainItemSchema;

export type Item = z.infer<typeof itemSchema>;
export type ItemKind = Item['kind'];
export type ItemOf<K extends ItemKind> = Extract<Item, { kind: K }>;

export const ITEM_KINDS = itemSchema.options.map((option) => option.shape.kind.value);

/** Items that show text, in a look of their own. */
export type WordsItem = ItemOf<'text'> | ItemOf<'field'>;

export const isWordsKind = (kind: ItemKind): kind is WordsItem['kind'] => kind === 'text' || kind === 'field';

export const isWords = (item: Item): item is WordsItem => isWordsKind(item.kind);
