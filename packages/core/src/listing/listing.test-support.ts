import type { Report } from '../definition/schema.ts';
import { plan, rowsOf } from '../layout/huts.test-support.ts';
import { listReport } from '../run/list-report.ts';
import { type Value, valueText } from '../value/value.ts';
import type { ListedSet } from './listed.ts';

/** Names, labels and types of sets and their columns. */
export const shape = (sets: readonly ListedSet[]): unknown[] =>
  sets.map(({ name, columns, inner }) => [
    name,
    columns.map((one) => `${one.name}: ${one.label} (${one.type})`),
    ...(inner.length > 0 ? [shape(inner)] : []),
  ]);

/** What is told of a report’s rows, a line each. */
export const told = async (report: Report, rows: object, nested: Record<string, Report> = {}, signal?: AbortSignal) => {
  const listing = listReport(plan(report, nested));
  const lines: string[] = [];
  let depth = 0;
  const say = (words: string): void => void lines.push(`${'  '.repeat(depth)}${words}`);
  const result = await listing.rows(
    {
      begins: ({ name }) => {
        say(name);
        depth++;
      },
      row: (_, values: readonly Value[]) => {
        say(values.map((value) => (value === null ? '–' : valueText(value))).join(' | '));
        depth++;
      },
      rowEnds: () => {
        depth--;
      },
      ends: () => {
        depth--;
      },
    },
    { open: () => ({ source: rowsOf(rows as never) }), parameters: {}, signal },
  );
  return { lines, result, sets: listing.sets };
};

/** Huts with their stays. */
export const ROWS = {
  hut: [
    { id: 1, name: 'Brecha' },
    { id: 2, name: 'Lagoa' },
  ],
  stay: [
    { in: 1, id: 1, hut_id: 1, guest: 'Ana', nights: 2, arrival: '2025-07-01' },
    { in: 1, id: 2, hut_id: 1, guest: 'Rui', nights: 3, arrival: '2025-07-02' },
    { in: 2, id: 3, hut_id: 2, guest: null, nights: 4, arrival: '2025-08-01' },
  ],
};

/** The same stays as the rows of an outermost drawer. */
export const ALL = { stay: ROWS.stay.map((stay) => ({ ...stay, in: 1 })) };
