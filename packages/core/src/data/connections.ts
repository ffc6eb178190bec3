import { z } from '../definition/zod.ts';

export const FILE_KINDS = ['csv', 'json', 'xml', 'xlsx'] as const;
export type FileKind = (typeof FILE_KINDS)[number];

const ENDINGS: Readonly<Record<string, FileKind>> = {
  ...Object.fromEntries(FILE_KINDS.map((format) => [format, format])),
  txt: 'csv',
  tsv: 'csv',
  geojson: 'json',
};

/** The format of a file by its name; null when it is none that can be read. */
export const formatOfName = (fileName: string): FileKind | null => {
  const ending = fileName.split('.').at(-1)?.toLowerCase() ?? '';
  return Object.hasOwn(ENDINGS, ending) ? ENDINGS[ending]! : null;
};

/** Whether a file, by its path, is one that a system or a program keeps beside those of a person. */
export const isSystemFile = (path: string): boolean => /(?:^|\/)(?:\.|~\$|__MACOSX\/)/.test(path);

/** Encodings of text that can be chosen where they are not found out (WHATWG Encoding Standard). */
export const ENCODINGS = [
  'utf-8',
  'utf-16le',
  'utf-16be',
  'windows-1252',
  'iso-8859-15',
  'windows-1250',
  'windows-1251',
  'windows-1253',
  'windows-1254',
  'windows-1255',
  'windows-1256',
  'shift_jis',
  'gb18030',
  'big5',
  'euc-kr',
] as const;
export type Encoding = (typeof ENCODINGS)[number];

const writing = {
  decimal: z.enum(['.', ',']).default('.'),
  dates: z.enum(['ymd', 'dmy', 'mdy']).default('ymd'),
};
const shortText = z.string().max(500);

/** What a maker said of a column of a file or service; what is left out is found from its values. */
const columnSettingsSchema = z.strictObject({
  /** What the source calls the table, and the column; `which` counts columns of the same name from 0. */
  table: shortText,
  column: shortText,
  which: z.number().int().min(0).default(0),
  /** Name of the field, as formulas use it. */
  name: z
    .string()
    .max(80)
    .regex(/^[\p{L}_][\p{L}\p{N}_]*$/u)
    .optional(),
  label: z.string().min(1).max(200).optional(),
  type: z.enum(['text', 'number', 'date', 'datetime', 'boolean', 'picture']).optional(),
  decimal: z.enum(['.', ',']).optional(),
  dates: z.enum(['ymd', 'dmy', 'mdy']).optional(),
  /** It is no field. */
  leftOut: z.literal(true).optional(),
});

export type ColumnSettings = z.infer<typeof columnSettingsSchema>;

const columns = z.array(columnSettingsSchema).max(10_000).optional();

const postgresConnection = z.strictObject({
  kind: z.literal('postgres'),
  host: shortText.default('localhost'),
  port: z.number().int().min(1).max(65535).default(5432),
  database: shortText.default(''),
  user: shortText.default(''),
  ssl: z.boolean().default(false),
  /** Columns whose fields go by another name than their own: that which they had before. */
  columns: z
    .array(z.strictObject({ table: shortText, column: shortText, name: shortText }))
    .max(10_000)
    .optional(),
  /** Whoever runs a report is asked for user and password, which are kept nowhere. */
  asks: z.boolean().default(false),
});

const fileConnection = z.strictObject({
  kind: z.literal('file'),
  format: z.enum(FILE_KINDS),
  fileName: shortText.default(''),
  /** Where the file is read from at each run; left out: it was uploaded. */
  address: shortText.optional(),
  /** Several files of the format in one zip, which become one table. */
  several: z.literal(true).optional(),
  delimiter: z.string().max(2).optional(),
  encoding: z.enum(ENCODINGS).optional(),
  /** The line with the headings, 1 for the first; 0 for none. Left out: the first one. */
  headings: z.number().int().min(0).max(10_000).optional(),
  /** Of spreadsheets: the one sheet that is read, and its cells, as `B3:F40`. */
  sheet: shortText.optional(),
  range: z.string().max(30).optional(),
  rowsAt: shortText.optional(),
  columns,
  ...writing,
});

const pagingSchema = z.discriminatedUnion('by', [
  z.strictObject({ by: z.literal('page'), parameter: shortText, first: z.number().int().default(1) }),
  z.strictObject({
    by: z.literal('offset'),
    parameter: shortText,
    size: z.number().int().min(1).max(100_000),
    sizeParameter: shortText.optional(),
  }),
  z.strictObject({ by: z.literal('next'), at: shortText }),
]);

const httpConnection = z.strictObject({
  kind: z.literal('http'),
  address: shortText,
  rowsAt: shortText.optional(),
  paging: pagingSchema.optional(),
  columns,
  ...writing,
});

/** What a connection that was made by hand is, of each kind, without what is secret of it. */
export const CONNECTIONS = { postgres: postgresConnection, file: fileConnection, http: httpConnection } as const;

export const connectionSettingsSchema = z.discriminatedUnion('kind', [
  postgresConnection,
  fileConnection,
  httpConnection,
]);

export type ConnectionSettings = z.infer<typeof connectionSettingsSchema>;

/** What a source gained, lost or changed since it was looked at last. */
export interface SourceChange {
  table: string;
  /** Null: the table as a whole. */
  field: string | null;
  change: 'added' | 'gone' | 'type';
  from?: string;
  to?: string;
}
