import type { Arrangement, ReaderColumn } from '@gaveta/core/internal';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useCallback, useMemo } from 'react';
import { api } from '../../api/client.ts';
import { queries } from '../../api/queries.ts';
import type { ShownValue } from '../origin/value-at.ts';
import { nextSort, sortedBy, withFilter } from './arrangement.ts';

export interface Arranging {
  may: 'none' | 'sort' | 'all';
  columns: readonly ReaderColumn[];
  now: Arrangement;
  set: (next: Arrangement) => void;
  sort: (column: ReaderColumn, descending: boolean | null) => void;
  /** The column whose caption an item is. */
  captioned: (item: string) => ReaderColumn | null;
  /** The column whose value an item is. */
  valued: (item: string) => ReaderColumn | null;
  /** What a press on a caption does. */
  press: (column: ReaderColumn) => void;
  /** Only rows that have the value. Throws when that cannot be found out, or is no value to look for. */
  only: (column: ReaderColumn, value: ShownValue) => Promise<void>;
}

/** The rows of a run in the way of their reader. */
export const useArranging = (run: string | null, now: Arrangement, set: (next: Arrangement) => void): Arranging => {
  const known = useQuery({
    ...queries.arranging(run ?? ''),
    enabled: run !== null,
    // Columns stay the same while rows are arranged.
    placeholderData: keepPreviousData,
  });
  const { may = 'none', columns = [] } = known.data ?? {};
  const [byCaption, byValue] = useMemo(
    () => [
      new Map(columns.flatMap((column) => column.captions.map((item) => [item, column] as const))),
      new Map(columns.map((column) => [column.id, column])),
    ],
    [columns],
  );
  const sort = useCallback(
    (column: ReaderColumn, descending: boolean | null) => set(sortedBy(now, columns, column, descending)),
    [set, now, columns],
  );
  return {
    may,
    columns,
    now,
    set,
    sort,
    captioned: (item) => byCaption.get(item) ?? null,
    valued: (item) => byValue.get(item) ?? null,
    press: (column) => sort(column, nextSort(now, column)),
    only: async (column, { asked }) => {
      const { formulas } = await api.explain(run!, asked, new AbortController().signal);
      const [formula] = formulas;
      const type = formula?.type;
      if (!formula || (type !== 'text' && type !== 'number' && type !== 'boolean' && type !== 'date'))
        throw new Error('no value to look for');
      set(withFilter(now, { column: column.id, type, value: formula.value }));
    },
  };
};
