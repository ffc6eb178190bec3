import type { FoldMark, FoldState, Page, RunState } from '@gaveta/core/internal';
import { demoReports } from '@gaveta-examples/cumeeira';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Session } from '../access/session.ts';
import { type AskedDemo, askDemo } from './asked-demo.test-support.ts';

const OFFICE: Session = { user: 'Inês', rights: ['view', 'design'], claims: { role: 'office' } };
const OTHER: Session = { ...OFFICE, user: 'Rui' };

let demo: AskedDemo;
let ledger: object;

beforeAll(async () => {
  demo = await askDemo({ limits: { keepRowBytes: 600_000 } });
  ledger = (await demoReports()).find((r) => r.id === 'season-ledger')!.definition as object;
});
afterAll(() => demo.close());

const call = (method: 'get' | 'post', path: string, body?: object, session = OFFICE) =>
  demo.call(session, method, path, body);
const finished = (id: string): Promise<RunState> => demo.ended(OFFICE, id);
const run = async (parameters: object): Promise<RunState> => {
  const { body } = await call('post', '/runs', { definition: ledger, parameters });
  return finished(body.id);
};
const fold = async (from: RunState, folds: FoldState, at: object = {}): Promise<RunState> => {
  const { status, body } = await call('post', `/runs/${from.id}/folds`, { folds, at });
  expect([status, body.code]).toEqual([201, undefined]);
  return finished(body.id);
};
const pagesOf = async ({ id, pages }: RunState): Promise<Page[]> => {
  const all: Page[] = [];
  while (all.length < pages) all.push(...(await call('get', `/runs/${id}/pages?from=${all.length + 1}&count=20`)).body);
  return all;
};
const signsOf = (page: Page): FoldMark[] => page.marks.flatMap((mark) => (mark.kind === 'fold' ? [mark] : []));

/** Pages without how many there are. */
const withoutCount = (pages: readonly Page[]): object[] =>
  pages.map(({ marks, ...page }) => ({
    ...page,
    marks: marks.filter((mark) => mark.kind !== 'text' || !/^Page \d+ of/.test(mark.text)),
  }));

const START: FoldState = { base: 'start', turned: [] };
const NORTH = { season: 2025, region_name: 'Alto Norte' };

describe('a run that is laid out anew with other parts of it closed', () => {
  it('takes the rows that are there, begins where pages differ, and comes back to the first pages', async () => {
    const first = await run(NORTH);
    expect(first).toMatchObject({ status: 'done', isFoldable: true, folds: START, place: null });
    const before = await pagesOf(first);
    const asked = demo.opened();
    const page = before[Math.floor(before.length / 2)]!;
    const sign = signsOf(page).at(-1)!;
    const closed = await fold(first, { base: 'start', turned: [sign.key] }, { fold: sign.key });
    expect(closed).toMatchObject({ status: 'done', rows: first.rows, problems: [] });
    expect(closed.place!.page).toBe(page.number);
    const after = await pagesOf(closed);
    const found = signsOf(after[closed.place!.page - 1]!).find(({ key }) => key === sign.key)!;
    expect([found.isClosed, found.y]).toEqual([true, closed.place!.y]);
    expect(JSON.stringify(after)).not.toBe(JSON.stringify(before));
    expect(withoutCount(after.slice(0, page.number - 2))).toEqual(withoutCount(before.slice(0, page.number - 2)));
    const again = await fold(closed, START, { fold: sign.key });
    expect(await pagesOf(again)).toEqual(before);
    expect(again.headings).toBe(first.headings);
    expect(demo.opened()).toBe(asked);
  });

  it('has fewer pages with everything closed, numbers them anew, and becomes a file as it is', async () => {
    const first = await run(NORTH);
    const closed = await fold(first, { base: 'closed', turned: [] }, { rows: 'region:#1/hut:3/stay:9' });
    expect(closed.pages).toBe(1);
    expect(closed.rows).toBe(first.rows);
    expect(closed.place).toMatchObject({ page: 1 });
    const [page] = await pagesOf(closed);
    expect(JSON.stringify(page)).toContain('Page 1 of 1');
    expect(signsOf(page!).map(({ isClosed }) => isClosed)).toEqual([true]);
    const { body } = await call('get', `/runs/${closed.id}/files/pdf`);
    expect(body.subarray(0, 5).toString()).toBe('%PDF-');
    const one = await fold(closed, { base: 'closed', turned: [signsOf(page!)[0]!.key] });
    expect(signsOf((await pagesOf(one))[0]!).map(({ isClosed }) => isClosed)).toContain(false);
  });

  it('reads rows again where there were too many to keep them', async () => {
    const first = await run({ season: 2025 });
    const asked = demo.opened();
    const closed = await fold(first, { base: 'closed', turned: [] });
    expect(closed).toMatchObject({ status: 'done', rows: first.rows });
    expect(demo.opened()).toBeGreaterThan(asked);
  });

  it('belongs to whoever ran it, and says what is wrong with what was asked', async () => {
    const first = await run(NORTH);
    const other = await call('post', `/runs/${first.id}/folds`, { folds: START }, OTHER);
    expect([other.status, other.body.code]).toEqual([404, 'unknown-run']);
    for (const body of [{}, { folds: { base: 'ajar' } }, { folds: { base: 'open', turned: [1] } }])
      expect((await call('post', `/runs/${first.id}/folds`, body)).body.code).toBe('wrong-body');
    // Keys of nothing close nothing.
    const same = await fold(first, { base: 'start', turned: ['no|such|thing'] });
    expect(same.pages).toBe(first.pages);
  });
});
