import type { PGlite } from '@electric-sql/pglite';
import {
  AS_STARTED,
  type FoldMark,
  type FoldState,
  type Page,
  type Report,
  readDefinition,
  turnFold,
} from '@gaveta/core';
import { beforeAll, expect, it } from 'vitest';
import { demoReports } from './index.ts';
import { fewHuts, runOver } from './run.test-support.ts';

let database: PGlite;
const reports = new Map<string, Report>();

beforeAll(async () => {
  database = await fewHuts();
  for (const { id, definition } of await demoReports()) {
    const read = readDefinition(definition);
    if (read.ok) reports.set(id, read.report);
  }
});

/** Signs of groups and drawers; what a legend switches off is nothing that closes. */
const signsOf = (pages: readonly Page[]): FoldMark[] =>
  pages.flatMap(({ marks }) => marks.flatMap((mark) => (mark.kind === 'fold' && !mark.isSwitch ? [mark] : [])));

/** A report's pages, and how many rows it has counted. */
const run = async (report: Report, folds: FoldState, given: Record<string, string>) => {
  const { pages, result } = await runOver(database, report, { folds, given });
  return { pages, rows: result.rows, problems: result.allProblems };
};

/** Words that are there once for each of its huts, and those that must stay when everything is closed. */
const CASES = {
  'season-ledger': {
    given: { season: '2025', region_name: 'Ilha de Pedra' },
    inside: 'Stay total',
    stays: 'All regions',
  },
  'nights-matrix': { given: { season: '2025' }, inside: 'Jul', stays: 'All huts' },
};

it.each(Object.entries(CASES))('%s is as it was when everything was closed and opened again, one by one', async (id, {
  given,
  inside,
  stays,
}) => {
  const report = reports.get(id)!;
  const first = await run(report, AS_STARTED, given);
  expect(first.problems).toEqual([]);
  const keys = [...new Set(signsOf(first.pages).map(({ key }) => key))];
  expect(keys.length).toBeGreaterThan(5);
  const open = signsOf(first.pages).filter(({ isClosed }) => !isClosed);
  let state: FoldState = AS_STARTED;
  for (const key of new Set(open.map((sign) => sign.key))) state = turnFold(state, key);
  const closed = await run(report, state, given);
  const all = await run(report, { base: 'closed', turned: [] }, given);
  expect(closed.pages).toEqual(all.pages);
  expect(closed.rows).toBe(first.rows);
  const words = closed.pages.flatMap(({ marks }) => marks.flatMap((mark) => (mark.kind === 'text' ? [mark.text] : [])));
  expect(words).not.toContain(inside);
  expect(words).toContain(stays);
  expect(signsOf(closed.pages).every(({ isClosed }) => isClosed)).toBe(true);
  for (const key of [...state.turned].reverse()) state = turnFold(state, key);
  expect((await run(report, state, given)).pages).toEqual(first.pages);
});
