import { describe, expect, it } from 'vitest';
import { readDefinition } from '../definition/read.ts';
import { band, definition, field, lay, line, nest, plan, type Rows } from './huts.test-support.ts';

const huts = { id: 'huts', name: 'hut', rows: { entity: 'hut' }, detail: line('h', 'name') };
const stays = { id: 'stays', name: 'stay', rows: { entity: 'stay' }, detail: line('g', 'guest') };
const rows: Rows = {
  hut: [
    { id: 1, name: 'a' },
    { id: 2, name: 'b' },
  ],
  stay: [
    { id: 1, guest: 's1', nights: 2 },
    { id: 2, guest: 's2', nights: 5 },
  ],
};
const flat = async (json: Record<string, unknown>, given = rows) => (await lay(definition(json), given)).text.flat();

describe('several sets of rows in one report', () => {
  it('come one after the other, each with its own bands', async () => {
    const counted = { ...stays, footer: line('n', '"nights " & SUM(nights)') };
    expect(await flat({ body: [huts, counted] })).toEqual(['a', 'b', 's1', 's2', 'nights 7']);
  });

  it('are counted by the report’s header and footer: by the fields, by name, and none by mistake', async () => {
    const inner = { ...huts, drawers: [{ id: 'in', name: 'guests', rows: { relation: 'stays' } }] };
    const more: Rows = { ...rows, charge: [{ id: 1, amount: 3 }] };
    const charges = { id: 'charges', name: 'charge', rows: { entity: 'charge' } };
    const texts = await flat(
      {
        header: line('t', 'SUM(amount) & " ahead, " & COUNT(hut) & " huts"'),
        body: [inner, charges],
        footer: line('u', 'SUM(amount; charge) & " behind, " & COUNT(hut; hut) & " huts"'),
      },
      more,
    );
    expect([texts[0], texts.at(-1)]).toEqual(['3 ahead, 2 huts', '3 behind, 2 huts']);
    // Fields of the first set, and of the drawers inside it, win over those of the ones after it.
    const first = plan(definition({ body: [inner, stays], footer: line('t', 'SUM(nights)') }));
    expect(first.totals.map(({ counted }) => counted.drawer.name)).toEqual(['guests']);
    const apart = plan(definition({ body: [huts, charges], footer: line('t', 'SUM(LEN(hut.name) * amount)') }));
    expect(apart.problems.map((p) => p.code)).toEqual(['total-fields-apart']);
  });

  it('are counted by name from within one another, also where they come later', async () => {
    const share = { ...stays, detail: line('g', 'guest & " of " & COUNT(hut; hut)') };
    expect(await flat({ body: [{ ...huts, footer: line('f', 'SUM(nights; stay)') }, share] })).toEqual([
      'a',
      'b',
      '7',
      's1 of 2',
      's2 of 2',
    ]);
  });

  it('are counted with their own fields alone where they are named', () => {
    const codes = (formula: string, where: object) =>
      plan(definition({ body: [{ ...huts, ...where }, stays], footer: line('f', formula) })).problems.map(
        (p) => p.code,
      );
    expect(codes('SUM(nights; stay)', {})).toEqual([]);
    expect(codes('SUM(nights; hut)', {})).not.toEqual([]);
    const inside = (formula: string) => codes('1', { footer: line('in', formula), detail: line('row', formula) });
    expect(inside('SUM(nights; stay)')).toEqual([]);
    // A row of the set around is none of the rows that are counted.
    expect(inside('SUM(id * nights; stay)')).toEqual([]);
    expect(inside('SUM(LEN(name) * nights; stay)')).toHaveLength(2);
  });

  it('have pages whose header shows the row of the set that the page shows', async () => {
    const { text } = await lay(
      definition({
        pageHeader: line('p', 'IFBLANK(hut.name; "-") & IFBLANK(guest; "-")'),
        body: [
          { ...huts, detail: { ...line('h', 'name'), height: 200 } },
          { ...stays, detail: { ...line('g', 'guest'), height: 200 } },
        ],
      }),
      rows,
    );
    expect(text.slice(1).map(([header]) => header)).toEqual(['b-', '-s1', '-s2']);
  });

  it('stand side by side where they say so', async () => {
    const { pages, text } = await lay(
      definition({
        body: [
          { ...huts, beside: { x: 0, width: 60 } },
          { ...stays, beside: { x: 80, width: 60 } },
          { ...huts, id: 'again', name: 'again', detail: line('end', '"end " & name') },
        ],
      }),
      rows,
    );
    expect(pages).toHaveLength(1);
    expect(text[0]).toEqual(['a', 's1', 'b', 's2', 'end a', 'end b']);
  });

  it('are all there again for each row that nests them', async () => {
    const charges = { id: 'charges', name: 'charge', rows: { entity: 'charge' }, detail: line('c', 'kind') };
    const inner = definition({ body: [stays, charges] });
    const outer = definition({
      body: [{ ...huts, detail: band(12, field('h', 'name'), nest('n', { y: 6 })) }],
    });
    const given: Rows = {
      ...rows,
      stay: [
        { in: 1, id: 1, guest: 's1' },
        { in: 2, id: 2, guest: 's2' },
      ],
      charge: [{ in: 2, id: 1, kind: 'c1' }],
    };
    const { text } = await lay(outer, given, { n: inner });
    expect(text.flat()).toEqual(['a', 's1', 'b', 's2', 'c1']);
  });

  it('do not keep one another from being shown', async () => {
    const gone = { ...stays, rows: { entity: 'gone' } };
    const { text, result } = await lay(definition({ body: [gone, huts] }), rows);
    expect(text.flat()).toEqual(['a', 'b']);
    expect(result.complete).toBe(true);
    expect(plan(definition({ body: [gone, huts] })).problems.map((p) => [p.code, p.place.path])).toEqual([
      ['unknown-entity', 'body/0/rows'],
    ]);
  });
});

describe('a set of rows on pages of its own', () => {
  const A4 = { portrait: [595, 842], landscape: [842, 595] };
  const landscape = { paper: 'A4', orientation: 'landscape' };
  const pagesOf = async (json: Record<string, unknown>) => {
    const { pages, text } = await lay(definition(json), rows);
    return pages.map(({ width, height }, i) => ({ size: [Math.round(width), Math.round(height)], text: text[i] }));
  };
  const head = (id: string, words: string) => line(id, `"${words} " & page.number & "/" & page.count`);

  it('begins with its paper, header and footer; what follows goes on there', async () => {
    const wide = {
      ...stays,
      page: landscape,
      pageHeader: head('wide', 'wide'),
      pageFooter: line('f', 'COUNTA(guest)'),
    };
    const more = { ...huts, id: 'again', name: 'again', detail: line('more', '"again " & name') };
    const body = [huts, wide, more];
    expect(await pagesOf({ pageHeader: head('p', 'page'), body, footer: line('end', '"end"') })).toEqual([
      { size: A4.portrait, text: ['page 1/2', 'a', 'b'] },
      { size: A4.landscape, text: ['wide 2/2', 's1', 's2', 'again a', 'again b', 'end', '2'] },
    ]);
  });

  it('goes back to the paper of the report, with the bands that the report has on its pages', async () => {
    const back = { ...huts, id: 'back', name: 'back', detail: line('b', '"back " & name'), page: { paper: 'A4' } };
    const body = [{ ...stays, page: landscape, pageHeader: head('w', 'wide') }, back];
    expect(await pagesOf({ pageHeader: head('p', 'page'), body })).toEqual([
      { size: A4.landscape, text: ['wide 1/2', 's1', 's2'] },
      { size: A4.portrait, text: ['page 2/2', 'back a', 'back b'] },
    ]);
  });

  it('leaves no empty page before it, and parts from a report header', async () => {
    const wide = { ...stays, page: landscape };
    expect((await pagesOf({ body: [wide] })).map(({ size }) => size)).toEqual([A4.landscape]);
    expect(await pagesOf({ header: line('t', '"title"'), body: [wide] })).toEqual([
      { size: A4.portrait, text: ['title'] },
      { size: A4.landscape, text: ['s1', 's2'] },
    ]);
    // Rows that fill a page to its end leave none behind either.
    const full = { ...huts, detail: { ...line('h', 'name'), height: 267 } };
    expect((await pagesOf({ body: [full, wide] })).map(({ text }) => text)).toEqual([['a'], ['b'], ['s1', 's2']]);
  });

  it('gives its bands the width of its paper, also those of the report', () => {
    const at = (x: number) => ({ ...band(5, field('far', '"far"', { x, width: 20 })) });
    const codes = (json: Record<string, unknown>) => plan(definition(json)).problems.map((p) => p.code);
    expect(codes({ body: [{ ...huts, page: landscape, detail: at(240) }] })).toEqual([]);
    expect(codes({ body: [{ ...huts, detail: at(240) }] })).toEqual(['outside-page']);
    expect(codes({ body: [{ ...huts, page: landscape }], footer: at(240) })).toEqual([]);
    const margins = { top: 15, bottom: 15, left: 150, right: 150 };
    expect(codes({ body: [{ ...huts, page: { ...landscape, margins } }] })).toContain('no-columns-left');
  });

  it('cannot begin beside another, or inside one', async () => {
    const beside = { x: 0, width: 60 };
    const body = [
      { ...huts, beside },
      { ...stays, beside, page: landscape },
    ];
    expect((await pagesOf({ body })).map(({ size }) => size)).toEqual([A4.portrait]);
    // The first of those side by side can.
    const first = [
      { ...huts, id: 'top', name: 'top', detail: line('t', 'name') },
      { ...huts, beside, page: landscape },
      { ...stays, beside: { x: 80, width: 60 } },
    ];
    expect(await pagesOf({ body: first })).toEqual([
      { size: A4.portrait, text: ['a', 'b'] },
      { size: A4.landscape, text: ['a', 's1', 'b', 's2'] },
    ]);
    const inner = { id: 'in', name: 'in', rows: { relation: 'stays' }, page: landscape };
    const read = readDefinition({ gaveta: 2, name: 'Test', model: 'huts', body: [{ ...huts, drawers: [inner] }] });
    expect(read.ok).toBe(false);
  });
});

it('a definition of version 1, with one set or none, is read as one of today', () => {
  const read = (json: object) => readDefinition({ gaveta: 1, name: 'Old', model: 'huts', ...json });
  const old = read({ body: huts });
  expect(old.ok && [old.report.gaveta, old.report.body.map((d) => d.id)]).toEqual([2, ['huts']]);
  const bare = read({});
  expect(bare.ok && bare.report.body).toEqual([]);
});
