import {
  type GivenValue,
  type OpenedRows,
  type Page,
  planSplit,
  type ReportPlan,
  readParameters,
  runReport,
  SplitRows,
  type Value,
} from '@gaveta/core/internal';
import { loadShippedFonts } from '@gaveta/output/equipment';
import { describe, expect, test } from 'vitest';
import { openDemo, runAt } from './demo-runs.test-support.ts';

const book = await loadShippedFonts();

/** The pages of a plan, and what was found wrong. */
const pagesOf = async (
  plan: ReportPlan,
  parameters: Record<string, Value>,
  open: () => Promise<OpenedRows> | OpenedRows,
) => {
  const pages: Page[] = [];
  const { late, allProblems } = await runReport({
    ...{ plan, parameters, open, runAt },
    book,
    onPage: (page) => void pages.push(page),
  });
  return { pages, late, problems: allProblems.map(({ code }) => code) };
};

const takeRegions = [
  { step: 'take', from: { model: 'cumeeira', entity: 'region' } },
  { step: 'sort', by: [{ field: 'name' }] },
] as never[];

describe('parts whose rows are read together have the pages of runs of their own', () => {
  test.each([
    ['season-ledger', { region_name: 'name' }, { huts: ['Alminhas'] }],
    ['inspection-watchlist', {}, {}],
  ])(
    '%s',
    async (id, links, values) => {
      const demo = await openDemo();
      const report = demo.definition(id);
      const split = planSplit({ report, steps: takeRegions, links, values }, demo.contextWith(false));
      expect(split).not.toBeNull();
      const read = (given: Record<string, GivenValue>) => readParameters(report, given, { now: runAt.ms }).values;
      const opened = await demo.openOf(split!.all, {});
      const rows = new SplitRows(split!, opened.source, 1e9);
      let parts = 0;
      try {
        for (let part = await rows.next(); part; part = await rows.next()) {
          parts++;
          const name = String(
            part.row[split!.each.columns.findIndex((c) => c.kind === 'field' && c.path.at(-1) === 'name') + 1],
          );
          const given = { ...values, ...Object.fromEntries(Object.keys(links).map((key) => [key, name])) };
          const source = part.source;
          const together = await pagesOf(split!.own, read(given), () => ({ source }));
          const alone = demo.planned(report, given);
          const own = await pagesOf(alone.plan, alone.parameters, alone.open);
          expect(together.pages.length).toBeGreaterThan(0);
          expect(together).toEqual(own);
        }
      } finally {
        rows.close();
        await opened.close?.();
      }
      expect(parts).toBe(4);
    },
    120_000,
  );
});
