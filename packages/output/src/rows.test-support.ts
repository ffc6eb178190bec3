import type { ListedColumn, ListedSet, RowListener, Value } from '@gaveta/core/internal';
import { loadEquipment } from './equipment.ts';
import { collecting } from './sink.test-support.ts';

/** A set of rows, each with its values and the rows of the sets inside it. */
export interface MadeSet {
  set: ListedSet;
  rows: readonly { values: readonly Value[]; inside?: readonly MadeSet[] }[];
}

export const column = (name: string, type: ListedColumn['type'], label = name): ListedColumn => ({
  name,
  label,
  type,
  format: '',
});

export const setOf = (name: string, columns: ListedColumn[], inner: ListedSet[] = []): ListedSet => ({
  name,
  label: name,
  columns,
  inner,
});

const tell = async (made: readonly MadeSet[], listener: RowListener): Promise<void> => {
  for (const { set, rows } of made) {
    await listener.begins(set);
    for (const { values, inside = [] } of rows) {
      await listener.row(set, values);
      await tell(inside, listener);
      await listener.rowEnds(set);
    }
    await listener.ends(set);
  }
};

const equipment = await loadEquipment();

/** A file of rows in an output. */
export const fileOf = async (
  name: string,
  made: readonly MadeSet[],
  options: Record<string, unknown> = {},
  signal = new AbortController().signal,
): Promise<Buffer> => {
  const output = equipment.output(name);
  if (output?.takes !== 'rows') throw new Error(`no output ${name}`);
  const { sink, bytes } = collecting();
  const sets = made.map(({ set }) => set);
  const rows = (listener: RowListener): Promise<void> => tell(made, listener);
  await output.write(
    { title: 'A “report” & more', language: 'en', timeZone: 'UTC', sets, rows, options },
    sink,
    signal,
  );
  return bytes();
};
