import type { MessagePort } from 'node:worker_threads';
import { type ProblemValue, phrase, type WireRow } from '@gaveta/core/internal';
import type { WantedField } from '../connection/connection.ts';
import { loadTables, type SourceToRead, writingOf } from './load.ts';
import { SourceError } from './raw.ts';
import { describeTables, findTable, type SourceTable, type TableLook, wireRows } from './tables.ts';

/** What a thread is asked to do with a file or service: tell its tables, or give rows of one of them. */
export type SourceTask = { source: SourceToRead } & (
  | { kind: 'describe' }
  | { kind: 'rows'; table: SourceTable; fields: WantedField[]; port: MessagePort }
);

/** `refused`: words for the one who set the source up. */
export type SourceAnswer = { tables: SourceTable[]; looks: TableLook[] } | { refused: ProblemValue };

export type RowsMessage = { rows: WireRow[] } | { end: true };

const never = new AbortController().signal;

/** Runs in a thread of its own, which is ended from outside when it takes too long or nobody waits any more. */
export default async (task: SourceTask): Promise<SourceAnswer> => {
  try {
    const loaded = await loadTables(task.source, never);
    const writing = writingOf(task.source);
    if (task.kind === 'describe') return describeTables(loaded, writing, task.source.settings.columns);
    const { table, fields, port } = task;
    for (const rows of wireRows(findTable(loaded, table), table, fields, writing)) {
      port.postMessage({ rows } satisfies RowsMessage);
      // One batch on its way, one being made.
      await new Promise((resolve) => port.once('message', resolve));
    }
    port.postMessage({ end: true } satisfies RowsMessage);
    return { tables: [], looks: [] };
  } catch (error) {
    if (error instanceof SourceError) return { refused: error.said };
    // Nesting that no limit foresaw.
    if (error instanceof RangeError) return { refused: phrase('file-nested') };
    throw error;
  }
};
