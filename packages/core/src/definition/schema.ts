import { color, format, formula, identifier, size } from './basics.ts';
import { rowFoldSchema } from './folding.ts';
import { BAND_FORMULA_SETTINGS } from './item-parts.ts';
import { itemSchema } from './items.ts';
import { languageFromSchema, languageTag, translationSchema } from './languages.ts';
import { highlightSchema, styleSchema } from './look.ts';
import { pageSchema } from './paper.ts';
import { querySchema, reportRelationSchema } from './recipe.ts';
import { GROUPINGS, sortSchema } from './sorting.ts';
import { spoken } from './spoken.ts';
import { z } from './zod.ts';

export type { Fold, RowFold } from './folding.ts';
export * from './items.ts';
export type { LanguageFrom, Translation } from './languages.ts';
export type { Edge, Highlight, Look, Side, Style } from './look.ts';
export { lookSchema, SIDES, styleLook, styleSchema } from './look.ts';
export { LONGEST_PAGE, PAPERS, type PageSetup, pageSchema, paperSize, widthBetween } from './paper.ts';
export { GROUPINGS, sortSchema } from './sorting.ts';

/** Version of the format that this code writes. Older ones are upgraded when read. */
export const DEFINITION_VERSION = 2;

const plainBandSchema = z.strictObject({
  height: size,
  items: z.array(itemSchema).max(2000).default([]),
  /** On again on every page that its drawer or group reaches. Only for headers. */
  everyPage: z.boolean().optional(),
  /** A new page before or after the band, or between its rows or groups. */
  pageBreak: z.enum(['none', 'before', 'after', 'between']).optional(),
  /** The page break is made only where this holds; `page.room` is what is left of the page, in millimetres. */
  breakIf: formula.optional(),
  /** The page break goes to the next page with an odd or even number, over an empty page where needed. */
  breakTo: z.enum(['odd', 'even']).optional(),
  /** `page.part_number` starts anew with the page break before this band. */
  restartPages: z.boolean().optional(),
  /** At the bottom of the page. Only for footers. */
  atBottom: z.boolean().optional(),
  /** Whether the band goes to the next page as a whole when it does not fit; it does when left out. */
  keepWhole: z.boolean().optional(),
  /** Rows that stay on the same page as this header; a footer stays with the last of its rows unless it is 0. 1 when left out. */
  keepWith: z.number().int().min(0).max(100).optional(),
  /** Left out when none of its fields and pictures has a value. */
  leaveOutEmpty: z.boolean().optional(),
  /** Left out where the condition does not hold. */
  showIf: formula.optional(),
  background: color.optional(),
  /** Settings that a formula decides on; they win over the ones that are set. Blank or unfit values change nothing. */
  formulas: z.partialRecord(z.enum(BAND_FORMULA_SETTINGS), formula).optional(),
  highlights: z.array(highlightSchema).max(50).optional(),
});
type PlainBandSchema = typeof plainBandSchema;
export interface BandSchema extends PlainBandSchema {}
export const bandSchema: BandSchema = plainBandSchema;

export const calculatedSchema = z.strictObject({
  name: identifier,
  label: spoken(z.string().max(200)).optional(),
  formula,
  format: format.optional(),
});

const plainGroupSchema = z.strictObject({
  /** By which formulas read the group's value, and totals name it as their scope. */
  name: identifier,
  by: formula,
  /** What rows have in common: the value itself, a stretch of time, a range of numbers, or the first letter. */
  per: z.enum(GROUPINGS).optional(),
  /** Width of a range. */
  width: z.number().positive().optional(),
  descending: z.boolean().optional(),
  /** Order of the groups by a formula, as a total of their rows; without it by the group's value. */
  order: formula.optional(),
  /** At most so many rows of each group. */
  first: z.number().int().min(1).optional(),
  keepWhole: z.boolean().optional(),
  /** Opened and closed by the reader, at its header. */
  fold: rowFoldSchema.optional(),
  header: bandSchema.optional(),
  footer: bandSchema.optional(),
});
type PlainGroupSchema = typeof plainGroupSchema;
export interface GroupSchema extends PlainGroupSchema {}
export const groupSchema: GroupSchema = plainGroupSchema;

const rowsSchema = z.union([
  z.strictObject({
    /** A table of the data model, or a query of the report. */
    entity: identifier,
    /** Name of a relation from the entity to itself: rows without a parent come first, each with all below it. */
    tree: identifier.optional(),
  }),
  z.strictObject({ relation: identifier, tree: identifier.optional() }),
]);

const drawerShape = {
  id: identifier,
  /** The name by which formulas reach the drawer's rows from inside: `hut.name`. */
  name: identifier,
  /** An outermost drawer takes an entity's rows, an inner one those that a relation leads to. */
  rows: rowsSchema,
  /** Fields of the drawer's rows that formulas make. */
  calculated: z.array(calculatedSchema).max(200).optional(),
  filter: formula.optional(),
  /** The language in which each of its rows is shown, with everything inside it; that of the run where it is blank or not spoken. */
  language: formula.optional(),
  /** Rows without any row in their inner drawers are left out. */
  onlyWithInner: z.boolean().optional(),
  sort: z.array(sortSchema).max(20).optional(),
  /** At most so many rows for each parent row. */
  first: z.number().int().min(1).optional(),
  /** Outermost first. Grouping sorts. */
  groups: z.array(groupSchema).max(20).optional(),
  /** Once, before the rows; left out when there are none. */
  header: bandSchema.optional(),
  /** For each row, before its inner drawers. */
  detail: bandSchema.optional(),
  /** For each row, after its inner drawers. */
  detailFooter: bandSchema.optional(),
  /** Once for all rows past `first`, whose totals it shows. */
  others: bandSchema.optional(),
  /** Once, after the rows; left out when there are none. */
  footer: bandSchema.optional(),
  /** Instead of all of that when there are no rows. */
  empty: bandSchema.optional(),
  /** A row stays on one page with its inner drawers, as long as it fits on one. */
  keepRow: z.boolean().optional(),
  /** All rows for one parent row stay on one page, as long as they fit on one. */
  keepWhole: z.boolean().optional(),
  /** All rows for one parent row are opened and closed by the reader: at its header, or at the row around where it has none. */
  fold: rowFoldSchema.optional(),
  /** Rows stand in columns, as labels do. */
  columns: z
    .strictObject({
      count: z.number().int().min(1).max(50),
      gap: size.default(0),
      /** `across`: the next row stands to the right; `down`: below, then in the next column. */
      order: z.enum(['across', 'down']).default('across'),
    })
    .optional(),
  /** Stands beside the drawers before and after it that have this too, each over as many pages as it needs. */
  beside: z.strictObject({ x: size, width: size }).optional(),
  /** Background of every second row. */
  alternate: color.optional(),
};

const drawerBase = z.strictObject(drawerShape);

/** What only an outermost drawer may have: any of it makes the drawer begin on a new page. */
const ownPages = z.object({
  /** The report's paper when left out. */
  page: pageSchema.optional(),
  /** In the place of the report's own, on every page from here on. */
  pageHeader: bandSchema.optional(),
  pageFooter: bandSchema.optional(),
});

export type Drawer = z.infer<typeof drawerBase> & z.infer<typeof ownPages> & { drawers?: Drawer[] };

export const drawerSchema: z.ZodType<Drawer> = drawerBase.extend({
  get drawers() {
    return z.array(drawerSchema).max(50).optional();
  },
});

export const setSchema: z.ZodType<Drawer> = drawerBase.extend({
  ...ownPages.shape,
  get drawers() {
    return z.array(drawerSchema).max(50).optional();
  },
});

export const PARAMETER_TYPES = [
  'text',
  'number',
  'date',
  /** From a day until a day, both inclusive. */
  'dates',
  /** A stretch of time: one that is named, as the last 24 hours, or from a moment until before another. */
  'window',
  'boolean',
  'choice',
  /** Any number of the choices. */
  'choices',
] as const;

const parameterValue = z.union([
  z.string().max(20_000),
  z.number(),
  z.boolean(),
  z.array(z.union([z.string(), z.number()])).max(1000),
]);

const plainParameterSchema = z.strictObject({
  name: identifier,
  label: spoken(z.string().min(1).max(200)),
  type: z.enum(PARAMETER_TYPES),
  help: spoken(z.string().max(1000)).optional(),
  required: z.boolean().optional(),
  /** What stands for no choice where the parameter is offered and in texts; “all” in the language of each when left out. */
  allLabel: spoken(z.string().min(1).max(200)).optional(),
  /** Not shown to readers; an address or a link may set it. */
  hidden: z.boolean().optional(),
  /** Set by the host’s server alone, in the token. */
  fromHost: z.boolean().optional(),
  /** Used when the reader gives no value. Dates as `2025-07-12`, ranges as `2025-06-01..2025-09-30`. */
  default: parameterValue.optional(),
  /** Works the default out when the report runs; for `dates` and `window`, of its start. */
  defaultFormula: formula.optional(),
  /** With `defaultFormula`, the end of a range. */
  defaultUntil: formula.optional(),
  /** Used at design time only. */
  sample: parameterValue.optional(),
  /** Whether the values of choices are texts or numbers. */
  of: z.enum(['text', 'number']).optional(),
  choices: z
    .array(z.strictObject({ value: z.string().max(200), label: spoken(z.string().max(200)) }))
    .max(1000)
    .optional(),
  /** Choices out of rows: a field for the value, one for what is shown, and a condition that may read other parameters. */
  choicesFrom: z
    .strictObject({ rows: identifier, value: formula, label: formula.optional(), where: formula.optional() })
    .optional(),
  /** Named stretches of time that a `window` offers besides the usual ones: formulas of its ends. */
  windows: z
    .array(
      z.strictObject({
        value: identifier,
        label: spoken(z.string().max(200)),
        from: formula,
        until: formula.optional(),
      }),
    )
    .max(50)
    .optional(),
  /** The moment at which a `window` ends; now when left out. */
  asOf: formula.optional(),
});
type PlainParameterSchema = typeof plainParameterSchema;
export interface ParameterSchema extends PlainParameterSchema {}
export const parameterSchema: ParameterSchema = plainParameterSchema;

const readersSchema = z.strictObject({
  /** Where a value comes from: with the rows that it counts, which is so when it is left out, in formulas alone, or not at all. */
  origins: z.enum(['rows', 'formulas', 'none']).optional(),
  /** Rows their own way: sorted by a column, which is so when it is left out, also filtered and with columns left out, or not at all. */
  arrange: z.enum(['sort', 'all', 'none']).optional(),
  /** Seconds after which it runs again by itself while it is read. */
  refresh: z.number().int().min(5).max(86_400).optional(),
});

const plainReportSchema = z.strictObject({
  gaveta: z.literal(DEFINITION_VERSION),
  name: spoken(z.string().min(1).max(200)),
  description: spoken(z.string().max(2000)).optional(),
  /** Name of the data model that entities and relations belong to. */
  model: identifier.optional(),
  /** BCP 47 tag of the language that it is written in; decides separators, names of months and the order of texts. */
  language: languageTag.default('en'),
  /** The other languages that it speaks. */
  translations: z.array(translationSchema).max(50).optional(),
  languageFrom: languageFromSchema.optional(),
  /** IANA name. */
  timeZone: z.string().max(60).default('UTC'),
  /** Name of the theme that its styles came from. */
  theme: z.string().max(80).optional(),
  /** What readers may do with it besides reading. */
  readers: readersSchema.optional(),
  page: pageSchema.default(() => pageSchema.parse({})),
  parameters: z.array(parameterSchema).max(100).default([]),
  /** Rows of the report's own making, which drawers take by name. */
  queries: z.array(querySchema).max(100).optional(),
  /** Relations of the report's own, between tables and queries. */
  relations: z.array(reportRelationSchema).max(200).optional(),
  styles: z.record(z.string().max(80), styleSchema).default({}),
  header: bandSchema.optional(),
  footer: bandSchema.optional(),
  pageHeader: bandSchema.optional(),
  pageFooter: bandSchema.optional(),
  /** In the place of the page header and footer on the first page, and on pages with an even number. */
  firstPageHeader: bandSchema.optional(),
  firstPageFooter: bandSchema.optional(),
  evenPageHeader: bandSchema.optional(),
  evenPageFooter: bandSchema.optional(),
  /** Under and over everything on every page, measured from the corner of the paper. */
  pageBackground: bandSchema.optional(),
  pageOverlay: bandSchema.optional(),
  /** The outermost drawers, each with rows of its own: one after the other, those that have `beside` side by side. */
  body: z.array(setSchema).max(50).default([]),
});
type PlainReportSchema = typeof plainReportSchema;
export interface ReportSchema extends PlainReportSchema {}
export const reportSchema: ReportSchema = plainReportSchema;

export interface Band extends z.infer<typeof bandSchema> {}
export type Sort = z.infer<typeof sortSchema>;
export interface Calculated extends z.infer<typeof calculatedSchema> {}
export interface Group extends z.infer<typeof groupSchema> {}
export type Readers = z.infer<typeof readersSchema>;
export interface Parameter extends z.infer<typeof parameterSchema> {}
export interface Report extends z.infer<typeof reportSchema> {}

/** The published JSON Schema of a definition (draft 2020-12). */
export const definitionJsonSchema = (): object => z.toJSONSchema(reportSchema, { io: 'input' });
