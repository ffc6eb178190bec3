import { z } from './zod.ts';

/** Version of the format that this code writes. Older ones are upgraded when read. */
export const DEFINITION_VERSION = 1;

/** Every length in a definition is in millimetres; type sizes alone are in points, as everywhere in the trade. */
const length = z.number().min(-5000).max(5000);
const size = z.number().min(0).max(5000);
const identifier = z
  .string()
  .min(1)
  .max(80)
  .regex(/^[\p{L}_][\p{L}\p{N}_-]*$/u, 'a name of letters, digits, - and _');
const formula = z.string().max(10_000);
const color = z.string().regex(/^#[0-9a-fA-F]{6}$/, 'a colour as #rrggbb');

export const lookSchema = z.strictObject({
  font: z.string().max(80).optional(),
  /** Points. */
  size: z.number().min(1).max(500).optional(),
  bold: z.boolean().optional(),
  italic: z.boolean().optional(),
  color: color.optional(),
  background: color.optional(),
  align: z.enum(['left', 'center', 'right']).optional(),
  stands: z.enum(['top', 'middle', 'bottom']).optional(),
  padding: size.optional(),
});

const place = { id: identifier, x: length, y: length, width: size, height: size };
const looks = { style: z.string().max(80).optional(), look: lookSchema.optional() };

/** A piece of a text item: words, or a formula whose value is shown there. */
const textPiece = z.union([
  z.string().max(20_000),
  z.strictObject({ formula, format: z.string().max(200).optional() }),
]);

const textItem = z.strictObject({
  kind: z.literal('text'),
  ...place,
  ...looks,
  content: z.array(textPiece).max(500),
});

const fieldItem = z.strictObject({
  kind: z.literal('field'),
  ...place,
  ...looks,
  formula,
  /** A spreadsheet number-format code; left out: the format of the field. */
  format: z.string().max(200).optional(),
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
  fit: z.enum(['whole', 'stretch']).default('whole'),
  alternative: z.string().max(500).default(''),
});

const lineItem = z.strictObject({
  kind: z.literal('line'),
  ...place,
  color: color.default('#1f2a2e'),
  thickness: size.default(0.2),
  dash: z.enum(['solid', 'dashed', 'dotted']).default('solid'),
});

const rectangleItem = z.strictObject({
  kind: z.literal('rectangle'),
  ...place,
  fill: color.optional(),
  stroke: color.optional(),
  thickness: size.default(0.2),
  radius: size.default(0),
});

const subreportItem = z.strictObject({
  kind: z.literal('subreport'),
  ...place,
  /** Id of the stored report that runs here. */
  report: z.string().min(1).max(120),
  /** The nested report's parameters, each with a formula that is read in this band. */
  links: z.record(identifier, formula).default({}),
});

export const itemSchema = z.discriminatedUnion('kind', [
  textItem,
  fieldItem,
  pictureItem,
  lineItem,
  rectangleItem,
  subreportItem,
]);

export const bandSchema = z.strictObject({
  height: size,
  items: z.array(itemSchema).max(2000).default([]),
  /** On again on every page that its drawer reaches. Only for headers. */
  everyPage: z.boolean().optional(),
  pageBreak: z.enum(['none', 'before', 'after', 'between']).optional(),
  background: color.optional(),
});

export const sortSchema = z.strictObject({ by: formula, descending: z.boolean().optional() });

const rowsSchema = z.union([z.strictObject({ entity: identifier }), z.strictObject({ relation: identifier })]);

const drawerShape = {
  id: identifier,
  /** The name by which formulas reach the drawer's rows from inside: `hut.name`. */
  name: identifier,
  /** The outermost drawer takes an entity's rows, an inner one those that a relation leads to. */
  rows: rowsSchema,
  filter: formula.optional(),
  sort: z.array(sortSchema).max(20).optional(),
  /** At most so many rows for each parent row. */
  first: z.number().int().min(1).optional(),
  /** Once, before the rows; left out when there are none. */
  header: bandSchema.optional(),
  /** For each row, before its inner drawers. */
  detail: bandSchema.optional(),
  /** For each row, after its inner drawers. */
  detailFooter: bandSchema.optional(),
  /** Once, after the rows; left out when there are none. */
  footer: bandSchema.optional(),
  /** Instead of all of that when there are no rows. */
  empty: bandSchema.optional(),
};

const drawerBase = z.strictObject(drawerShape);

export type Drawer = z.infer<typeof drawerBase> & { drawers?: Drawer[] };

export const drawerSchema: z.ZodType<Drawer> = drawerBase.extend({
  get drawers() {
    return z.array(drawerSchema).max(50).optional();
  },
});

export const parameterSchema = z.strictObject({
  name: identifier,
  label: z.string().min(1).max(200),
  type: z.enum(['text', 'number', 'date', 'choice']),
  help: z.string().max(1000).optional(),
  required: z.boolean().optional(),
  /** Used when the reader gives no value. Dates as `2025-07-12`. */
  default: z.union([z.string().max(1000), z.number()]).optional(),
  /** Used at design time only. */
  sample: z.union([z.string().max(1000), z.number()]).optional(),
  choices: z
    .array(z.strictObject({ value: z.string().max(200), label: z.string().max(200) }))
    .max(1000)
    .optional(),
});

export const PAPERS = {
  A3: [297, 420],
  A4: [210, 297],
  A5: [148, 210],
  Letter: [215.9, 279.4],
  Legal: [215.9, 355.6],
} as const;

export const pageSchema = z.strictObject({
  paper: z.enum(['A3', 'A4', 'A5', 'Letter', 'Legal', 'custom']).default('A4'),
  orientation: z.enum(['portrait', 'landscape']).default('portrait'),
  /** For custom paper only. */
  width: z.number().min(10).max(5000).optional(),
  height: z.number().min(10).max(5000).optional(),
  margins: z
    .strictObject({ top: size, right: size, bottom: size, left: size })
    .default({ top: 15, right: 15, bottom: 15, left: 15 }),
});

export const reportSchema = z.strictObject({
  gaveta: z.literal(DEFINITION_VERSION),
  name: z.string().min(1).max(200),
  description: z.string().max(2000).optional(),
  /** Name of the data model that entities and relations belong to. */
  model: identifier.optional(),
  /** BCP 47 tag; decides separators and names of months. */
  language: z
    .string()
    .min(2)
    .max(35)
    .regex(/^[A-Za-z]{2,3}(-[A-Za-z0-9]{2,8})*$/, 'a language tag such as en or pt-PT')
    .default('en'),
  /** IANA name. */
  timeZone: z.string().max(60).default('UTC'),
  page: pageSchema.default(() => pageSchema.parse({})),
  parameters: z.array(parameterSchema).max(100).default([]),
  styles: z.record(z.string().max(80), lookSchema).default({}),
  header: bandSchema.optional(),
  footer: bandSchema.optional(),
  pageHeader: bandSchema.optional(),
  pageFooter: bandSchema.optional(),
  body: drawerSchema.optional(),
});

export type Look = z.infer<typeof lookSchema>;
export type Item = z.infer<typeof itemSchema>;
export type ItemKind = Item['kind'];
export type ItemOf<K extends ItemKind> = Extract<Item, { kind: K }>;
export type Band = z.infer<typeof bandSchema>;
export type Sort = z.infer<typeof sortSchema>;
export type Parameter = z.infer<typeof parameterSchema>;
export type PageSetup = z.infer<typeof pageSchema>;
export type Report = z.infer<typeof reportSchema>;

/** Width and height of the paper as it lies, in millimetres. */
export const paperSize = (page: PageSetup): { width: number; height: number } => {
  const [w, h] = page.paper === 'custom' ? [page.width ?? 210, page.height ?? 297] : PAPERS[page.paper];
  return page.orientation === 'portrait' ? { width: w, height: h } : { width: h, height: w };
};

/** The published JSON Schema of a definition (draft 2020-12). */
export const definitionJsonSchema = (): object => z.toJSONSchema(reportSchema, { io: 'input' });
