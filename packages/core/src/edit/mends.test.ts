import { describe, expect, it } from 'vitest';
import { planReport } from '../data/plan.ts';
import { band, definition, field, hutModel, lay, nest, plan } from '../layout/huts.test-support.ts';
import { phrase, saidValue } from '../problems/phrases.ts';
import { designChecks, overlapsOn, slowFormulas } from './checks.ts';
import { applyEdit } from './edit.ts';
import { linksFor } from './links.ts';
import { mendFor } from './mends.ts';

const context = { models: [hutModel], report: () => null };
const huts = (more: Record<string, unknown>, report: Record<string, unknown> = {}) =>
  definition({ ...report, body: [{ id: 'huts', name: 'hut', rows: { entity: 'hut' }, ...more }] });

/** Mends everything that can be; gives what is left and what was done. */
const mendAll = (report: ReturnType<typeof definition>) => {
  let now = report;
  const done: string[] = [];
  for (let i = 0; i < 20; i++) {
    const found = [...plan(now).problems, ...designChecks(now)]
      .map((p) => mendFor(now, p, context))
      .find((m) => m !== null);
    if (!found) break;
    done.push(found.words);
    now = applyEdit(now, found.edit);
  }
  return { report: now, done, left: [...plan(now).problems, ...designChecks(now)].map((p) => p.code) };
};

const inner = definition({
  name: 'Stays',
  parameters: [
    { name: 'hut_id', label: 'Hut', type: 'number', required: true },
    { name: 'name', label: 'Name', type: 'date' },
    { name: 'guest', label: 'Guest', type: 'text' },
    { name: 'span', label: 'Span', type: 'dates' },
  ],
});
const nesting = (links: Record<string, string>, report: Record<string, unknown> = {}) =>
  huts(
    {
      detail: band(9, nest('inner', { links })),
      drawers: [{ id: 'stays', name: 'stay', rows: { relation: 'stays' }, detail: band(5, field('b', 'guest')) }],
    },
    report,
  );
const nested = { models: [hutModel], report: (id: string) => (id === 'inner' ? inner : null) };

describe('links to a nested report', () => {
  it('are matched by name and type: with one row, of its own drawer, a parameter around', () => {
    const at = { drawer: 'huts', band: 'detail' } as const;
    const links = (report: ReturnType<typeof definition>) => linksFor(report, at, inner.parameters, nested);
    // The name is a text here and a date there; guests are many.
    expect(links(nesting({}))).toEqual({ hut_id: 'id' });
    const around = [
      { name: 'span', label: 'Days', type: 'dates' },
      { name: 'who', label: 'Guest', type: 'text' },
    ];
    expect(links(nesting({}, { parameters: around }))).toEqual({ hut_id: 'id', guest: 'who', span: 'span' });
    const changed = [{ name: 'span', label: 'Span', type: 'text' }];
    expect(links(nesting({}, { parameters: changed }))).toEqual({ hut_id: 'id' });
    const stays = { drawer: 'stays', band: 'detail' } as const;
    expect(linksFor(nesting({}), stays, inner.parameters, nested)).toEqual({ hut_id: 'hut_id', guest: 'guest' });
  });

  it('are refused when their type does not fit, and mended when one is missing', () => {
    const wrong = plan(nesting({ hut_id: 'name' }), { inner }).problems;
    expect(wrong).toMatchObject([
      {
        code: 'wrong-type',
        place: { item: 's', path: 'body/0/detail/items/0/links/hut_id' },
        data: {
          where: phrase('link-of', { name: 'hut_id' }),
          expected: phrase('type-number'),
          given: phrase('type-text'),
        },
      },
    ]);
    const [missing] = plan(nesting({}), { inner }).problems;
    const mend = mendFor(nesting({}), missing!, nested);
    expect(mend).toMatchObject({ words: 'link', data: { name: 'hut_id' } });
    expect(plan(applyEdit(nesting({}), mend!.edit), { inner }).problems).toEqual([]);
  });
});

describe('quick mends', () => {
  it('write the name that was meant, outside of quotes, wherever the item says it', () => {
    const wrong = huts({
      detail: band(
        5,
        field('a', 'UPPER(nmae) & "nmae"', { showIf: 'nmae <> ""', highlights: [{ when: 'nmae = "x"', hide: true }] }),
      ),
    });
    const { report, left } = mendAll(wrong);
    expect(left).toEqual([]);
    expect(report.body[0]!.detail!.items[0]).toMatchObject({
      formula: 'UPPER(name) & "nmae"',
      showIf: 'name <> ""',
      highlights: [{ when: 'name = "x"' }],
    });
  });

  it('mend filters, sorts and groups of a drawer too', () => {
    const wrong = huts({ filter: 'nmae <> ""', sort: [{ by: 'nmae' }], detail: band(5, field('a', 'name')) });
    const { report, left } = mendAll(wrong);
    expect([report.body[0]!.filter, report.body[0]!.sort![0]!.by, left]).toEqual(['name <> ""', 'name', []]);
  });

  it('take a total where many rows were meant', () => {
    const wrong = huts({
      detail: band(5, field('a', 'nights')),
      drawers: [{ id: 's', name: 'stay', rows: { relation: 'stays' }, detail: band(5, field('b', 'guest')) }],
    });
    expect(mendAll(wrong)).toMatchObject({ done: ['total'], left: [] });
  });

  it('bring items inside the page, add bands, drop styles, and remove unused parameters', () => {
    const wrong = huts(
      {
        detail: band(5, field('a', 'name', { x: 170, width: 60, style: 'Gone' })),
        drawers: [{ id: 's', name: 'stay', rows: { relation: 'stays' } }],
      },
      { parameters: [{ name: 'season', label: 'Season', type: 'number' }] },
    );
    const { report, done, left } = mendAll(wrong);
    expect(done.sort()).toEqual(['addBand', 'bringInside', 'dropStyle', 'removeParameter']);
    expect(left).toEqual([]);
    expect(report.body[0]!.detail!.items[0]).toMatchObject({ x: 120, width: 60 });
  });

  it('offer nothing where nothing is sure', () => {
    const wrong = huts({ detail: band(5, field('a', 'zzzzzz'), field('b', 'SUM(')) });
    expect(mendAll(wrong).done).toEqual([]);
  });
});

describe('checks', () => {
  it('find texts whose words lie over one another, and no boxes that merely do', async () => {
    const pairs = async (...items: unknown[]) => {
      const { pages } = await lay(huts({ detail: band(5, ...items) }), { hut: [{ id: 1, name: 'Lago' }] });
      return overlapsOn(pages).map((p) => [p.place.item, p.data.other]);
    };
    expect(await pairs(field('a', 'name'), field('b', 'id', { x: 40 }))).toEqual([]);
    expect(await pairs(field('a', 'name'), field('b', 'id', { x: 3 }))).toEqual([['b', 'a']]);
    expect(await pairs(field('a', 'name'), field('b', 'name', { look: { align: 'right' } }))).toEqual([]);
  });

  it('know a parameter that is used, in whatever formula', () => {
    const parameters = [{ name: 'least', label: 'Least', type: 'number' }];
    expect(designChecks(huts({ filter: 'id > least', detail: band(5) }, { parameters }))).toEqual([]);
    expect(designChecks(huts({ filter: 'id > leastwise', detail: band(5) }, { parameters }))).toHaveLength(1);
  });

  it('tell a drawer without rows, unless it has a band for that', () => {
    const rows = { huts: 0 };
    expect(designChecks(huts({ detail: band(5) }), { rows }).map((p) => p.code)).toEqual(['drawer-without-rows']);
    expect(designChecks(huts({ detail: band(5), empty: band(5) }), { rows })).toEqual([]);
  });
});

describe('slow formulas', () => {
  const slow = (report: ReturnType<typeof definition>, count: number) => {
    const made = planReport(report, { ...context, rowsFromDatabase: true });
    return slowFormulas(made, { huts: count, stays: count }).map((p) => [saidValue(p.data.where!), p.place.path]);
  };
  const report = (filter: string, by: string) =>
    huts({
      filter,
      sort: [{ by }],
      detail: band(5, field('a', by === 'name' ? 'SUM(nights)' : 'SUM(LEN(PROPER(guest)))')),
      drawers: [{ id: 'stays', name: 'stay', rows: { relation: 'stays' }, detail: band(5, field('b', 'guest')) }],
    });

  it('are told of where they decide on many rows, and what a database knows is not', () => {
    expect(slow(report('name > "A"', 'name'), 5000)).toEqual([]);
    const wrong = report('PROPER(name) = name', 'PROPER(name)');
    expect(slow(wrong, 5000)).toEqual([
      ['the filter', 'body/0/filter'],
      ['the order', 'body/0/sort'],
      ['a total', 'body/0/drawers/0/detail'],
    ]);
    expect(slow(wrong, 100)).toEqual([]);
  });
});
