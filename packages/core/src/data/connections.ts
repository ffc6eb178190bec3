import { z } from '../definition/zod.ts';

export const FILE_KINDS = ['csv', 'json', 'xml', 'xlsx'] as const;
export type FileKind = (typeof FILE_KINDS)[number];

const writing = {
  decimal: z.enum(['.', ',']).default('.'),
  dates: z.enum(['ymd', 'dmy', 'mdy']).default('ymd'),
};
const shortText = z.string().max(500);

/** What a connection that was made by hand is, without what is secret of it. */
export const connectionSettingsSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('postgres'),
    host: shortText.default('localhost'),
    port: z.number().int().min(1).max(65535).default(5432),
    database: shortText.default(''),
    user: shortText.default(''),
    ssl: z.boolean().default(false),
    /** Whoever runs a report is asked for user and password, which are kept nowhere. */
    asks: z.boolean().default(false),
  }),
  z.strictObject({
    kind: z.literal('file'),
    format: z.enum(FILE_KINDS),
    fileName: shortText.default(''),
    /** Where the file is read from at each run; left out: it was uploaded. */
    address: shortText.optional(),
    delimiter: z.string().max(2).optional(),
    rowsAt: shortText.optional(),
    ...writing,
  }),
  z.strictObject({
    kind: z.literal('http'),
    address: shortText,
    rowsAt: shortText.optional(),
    paging: z
      .discriminatedUnion('by', [
        z.strictObject({ by: z.literal('page'), parameter: shortText, first: z.number().int().default(1) }),
        z.strictObject({
          by: z.literal('offset'),
          parameter: shortText,
          size: z.number().int().min(1).max(100_000),
          sizeParameter: shortText.optional(),
        }),
        z.strictObject({ by: z.literal('next'), at: shortText }),
      ])
      .optional(),
    ...writing,
  }),
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
