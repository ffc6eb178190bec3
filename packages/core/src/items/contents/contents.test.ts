import { describe, expect, it } from 'vitest';
import { band, definition, field, plan, rowsOf } from '../../layout/huts.test-support.ts';
import { testBook } from '../../layout/shipped.test-support.ts';
import type { Page, TextMark } from '../../page/page.ts';
import { runReport } from '../../run/run-report.ts';

const HUTS = Array.from({ length: 90 }, (_, i) => ({ id: i + 1, name: `Hut ${i + 1}` }));
const STAYS = HUTS.flatMap(({ id }) => [
  { in: id, id: id * 10, guest: `Guest of ${id}`, nights: 2 },
  { in: id, id: id * 10 + 1, guest: `Friend of ${id}`, nights: 1 },
]);

const heading = (id: string, formula: string, outline: number) => ({
  kind: 'text',
  id,
  x: 0,
  y: 0,
  width: 100,
  height: 6,
  content: [{ formula }],
  outline,
});
const contents = (more: object = {}) => ({
  kind: 'contents',
  id: 'list',
  x: 0,
  y: 10,
  width: 178,
  height: 20,
  ...more,
});

const report = (item: object, more: Record<string, unknown> = {}, detail: Record<string, unknown> = {}) =>
  definition({
    header: band(30, heading('title', '"Huts and their stays"', 1), item),
    pageFooter: band(5, field('page', 'page.number & " of " & page.count')),
    body: [
      {
        id: 'h',
        name: 'hut',
        rows: { entity: 'hut' },
        detail: { ...band(20, heading('hut', 'name', 1)), pageBreak: 'before', ...detail },
        drawers: [
          { id: 's', name: 'stay', rows: { relation: 'stays' }, detail: band(8, heading('guest', 'guest', 2)) },
        ],
      },
    ],
    ...more,
  });

const run = async (definition: ReturnType<typeof report>, rows = { hut: HUTS, stay: STAYS }) => {
  const pages: Page[] = [];
  const result = await runReport({
    plan: plan(definition),
    book: testBook,
    parameters: {},
    open: () => ({ source: rowsOf(rows) }),
    onPage: (page) => void pages.push(page),
  });
  for (const { page, marks } of result.late) pages[page - 1]!.marks.push(...marks);
  return { pages, result };
};

/** The lines of the contents: title and number. */
const listed = (pages: readonly Page[]): [string, number][] => {
  const lines = new Map<string, TextMark[]>();
  for (const { number, marks } of pages)
    for (const mark of marks) {
      if (mark.kind !== 'text' || mark.item !== 'list' || mark.as === 'artifact') continue;
      const key = `${number} ${Math.round(mark.y)}`;
      lines.set(key, [...(lines.get(key) ?? []), mark]);
    }
  return [...lines.values()].map((line) => {
    const [title, number] = line.sort((a, b) => a.x - b.x).map(({ text }) => text);
    return [title!, Number(number)];
  });
};

/** Where each heading stands in truth. */
const found = (pages: readonly Page[], deepest: number): [string, number][] =>
  pages.flatMap(({ number, marks }) =>
    marks.flatMap((mark): [string, number][] =>
      mark.kind === 'outline' && mark.level <= deepest ? [[mark.title, number]] : [],
    ),
  );

describe('contents', () => {
  it('list every heading with its page, however many pages they take themselves', async () => {
    for (const levels of [1, 2]) {
      const { pages, result } = await run(report(contents({ levels })));
      const own = pages.filter(({ marks }) => marks.some((mark) => mark.item === 'list')).length;
      expect(own).toBeGreaterThan(levels);
      expect(listed(pages)).toEqual(found(pages, levels));
      expect(listed(pages)).toHaveLength(levels === 1 ? 91 : 271);
      expect(result.pages).toBe(pages.length);
    }
  });

  it('lead to the places that they name', async () => {
    const { pages } = await run(report(contents({ levels: 1 })));
    // Each comes twice: for files, and again over the words, which are set last.
    const all = pages.flatMap(({ marks }) => marks.flatMap((mark) => (mark.kind === 'link' ? [mark.to] : [])));
    const links = all.filter((to, i) => all.findIndex((other) => JSON.stringify(other) === JSON.stringify(to)) === i);
    expect(all).toHaveLength(links.length * 2);
    const places = new Map(
      pages.flatMap(({ number, marks }) =>
        marks.flatMap((mark): [string, number][] => (mark.kind === 'anchor' ? [[mark.name, number]] : [])),
      ),
    );
    expect(links.map((to) => ('anchor' in to ? places.get(to.anchor) : null))).toEqual(
      listed(pages).map(([, page]) => page),
    );
  });

  it('may show the numbers of a numbering that restarts, and stand at the end', async () => {
    const restarting = report(contents({ levels: 1, numbers: 'part' }), {}, { restartPages: true });
    expect(
      new Set(
        listed((await run(restarting)).pages)
          .slice(1)
          .map(([, page]) => page),
      ),
    ).toEqual(new Set([1]));
    const last = report({ ...heading('end', '"End"', 1) }, { footer: band(30, contents({ levels: 1 })) });
    const { pages } = await run(last);
    expect(listed(pages)).toEqual(found(pages, 1));
  });

  it('are told of where there is nothing to list, and where they cannot stand', async () => {
    const bare = definition({ header: band(30, contents()), body: [] });
    expect(plan(bare).problems.map(({ code, place }) => [code, place.item])).toEqual([['contents-of-nothing', 'list']]);
    expect((await run(bare)).pages).toHaveLength(1);
    const paged = definition({ pageHeader: band(30, contents()), header: band(9, heading('t', '"T"', 1)), body: [] });
    expect(plan(paged).problems.map(({ code }) => code)).toEqual(['contents-in-page-band']);
  });

  it('keep nothing of the pages that were laid out to count them', async () => {
    const seen: number[] = [];
    const shown: string[] = [];
    await runReport({
      plan: plan(report(contents())),
      book: testBook,
      parameters: {},
      open: () => ({ source: rowsOf({ hut: HUTS.slice(0, 3), stay: [] }) }),
      onPage: ({ number }) => void seen.push(number),
      onPicture: ({ hash }) => void shown.push(hash),
    });
    expect(seen).toEqual([1, 2, 3, 4]);
  });
});

it('a report that is laid out twice has its seconds once', async () => {
  const plain = plan(report(contents()));
  const options = { plan: plain, book: testBook, parameters: {}, onPage: () => {}, maxSeconds: 0.4 };
  const breathe = () => new Promise<void>((resolve) => setTimeout(resolve, 2));
  // Rows come slowly enough for each of the two to take most of that.
  const source = (level: Parameters<ReturnType<typeof rowsOf>>[0]) => {
    const rows = rowsOf({ hut: HUTS, stay: STAYS })(level);
    return (async function* () {
      for await (const batch of rows) {
        if (level.parent === null) await new Promise((resolve) => setTimeout(resolve, 3));
        yield batch;
      }
    })();
  };
  const { problems } = await runReport({ ...options, breathe, open: () => ({ source }) });
  expect(problems.map(({ code }) => code)).toContain('too-long');
  const whole = await runReport({ ...options, maxSeconds: 60, breathe, open: () => ({ source }) });
  expect(whole.problems).toEqual([]);
});
