import { type Arrangement, type GivenValue, joinChoices, type WireValue } from '@gaveta/core/internal';
import { useCallback, useEffect, useMemo } from 'react';
import { useLocation, useSearchParams } from 'react-router';
import type { ParameterValues } from '../../api/client.ts';
import { browserMemory } from '../../ui/memory.ts';
import { ARRANGEMENT, readArrangement, writeArrangement } from '../arranging/arrangement.ts';
import { rememberedValues, rememberValues } from '../remembered.ts';

export interface Values {
  /** As they stand in the address, by the names of their parameters. */
  given: ParameterValues;
  set: (values: Readonly<Record<string, GivenValue>>) => void;
  /** What a press on a part of the report sets; pressed again, it is taken back. */
  press: (values: Readonly<Record<string, WireValue>>) => void;
  /** These and no others. */
  replace: (values: Readonly<Record<string, GivenValue>>) => void;
  /** How rows are arranged, which stands in the address as well. */
  arrangement: Arrangement;
  arrange: (arrangement: Arrangement) => void;
}

const put = (search: URLSearchParams, name: string, value: GivenValue): void => {
  if (value === null || value === '') search.delete(name);
  else search.set(name, Array.isArray(value) ? joinChoices(value.map(String)) : String(value));
};

/** What of an address are values of parameters. */
const valuesIn = (search: URLSearchParams): URLSearchParams => {
  const values = new URLSearchParams(search);
  values.delete(ARRANGEMENT);
  return values;
};

/** The values of a report's parameters: they stand in the address, and those of the last time come back. */
export const useValues = (report: string): Values => {
  const [search, setSearch] = useSearchParams();
  const { state } = useLocation();
  const given = useMemo<ParameterValues>(
    () => Object.fromEntries([...search].filter(([name]) => name !== ARRANGEMENT)),
    [search],
  );
  const rows = search.get(ARRANGEMENT);
  const arrangement = useMemo(() => readArrangement(rows), [rows]);
  const change = useCallback(
    (make: (next: URLSearchParams) => void): void =>
      setSearch(
        (old) => {
          const next = new URLSearchParams(old);
          make(next);
          rememberValues(browserMemory(), report, valuesIn(next));
          return next;
        },
        // Where one came from stays known.
        { state: state?.cameFrom ? { cameFrom: state.cameFrom } : null },
      ),
    [setSearch, report, state],
  );
  // An address with values of its own is taken as it is.
  const isBare = search.size === 0;
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each report, when it is opened
  useEffect(() => {
    const last = rememberedValues(browserMemory(), report);
    if (isBare && last.size > 0) setSearch(last, { replace: true, state });
  }, [report]);
  return {
    given,
    arrangement,
    arrange: useCallback((wanted) => change((next) => put(next, ARRANGEMENT, writeArrangement(wanted))), [change]),
    set: useCallback(
      (values) =>
        change((next) => {
          for (const [name, value] of Object.entries(values)) put(next, name, value);
        }),
      [change],
    ),
    press: useCallback(
      (values) =>
        change((next) => {
          const wanted = Object.entries(values).map(
            ([name, value]) => [name, value === null ? '' : String(value)] as const,
          );
          const isSet = wanted.every(([name, value]) => (next.get(name) ?? '') === value);
          for (const [name, value] of wanted) put(next, name, isSet ? null : value);
        }),
      [change],
    ),
    replace: useCallback(
      (values) =>
        change((next) => {
          for (const name of [...next.keys()]) if (name !== ARRANGEMENT) next.delete(name);
          for (const [name, value] of Object.entries(values)) put(next, name, value);
        }),
      [change],
    ),
  };
};
