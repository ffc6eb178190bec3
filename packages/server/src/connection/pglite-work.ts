import type { PGlite, Results } from '@electric-sql/pglite';
import { type WireValues as Row, rowsOf } from './pglite-rows.ts';

/** What is done with an embedded database, in its own thread or in this one. Every task is done before the next starts. */
export type Task =
  /** Cursors that outlive their transaction, all on one snapshot. `before`: statements of the transaction's start. */
  | { kind: 'declare'; cursors: { name: string; text: string; values: unknown[]; before: string[] }[] }
  | { kind: 'fetch'; name: string; count: number; skip: number }
  | { kind: 'close'; name: string }
  | { kind: 'query'; text: string; values: unknown[] }
  | { kind: 'describe'; text: string; values: unknown[]; before: string[] }
  | { kind: 'exec'; text: string }
  | { kind: 'copy'; table: string; csv: string };

const asText = (value: string): string => value;

/** Bytes as a `data:` address; pictures are told by their first bytes. */
export const asPicture = (hex: string): string => {
  const bytes = Buffer.from(hex.slice(2), 'hex');
  const type = bytes[0] === 0xff ? 'image/jpeg' : 'image/png';
  return `data:${type};base64,${bytes.toString('base64')}`;
};

/** Parsers by PostgreSQL type: text keeps every digit, and JavaScript dates would lose the zone. */
export const PARSERS: Record<number, (value: string) => string> = {
  17: asPicture,
  20: asText,
  700: asText,
  701: asText,
  1082: asText,
  1083: asText,
  1114: asText,
  1184: asText,
  1266: asText,
  1700: asText,
  3802: asText,
  114: asText,
};

const OPTIONS = { rowMode: 'array' as const, parsers: PARSERS };

export interface Done {
  rows: Row[];
  columns: { name: string; type: number }[];
}

const NOTHING: Done = { rows: [], columns: [] };

export const work = async (database: PGlite, task: Task): Promise<Done> => {
  switch (task.kind) {
    case 'declare':
      await database.transaction(async (transaction) => {
        await transaction.exec('set transaction isolation level repeatable read, read only');
        for (const { name, text, values, before } of task.cursors) {
          for (const statement of before) await transaction.exec(statement);
          await transaction.query(`declare ${name} no scroll cursor with hold for ${text}`, values, OPTIONS);
        }
      });
      return NOTHING;
    case 'fetch': {
      if (task.skip > 0) await database.exec(`move forward ${task.skip} from ${task.name}`);
      return { rows: await rowsOf(database, `fetch ${task.count} from ${task.name}`, PARSERS), columns: [] };
    }
    case 'close':
      await database.exec(`close ${task.name}`).catch(() => {});
      return NOTHING;
    case 'query': {
      const result: Results<Row> = await database.query(task.text, task.values, OPTIONS);
      return { rows: result.rows, columns: columnsOf(result) };
    }
    case 'describe': {
      let columns: Done['columns'] = [];
      await database.transaction(async (transaction) => {
        await transaction.exec('set transaction read only');
        for (const statement of task.before) await transaction.exec(statement);
        columns = columnsOf(await transaction.query(task.text, task.values, OPTIONS));
      });
      return { rows: [], columns };
    }
    case 'exec':
      await database.exec(task.text);
      return NOTHING;
    case 'copy':
      await database.query(`copy ${task.table} from '/dev/blob' with (format csv)`, [], {
        blob: new Blob([task.csv]),
      });
      return NOTHING;
    default:
      return task satisfies never;
  }
};

const columnsOf = (result: Results<Row>): Done['columns'] =>
  result.fields.map((f) => ({ name: f.name, type: f.dataTypeID }));
