import { expect, it } from 'vitest';
import { RowProblem } from '../data/rows.ts';
import type { Page, PictureMark, RegionMark } from '../page/page.ts';
import { band, definition, field, lay, plan, type Rows } from './huts.test-support.ts';
import { prepareReport } from './prepare.ts';
import { POINTS, type PreparedReport } from './prepared.ts';
import { type LayoutOptions, layoutReport } from './run.ts';
import { LayoutCancelled } from './running.ts';
import { testBook } from './shipped.test-support.ts';

const report = definition({
  body: [
    {
      id: 'huts',
      name: 'hut',
      rows: { entity: 'hut' },
      detail: { ...band(10, field('h', 'name')), pageBreak: 'between' },
      footer: band(8, field('n', 'COUNT(hut)')),
    },
  ],
});

const run = async ({ prepared, ...options }: Partial<LayoutOptions> & { prepared?: PreparedReport }) => {
  const pages: Page[] = [];
  const result = await layoutReport(prepared ?? prepareReport(plan(report), testBook), {
    parameters: {},
    source: async function* () {
      for (let i = 1; ; i++) yield [[1, `hut ${i}`]];
    },
    onPage: (page) => void pages.push(page),
    ...options,
  });
  return { pages, result };
};

it('an endless feed stops at the limit of pages, and the run says so', async () => {
  const { pages, result } = await run({ maxPages: 100 });
  expect(pages.length).toBe(100);
  expect(result).toMatchObject({
    complete: false,
    pages: 100,
    problems: [{ code: 'too-many-pages', data: { limit: 100 } }],
  });
});

it('a run can be cancelled at any page', async () => {
  const abort = new AbortController();
  const cancelled = run({
    signal: abort.signal,
    onPage: (page) => {
      if (page.number === 70) abort.abort();
    },
  });
  await expect(cancelled).rejects.toThrow(LayoutCancelled);
});

it('a run that waits for a database is cancelled at once, and one without a page ready within 200 ms', async () => {
  const cancel = async (options: Parameters<typeof run>[0]): Promise<number> => {
    const abort = new AbortController();
    let asked = 0;
    const timer = setTimeout(() => {
      asked = performance.now();
      abort.abort();
    }, 100);
    const breathe = () => new Promise<void>((resolve) => setImmediate(resolve));
    await expect(run({ ...options, breathe, signal: abort.signal })).rejects.toThrow(LayoutCancelled);
    clearTimeout(timer);
    return performance.now() - asked;
  };
  const silent = {
    async *[Symbol.asyncIterator]() {
      await new Promise(() => {});
      yield [];
    },
  };
  expect(await cancel({ source: () => silent })).toBeLessThan(200);
  const feed = async function* () {
    for (let i = 1; ; i++) yield Array.from({ length: 500 }, () => [1, `hut ${i}`]);
  };
  expect(await cancel({ source: feed })).toBeLessThan(200);
  const ahead = definition({ ...report, header: band(8, field('all', 'COUNT(hut)')) });
  expect(await cancel({ source: feed, prepared: prepareReport(plan(ahead), testBook) })).toBeLessThan(200);
});

it('a run that takes too long ends with what it has, and says so', async () => {
  const breathe = () => new Promise<void>((resolve) => setImmediate(resolve));
  const { pages, result } = await run({ maxSeconds: 0.2, breathe });
  expect(result.complete).toBe(false);
  expect(result.problems).toMatchObject([{ code: 'too-long', data: { limit: 0.2 } }]);
  expect(pages.length).toBe(result.pages);
  expect(result.work.formulas).toBeGreaterThan(0);
});

it('a feed that fails in the middle keeps the rows that came, says so in its place, and gives no total', async () => {
  const { pages, result } = await run({
    source: async function* () {
      yield [
        [1, 'a'],
        [1, 'b'],
      ];
      throw new RowProblem('too-many-rows', { limit: 2 });
    },
  });
  expect(result.problems).toMatchObject([{ code: 'too-many-rows', place: { drawer: 'huts' }, data: { limit: 2 } }]);
  const words = pages.flatMap((p) => p.marks).flatMap((m) => (m.kind === 'text' ? [m.text] : []));
  expect(words).toEqual(['a', 'b', 'The run was stopped after 2 rows. Narrow it with a parameter.', '#REF!']);
});

it('rows that are needed all at once and take too many bytes are refused in words, and let go', async () => {
  const shares = definition({
    body: [
      {
        id: 'huts',
        name: 'hut',
        rows: { entity: 'hut' },
        detail: band(10, field('h', 'name')),
        sort: [{ by: 'SUBSTITUTE(name; "a"; "b")' }],
      },
    ],
    footer: band(8, field('n', 'COUNT(hut)')),
  });
  let read = 0;
  const { pages, result } = await run({
    prepared: prepareReport(plan(shares), testBook),
    limits: { maxAhead: 1024 * 1024 },
    source: async function* () {
      for (; ; read += 10) yield Array.from({ length: 10 }, (_, i) => [1, `${'long name '.repeat(1000)}${read + i}`]);
    },
  });
  expect(read).toBeLessThan(200);
  expect(result.problems).toMatchObject([{ code: 'too-much-ahead', place: { drawer: 'huts' }, data: { limit: 1 } }]);
  const words = pages
    .flatMap((p) => p.marks)
    .flatMap((m) => (m.kind === 'text' ? [m.text] : []))
    .join(' ');
  expect(words).toContain('These rows take more than 1 MB');
  expect(words).toContain('#REF!');
  expect(words).not.toContain('long name');
});

it('an error of another kind is not swallowed', async () => {
  const broken = run({
    source: async function* () {
      yield [[1, 'a']];
      throw new Error('a bug');
    },
  });
  await expect(broken).rejects.toThrow('a bug');
});

it('regions tell a click the band and the rows behind it', async () => {
  const nested = definition({
    body: [
      {
        id: 'huts',
        name: 'hut',
        rows: { entity: 'hut' },
        drawers: [{ id: 'stays', name: 'stay', rows: { relation: 'stays' }, detail: band(10, field('g', 'guest')) }],
      },
    ],
  });
  const { pages } = await lay(nested, {
    hut: [{}, {}],
    stay: [
      { in: 1, guest: 'a' },
      { in: 2, guest: 'b' },
      { in: 2, guest: 'c' },
    ],
  });
  const regions = pages[0]!.marks.filter((m): m is RegionMark => m.kind === 'region');
  expect(regions.map((r) => `${r.band} ${r.rows}`)).toEqual([
    'stays/detail hut:#1/stay:#1',
    'stays/detail hut:#2/stay:#2',
    'stays/detail hut:#2/stay:#3',
  ]);
});

it('fields, pictures, lines and rectangles are drawn at their places in points', async () => {
  const pixel =
    'data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAIAAACQd1PeAAAADElEQVR4nGNgYGAAAAAEAAH2FzhVAAAAAElFTkSuQmCC';
  const drawn = definition({
    header: band(
      40,
      { kind: 'rectangle', id: 'r', x: 10, y: 0, width: 25.4, height: 12.7, fill: '#ff0000', radius: 1 },
      { kind: 'line', id: 'l', x: 0, y: 20, width: 100, height: 0, dash: 'dashed' },
      { kind: 'picture', id: 'p', x: 0, y: 20, width: 20, height: 10, source: pixel },
      { kind: 'picture', id: 'q', x: 0, y: 20, width: 20, height: 10, source: pixel, fit: 'stretch' },
      { kind: 'picture', id: 's', x: 0, y: 20, width: 20, height: 10, source: pixel, fit: 'fill', opacity: 0.5 },
      { kind: 'picture', id: 't', x: 0, y: 20, width: 20, height: 10, source: pixel, fit: 'real' },
      field('f', '"right"', { y: 30, width: 30, look: { align: 'right', background: '#eeeeee', padding: 1 } }),
    ),
  });
  const { pages } = await lay(drawn, {});
  const by = Object.fromEntries(pages[0]!.marks.map((m) => [`${m.item}/${m.kind}`, m]));
  const left = (15 * 72) / 25.4;
  expect(by['r/rectangle']).toMatchObject({
    x: left + (10 * 72) / 25.4,
    y: left,
    width: 72,
    height: 36,
    fill: '#ff0000',
  });
  expect(by['l/line']).toMatchObject({ kind: 'line', dash: [expect.any(Number), expect.any(Number)] });
  const whole = by['p/picture'] as { width: number; height: number };
  expect(whole.width).toBeCloseTo(whole.height);
  const stretched = by['q/picture'] as { width: number; height: number };
  expect(stretched.width).toBeCloseTo(stretched.height * 2);
  const box = { x: left, y: left + 20 * POINTS, width: 20 * POINTS, height: 10 * POINTS };
  const filled = by['s/picture'] as PictureMark;
  expect([filled.width, filled.height, filled.opacity]).toEqual([box.width, box.width, 0.5]);
  expect(filled.y + filled.window!.y).toBeCloseTo(box.y);
  expect(filled.window).toMatchObject({ width: box.width, height: box.height });
  const real = by['t/picture'] as PictureMark;
  expect([real.width, real.height, real.window]).toEqual([0.75, 0.75, undefined]);
  expect(real.x + 0.375).toBeCloseTo(box.x + box.width / 2);
  const text = by['f/text'] as { x: number; width: number };
  expect(text.x + text.width).toBeCloseTo(left + (29 * 72) / 25.4);
  expect(by['f/rectangle']).toMatchObject({ fill: '#eeeeee' });
});

/**
 * Ten times as many rows take at most thirty times as long to be laid out: work that goes with their square takes a hundred
 * times. The quickest of a few times counts, since a machine that does other things as well may be slow for one of them.
 */
const goesWithRows = async (lay: (count: number) => Promise<unknown>, count: number): Promise<void> => {
  const seconds = async (rows: number): Promise<number> => {
    const before = process.cpuUsage();
    await lay(rows);
    return process.cpuUsage(before).user / 1e6;
  };
  await lay(count);
  const few = await seconds(count);
  let many = await seconds(count * 10);
  for (let again = 0; again < 3 && many > Math.max(0.5, few * 30); again++)
    many = Math.min(many, await seconds(count * 10));
  expect(many).toBeLessThan(Math.max(0.5, few * 30));
};

it('a tree takes a time that goes with its rows, however many stand below one', async () => {
  const tree = definition({
    body: [{ id: 't', name: 'task', rows: { entity: 'task', tree: 'parts' }, detail: band(1, field('d', 'title')) }],
  });
  const tasks = (count: number): Rows => ({
    task: Array.from({ length: count }, (_, i) => ({
      id: i,
      part_of: i === 0 ? null : 0,
      title: `task ${i}`,
      hours: 1,
    })),
  });
  await goesWithRows((count) => lay(tree, tasks(count)), 2000);
});

it('page numbers that start anew take a time that goes with the pages', async () => {
  const anew = definition({
    body: [
      {
        id: 'huts',
        name: 'hut',
        rows: { entity: 'hut' },
        detail: { ...band(10, field('h', 'name')), pageBreak: 'between', restartPages: true },
      },
    ],
    pageFooter: band(8, field('n', 'page.part_number & "/" & page.part_count')),
  });
  const huts = (count: number): Rows => ({
    hut: Array.from({ length: count }, (_, i) => ({ id: i, name: `hut ${i}` })),
  });
  const laid = await lay(anew, huts(300));
  expect(laid.pages).toHaveLength(300);
  expect(JSON.stringify(laid.pages[250])).toContain('1/1');
  await goesWithRows((count) => lay(anew, huts(count)), 500);
});
