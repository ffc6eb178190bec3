import { connectionSettingsSchema } from '../data/connections.ts';
import type { GivenValue } from '../data/given-values.ts';
import { querySchema, stepsSchema } from '../definition/recipe.ts';
import { parameterSchema, type Report } from '../definition/schema.ts';
import { z } from '../definition/zod.ts';
import type { Change } from '../edit/changes.ts';
import type { HouseThing } from '../edit/house.ts';
import type { Theme } from '../edit/themes.ts';
import type { Explanation } from '../explain/explanation.ts';
import type { HostFunction } from '../formula/functions/described.ts';
import { PAGE_FORMS } from '../layout/run.ts';
import type { Field, Model } from '../model/model.ts';
import type { Page } from '../page/page.ts';
import type { ProblemValue } from '../problems/phrases.ts';
import type { Problem } from '../problems/problem.ts';
import type { Heading, RunProfile, RunState } from '../run/state.ts';
import { FOLD_BASES } from '../shape/folds.ts';
import type { Reached } from '../sketch/reach.ts';
import { isLanguage } from '../text/format.ts';
import { isTimeZone } from '../value/date.ts';
import { DATA_TYPES, type WireValue } from '../value/value.ts';
import { ACCESS_LEVELS, LIBRARY_KINDS, PUBLISHINGS, RIGHTS } from './rights.ts';

/** What the API hands out as it is: described, and not checked again. */
const asIs = <T>(description: string): z.ZodType<T> => z.custom<T>(() => true).meta({ description });

export const report = asIs<Report>('A report’s definition; GET /schema/report has its schema.');
export const model = asIs<Model>('A data model: entities, fields and relations.');
export const pages = asIs<Page[]>('Laid-out pages: marks with their places in points.');
export const said = asIs<ProblemValue>(
  'Words as a phrase of Gaveta with what fills it, or as a text of another program; “detail” has them in English.',
);
export const problem = asIs<Problem>(
  'A problem of a report: its code, severity, place and data, and its words as “text”.',
);
export const runState = asIs<RunState>('A run as its owner follows it.');
export const runProfile = asIs<RunProfile>('What a run did, and where its time went.');
export const headings = asIs<Heading[]>('Entries of a run’s outline, each with its page and place.');
export const foundOnPages = z.object({
  count: z.number(),
  pages: z.array(z.tuple([z.number(), z.number()])).meta({ description: 'Page and how often.' }),
  places: z.array(
    z.object({
      page: z.number(),
      nth: z.number().meta({ description: 'Among those of its page, from 0.' }),
      before: z.string(),
      match: z.string(),
      after: z.string(),
    }),
  ),
});
export const functions = asIs<HostFunction[]>(
  'Functions of formulas: their arguments, what they give, help, and the module that works them out in browsers, or null.',
);
export const theme = asIs<Theme>('A theme: the styles, colours and bands that reports take over.');
export const houseThing = asIs<HouseThing>(
  'A picture, {gavetaPicture: 1, name, source}, or a theme, {gavetaTheme: 1, name, accent, …} as the option “themes” has them.',
);
export const changes = asIs<Change[]>(
  'What differs between two definitions: drawers, bands and items with their settings.',
);
export const reach = asIs<Reached[]>(
  'Fields by the way of relations to the rows that they are of, with what those are called.',
);
export const jsonSchema = asIs<object>('A JSON Schema (draft 2020-12).');

/** What the store counts revisions with. */
export const revisionNumber = z.number().int().min(1).max(2_147_483_647);
export const id = z.string().min(1).max(120);

/** Where something new is kept: in a folder, with a note; left out, at the top, or in the caller’s own folder where they may not there. */
export const whereNew = { folder: id.optional(), note: z.string().max(500).default('') };

/** Which revision: what readers see, or what was saved last, which those see who may change it. */
export const whichRevision = z.enum(['published', 'newest']);

const single = z.union([z.string().max(20_000), z.number(), z.boolean()]);

/** Values by parameter name. */
export const parameterValues = z
  .record(z.string().max(80), z.union([single, z.null(), z.array(z.union([z.string(), z.number()])).max(1000)]))
  .default({});

/** Who runs a report, to connections that ask for that; kept nowhere. */
export const credentials = z
  .record(z.string().max(80), z.strictObject({ user: z.string().max(200), password: z.string().max(2000) }))
  .default({});

/** A definition as somebody sends it, which is checked by itself. */
export const definition = z.record(z.string(), z.unknown());

/** What a host may have left out. */
const MISSING = ['models', 'reports', 'hosts', 'authorize', 'encryptionKey'] as const;

export const session = z.object({ user: z.string(), rights: z.array(z.enum(RIGHTS)) });

/** The layout makes none that is longer. */
const foldKey = z.string().max(500);
/** What is closed: everything as it starts, open or closed, but for those turned the other way, which fold marks name. */
/** Points from the top of a page, 1-based. */
export const placeInRun = z.object({ page: z.number(), y: z.number() });

/** A value on a page: of which item, in which instance of a band. */
export const askedValue = z.strictObject({
  item: z.string().max(200),
  band: z.string().max(500).nullable(),
  rows: z.string().max(20_000).nullable(),
  cell: z.number().int().min(0).nullable(),
  page: z.number().int().min(1),
});

/** Where it comes from; `queries`: for those who design. */
export const explanation = asIs<Explanation & { queries: { drawer: string; sql: string }[] | null }>(
  'Where a value comes from.',
);

export const valueSet = z.object({
  id: z.string(),
  name: z.string(),
  values: z.record(
    z.string(),
    z.custom<GivenValue>(() => true),
  ),
  isShared: z.boolean(),
  isOwn: z.boolean(),
  by: z.string(),
});

const readerColumn = z.string().max(200);

/** Rows in the way of one reader. */
export const arrangement = z.strictObject({
  sorts: z
    .array(z.strictObject({ column: readerColumn, descending: z.boolean() }))
    .max(50)
    .default([]),
  filters: z
    .array(
      z.strictObject({
        column: readerColumn,
        type: z.enum(['text', 'number', 'boolean', 'date']),
        value: z.union([z.string().max(2000), z.number(), z.boolean(), z.null()]),
      }),
    )
    .max(50)
    .default([]),
  hidden: z.array(readerColumn).max(200).default([]),
});

/** Which of it readers may do, and the columns that they may do it with. */
export const arranging = z.object({
  may: z.enum(['none', 'sort', 'all']),
  columns: z.array(
    z.object({
      id: z.string(),
      label: z.string(),
      drawer: z.string(),
      captions: z.array(z.string()),
      mayBeHidden: z.boolean(),
    }),
  ),
});

/** Pages of paper, or one long page without breaks in strips, for screens. */
export const pageForm = z.enum(PAGE_FORMS);

export const folds = z.strictObject({
  base: z.enum(FOLD_BASES),
  turned: z.array(foldKey).max(2000).default([]),
});
/** A fold by the key of its mark, rows as region marks name them, and where they stand. */
export const placeAsked = z.strictObject({
  fold: foldKey.optional(),
  rows: z.string().max(4000).optional(),
  place: z.strictObject({ page: z.number().int().min(1), y: z.number() }).optional(),
});

const moment = z.string().describe('a moment as ISO 8601');

export const storedReport = z.object({
  id: z.string(),
  kind: z.enum(LIBRARY_KINDS),
  name: z.string(),
  folder: z.string().nullable().describe('Id of its folder; null where the caller may not see that.'),
  note: z.string(),
  tags: z.array(z.string()),
  isTemplate: z.boolean().describe('Whether new reports may begin as it is.'),
  owner: z.string().nullable().describe('Who may do everything with it; null: nobody by that alone.'),
  revision: z.number().describe('The newest one that the caller sees.'),
  published: z.number().nullable().describe('The revision that readers see; null: none.'),
  asked: z
    .object({ revision: z.number(), by: z.string(), note: z.string() })
    .nullable()
    .describe('The revision that somebody asked to publish.'),
  changedAt: moment,
  changedBy: z.string(),
});

/** A thing as it stands in the library for the caller. */
export const libraryThing = storedReport.extend({
  may: z.enum(ACCESS_LEVELS).describe('What the caller may do with it.'),
  publishing: z.enum(PUBLISHINGS).describe('How its revisions come before readers.'),
  isStarred: z.boolean(),
  openedAt: moment.nullable().describe('When the caller opened it last.'),
  runs: z.number().describe('How often it ran in the last thirty days.'),
  seconds: z.number().nullable().describe('How long a run took on average; null: it did not run.'),
});
export const revision = z.object({ number: z.number(), author: z.string(), note: z.string(), savedAt: moment });

/** Work that is not saved. */
export const draftHead = z.object({
  key: z.string(),
  kind: z.enum(['report', 'sketch']),
  report: z.string().nullable(),
  name: z.string(),
  base: z.number(),
  savedAt: moment,
});

/** A report that uses another one; `around`: it nests a report that nests it, at any depth. */
export const reportUser = z.object({ id: z.string(), name: z.string(), how: z.enum(['nests', 'links', 'around']) });

/** Who else has a report open, and its newest revision. */
export const presence = z.object({
  others: z.array(z.object({ user: z.string(), since: z.number().describe('milliseconds since 1970') })),
  stored: storedReport.nullable(),
});

const name = z
  .string()
  .min(1)
  .max(60)
  .regex(/^[\p{L}_][\p{L}\p{N}_]*$/u, 'a name of letters, digits and _');

const recipeParts = {
  steps: stepsSchema,
  parameters: z.array(parameterSchema).max(100).default([]),
};
export const changedRecipe = z.strictObject({ name: z.string().min(1).max(200), ...recipeParts });
export const newRecipe = changedRecipe.extend(whereNew);
export const storedRecipe = z.object({
  id: z.string(),
  name: z.string(),
  steps: stepsSchema,
  parameters: z.array(parameterSchema),
  revision: z.number(),
  changedAt: moment,
  changedBy: z.string(),
});
export const user = z.object({ kind: z.enum(['report', 'recipe']), id: z.string(), name: z.string() });

export const languageTag = z.string().max(35).refine(isLanguage, 'a language tag such as en or pt-PT');
/** The languages of whoever reads, the preferred one first. */
export const readerLanguages = z.union([languageTag, z.array(languageTag).max(20)]);
/** The same in an address: tags with commas between them. */
export const languageList = z
  .string()
  .max(700)
  .transform((tags) => tags.split(','))
  .pipe(z.array(languageTag).max(20));
export const language = languageTag.default('en');
export const timeZone = z.string().max(60).refine(isTimeZone, 'a time zone such as Europe/Lisbon').default('UTC');

/** Steps to look at. `values`: of their parameters. */
export const looked = {
  ...recipeParts,
  queries: z.array(querySchema).max(100).default([]),
  values: parameterValues,
  language,
  timeZone,
};

/** Why there is nothing to see: in words, and as what they are made of. */
export const failure = z.object({ detail: z.string(), problem });
export const field = asIs<Field>('A field of rows: its name, label, type and format.');
export const wireValue = asIs<WireValue>('A value as it travels.');

/** What looking at rows gave; `failure` says why it gave nothing. */
export const look = <T extends z.ZodType>(found: T) =>
  z.object({
    steps: z.array(z.object({ fields: z.array(field), problems: z.array(problem) })),
    problems: z.array(problem),
    found: found.nullable(),
    failure: failure.nullable(),
  });

export const columnFacts = z.object({
  field: z.string(),
  distinct: z.number(),
  blanks: z.number(),
  least: z.string().nullable(),
  most: z.string().nullable(),
});
export const recipeRows = z.object({
  rows: z.array(z.array(wireValue)),
  fields: z.array(field),
  milliseconds: z.number(),
  sql: z.string(),
  /** What the statement is sent with, in the order of its places. */
  values: z.array(z.unknown()),
  /** How many rows there are and what each column holds, of a statement that somebody wrote: it is sent once. Null of others. */
  counted: z.object({ count: z.number(), facts: z.array(columnFacts) }).nullable(),
});
export const pairs = z
  .array(z.strictObject({ here: z.string().max(80), there: z.string().max(80) }))
  .min(1)
  .max(20);

export const choices = z.object({
  choices: z.array(z.object({ value: z.string(), label: z.string() })),
  /** There are more than these. */
  more: z.boolean(),
  failure: failure.nullable(),
});

/** What is secret of a connection: never sent out again. */
export const connectionSecret = z.strictObject({
  password: z.string().max(2000).optional(),
  /** Instead of host, port, database, user and password. */
  connectionString: z.string().max(4000).optional(),
  headers: z.record(z.string().max(200), z.string().max(4000)).optional(),
});

export const connection = z.strictObject({
  name,
  label: z.string().min(1).max(200),
  settings: connectionSettingsSchema,
  /** Left out: the secret stays as it is. */
  secret: connectionSecret.optional(),
  /** Id of an uploaded file; left out: the file stays as it is. */
  upload: z.string().max(80).optional(),
  /** Of a new one: the folder that it goes into. */
  folder: id.optional(),
});

export const madeConnection = z.object({
  name: z.string(),
  label: z.string(),
  settings: connectionSettingsSchema,
  hasSecret: z.boolean(),
  /** Its secret cannot be read with the key that the server has now. */
  isLocked: z.boolean(),
  hasFile: z.boolean(),
  tables: z.number(),
  changedAt: moment,
  changedBy: z.string(),
});

const cell = z.object({ text: z.string(), fits: z.boolean() });

const foundField = z.object({
  name: z.string(),
  label: z.string(),
  type: z.enum(DATA_TYPES),
  /** Of a file or service: what it calls the column, which of those of the same name, and how its cells are written. */
  column: z.string().optional(),
  which: z.number().optional(),
  decimal: z.enum(['.', ',']).optional(),
  dates: z.enum(['ymd', 'dmy', 'mdy']).optional(),
  /** Cells that do not fit the type; they become blank. */
  misfits: z.number().optional(),
  doubt: z.enum(['day-month', 'decimal']).nullish(),
  /** It is no field: somebody left it out. */
  leftOut: z.literal(true).optional(),
});

export const foundTable = z.object({
  name: z.string(),
  label: z.string(),
  fields: z.array(foundField),
  /** Of a file or service: the first rows as they are written. */
  rows: z.array(z.array(cell)).optional(),
  /** Rows with fewer cells than there are columns, which become blank, and the line of the first; null where there are none. */
  short: z.object({ rows: z.number(), line: z.number() }).nullish(),
});

export const sourceChange = z.object({
  table: z.string(),
  /** Null: the table as a whole. */
  field: z.string().nullable(),
  change: z.enum(['added', 'gone', 'type']),
  from: z.string().optional(),
  to: z.string().optional(),
});

/** A report or recipe that reads a field. */
export const fieldUser = user.extend({
  field: z.string(),
  /** Ids of a report's items and drawers that name it. */
  places: z.array(z.string()),
  /** The recipe by which it depends on the field without naming it; null where it names it. */
  through: z.string().nullable(),
});

export const output = z.object({
  name: z.string(),
  label: z.string(),
  mime: z.string().describe('Of the file, unless its options say otherwise.'),
  extension: z.string(),
  takes: z
    .enum(['pages', 'content', 'rows'])
    .describe('Pages as they are, what they show as a document to work on, or the rows that are shown.'),
  options: z.record(z.string(), z.unknown()).describe('JSON Schema of its options.'),
});
export const font = z.object({
  family: z.string(),
  weight: z.union([z.literal(400), z.literal(700)]),
  italic: z.boolean(),
  file: z.string().describe('Its name to fetch it by.'),
  isFallback: z.boolean().describe('It shows what other fonts have no characters for, and is not offered by itself.'),
});

/** What a host registered with `createGaveta`, and what its developer may want to know. */
export const embedding = z.object({
  version: z.string(),
  models: z.array(z.object({ name: z.string(), label: z.string(), entities: z.number(), connection: z.string() })),
  connections: z.array(
    z.object({ name: z.string(), kind: z.enum(['database', 'rows']), made: z.enum(['code', 'hand']) }),
  ),
  /** Of formulas, besides Gaveta’s own. */
  functions: z.array(z.string()),
  themes: z.array(z.string()),
  fonts: z.array(z.object({ family: z.string(), faces: z.number() })),
  outputs: z.array(z.object({ name: z.string(), label: z.string() })),
  hooks: z.array(z.string()),
  /** Origins whose pages may show reports. */
  hosts: z.array(z.string()),
  /** Path at which browsers reach it; null: where it is mounted. */
  path: z.string().nullable(),
  reports: z.number(),
  /** What is not there, and may be wanted. */
  missing: z.array(z.enum(MISSING)),
  /** Newest first, since the server started. */
  errors: z.array(z.object({ at: moment, said: z.string(), times: z.number() })),
});

/** Something in models or connections that will not work, and the line that mends it. */
export const finding = z.object({ place: z.string(), said: z.string() });
