import { readdir, readFile } from 'node:fs/promises';
import { dirname, join, relative, resolve } from 'node:path';
import { Moment } from '@gaveta/core/internal';
import { z } from 'zod';

const name = z.string().min(1).max(200);
const rows = z.record(name, z.array(z.record(name, z.unknown())));

/** A run of a report that `gaveta test` holds to what is kept of it. */
const caseSchema = z.strictObject({
  /** Id or name of a report of the configuration, or a definition file, seen from this file. */
  report: name,
  /** Values of the report's parameters, by name. */
  parameters: z.record(name, z.unknown()).default({}),
  /** Whose rows are seen; those of the configuration when left out. */
  claims: z.record(name, z.unknown()).optional(),
  /** The moment that the run says it is, so that dates do not change with the day: `2026-03-14T07:30`. */
  runAt: z
    .string()
    .refine((text) => Moment.parse(text) !== null, 'no moment, as 2026-03-14T07:30')
    .optional(),
  /** Rows by entity, or a JSON file of them; the configuration's connections give them when left out. */
  rows: z.union([z.string().min(1), rows]).optional(),
  /** Formulas that have to be true, in the scope of the report's footer, as `SUM(amount) = 1821479.53`. */
  checks: z.array(z.string().min(1).max(5000)).max(1000).default([]),
  /** Formulas by name, in the same scope, whose values are kept. */
  totals: z.record(name, z.string().min(1).max(5000)).default({}),
  /** Codes of problems that may be found, as `text-cut-off`; any other fails. */
  allow: z.array(name).default([]),
  /** Which pages are kept: all, none, or those from one to another, counted from 1. */
  pages: z
    .union([z.boolean(), z.strictObject({ from: z.int().min(1).default(1), to: z.int().min(1).optional() })])
    .default(true),
  /** What can be opened and closed. */
  folds: z.enum(['start', 'open', 'closed']).default('start'),
});

export type GivenRowsOfCase = z.output<typeof rows>;

export interface ReportCase extends Omit<z.output<typeof caseSchema>, 'rows'> {
  /** Path without its ending, seen from the folder of the tests, as `bills/winter`. */
  id: string;
  /** Of the case, absolute. */
  file: string;
  /** Null where connections give them. */
  rows: GivenRowsOfCase | null;
}

export type ReadCase = { ok: true; case: ReportCase } | { ok: false; id: string; said: string };

export const CASE_ENDING = '.case.json';
export const KEPT_ENDING = '.kept.json';

/** Files of a folder and those in it, seen from it, that end with something, in the order of their names. */
export const filesEnding = async (folder: string, ending: string): Promise<string[]> =>
  (await readdir(folder, { recursive: true, withFileTypes: true }))
    .filter((one) => one.isFile() && one.name.endsWith(ending))
    .map((one) => relative(folder, join(one.parentPath, one.name)).replaceAll('\\', '/'))
    .filter((path) => !path.split('/').includes('node_modules'))
    .sort();

const json = async (file: string): Promise<unknown> => JSON.parse(await readFile(file, 'utf8'));

/** Reads a case of the folder; says what is wrong with one that cannot be used. */
export const readCase = async (folder: string, path: string): Promise<ReadCase> => {
  const id = path.slice(0, -CASE_ENDING.length);
  const file = resolve(folder, path);
  try {
    const read = caseSchema.safeParse(await json(file));
    if (!read.success) return { ok: false, id, said: z.prettifyError(read.error) };
    const { rows: given, ...rest } = read.data;
    if (typeof given !== 'string') return { ok: true, case: { ...rest, id, file, rows: given ?? null } };
    const found = rows.safeParse(await json(resolve(dirname(file), given)));
    return found.success
      ? { ok: true, case: { ...rest, id, file, rows: found.data } }
      : { ok: false, id, said: `${given} is no object of lists of rows, by entity.\n${z.prettifyError(found.error)}` };
  } catch (error) {
    return { ok: false, id, said: error instanceof Error ? error.message : String(error) };
  }
};
