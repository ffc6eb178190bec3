import { describe, expect, it } from 'vitest';
import { band, definition, field, lay, nest, type Rows } from './huts.test-support.ts';
import { POINTS } from './prepared.ts';

const rows: Rows = {
  hut: [{ name: 'Lago Frio' }, { name: 'Alminhas' }, { name: 'Sino' }],
  stay: [
    { in: 1, guest: 'Noa' },
    { in: 1, guest: 'Rui' },
    { in: 3, guest: 'Ana' },
  ],
  charge: [
    { in: 1, kind: 'bunk', amount: '28.10' },
    { in: 1, kind: 'linen', amount: '6.20' },
    { in: 2, kind: 'bunk', amount: null },
    { in: 3, kind: 'levy', amount: '0.05' },
  ],
};

const nested = (
  charges: Record<string, unknown>,
  stays: Record<string, unknown> = {},
  huts: Record<string, unknown> = {},
) => ({
  body: [
    {
      id: 'huts',
      name: 'hut',
      rows: { entity: 'hut' },
      ...huts,
      drawers: [
        {
          id: 'stays',
          name: 'stay',
          rows: { relation: 'stays' },
          ...stays,
          drawers: [{ id: 'charges', name: 'charge', rows: { relation: 'charges' }, ...charges }],
        },
      ],
    },
  ],
});

const huts = (count: number): Rows => ({ hut: Array.from({ length: count }, (_, i) => ({ name: `Hut ${i + 1}` })) });
const flat = (bands: Record<string, unknown>) => ({
  body: [{ id: 'huts', name: 'hut', rows: { entity: 'hut' }, ...bands }],
});

describe('drawers', () => {
  it('nest rows under their parents, in order, and leave parents without children in place', async () => {
    const report = definition(
      nested(
        { detail: band(5, field('c', 'hut.name & "/" & guest & "/" & kind')) },
        { detail: band(5, field('s', 'guest')), empty: band(5, field('e', 'hut.name & " has no stays"')) },
        { detail: band(5, field('h', 'name')) },
      ),
    );
    const { text, result } = await lay(report, rows);
    expect(text.flat()).toEqual([
      'Lago Frio',
      'Noa',
      'Lago Frio/Noa/bunk',
      'Lago Frio/Noa/linen',
      'Rui',
      'Lago Frio/Rui/bunk',
      'Alminhas',
      'Alminhas has no stays',
      'Sino',
      'Ana',
      'Sino/Ana/levy',
    ]);
    expect(result.rows).toBe(10);
  });

  it('total over the scope they stand in, before and after their rows, exactly', async () => {
    const total = (id: string) => field(id, 'SUM(amount)', { format: '0.00' });
    const report = definition({
      header: band(5, field('rh', '"all " & TEXT(SUM(amount); "0.00") & " in " & COUNT(charge)')),
      footer: band(5, field('rf', 'AVERAGE(amount)', { format: '0.0000' })),
      ...nested(
        { footer: band(5, total('cf')) },
        { detail: band(5, field('sd', 'guest & " " & TEXT(SUM(amount); "0.00")')), footer: band(5, total('sf')) },
        { detail: band(5, field('hd', 'name & " " & COUNT(stay)')), detailFooter: band(5, total('hf')) },
      ),
    });
    const { text } = await lay(report, rows);
    expect(text.flat()).toEqual([
      'all 34.35 in 4',
      'Lago Frio 2',
      'Noa 34.30',
      '34.30',
      'Rui 0.00',
      '0.00',
      '34.30',
      '34.30',
      'Alminhas 0',
      '0.00',
      'Sino 1',
      'Ana 0.05',
      '0.05',
      '0.05',
      '0.05',
      '11.4500',
    ]);
  });

  it('keep the first rows, and filter by what only the engine can compute', async () => {
    const report = definition(flat({ detail: band(5, field('h', 'name')), filter: 'LEFT(name; 1) <> "A"', first: 1 }));
    expect((await lay(report, rows)).text.flat()).toEqual(['Lago Frio']);
  });

  it('show the error at the item and the rest of the report', async () => {
    const report = definition(
      flat({
        detail: band(
          5,
          field('h', 'name'),
          field('bad', 'nmae', { x: 80 }),
          field('div', '1 / 0', { x: 150, width: 20 }),
        ),
      }),
    );
    expect((await lay(report, huts(1))).text.flat()).toEqual(['Hut 1', '#NAME?', '#DIV/0!']);
  });
});

describe('pages', () => {
  it('bear their header, footer and number, and show every row once', async () => {
    const report = definition({
      pageHeader: band(8, field('ph', 'report.name')),
      pageFooter: band(8, {
        kind: 'text',
        id: 'pf',
        x: 0,
        y: 2,
        width: 80,
        height: 5,
        content: ['Page ', { formula: 'page.number' }, ' of ', { formula: 'page.count' }],
      }),
      ...flat({ detail: band(10, field('h', 'name')) }),
    });
    const { text, result, pages } = await lay(report, huts(60));
    expect(result.pages).toBe(3);
    text.forEach((words, i) => {
      expect(words[0]).toBe('Test');
      expect(words.at(-1)).toBe(`Page ${i + 1} of 3`);
    });
    expect(text.flatMap((words) => words.slice(1, -1))).toEqual(huts(60).hut!.map((h) => h.name));
    for (const page of pages)
      for (const mark of page.marks) expect(mark.y).toBeLessThanOrEqual(page.height - 15 * POINTS);
  });

  it('are not filled by a drawer that holds nothing yet, nor by rows without anything in them', async () => {
    const empty = (height: number) => ({ height, items: [] });
    const many = huts(600);
    const added = definition(flat({ header: empty(8), detail: empty(8), footer: empty(8) }));
    expect((await lay(added, many)).pages).toHaveLength(1);
    const framed = definition(flat({ header: band(8, field('cap', '"Huts"')), detail: empty(8) }));
    expect((await lay(framed, many)).text).toEqual([['Huts']]);
    // Empty bands of a drawer that shows something are its spacing, and a coloured one is seen.
    const spaced = definition(flat({ detail: band(8, field('h', 'name')), footer: empty(300) }));
    expect((await lay(spaced, huts(1))).pages).toHaveLength(2);
    const coloured = definition(flat({ detail: { ...empty(8), background: '#eeeeee' } }));
    expect((await lay(coloured, many)).pages.length).toBeGreaterThan(10);
  });

  it('never leave a header alone at the bottom, and repeat the one that is wanted on every page', async () => {
    const report = definition(
      flat({
        header: { ...band(8, field('cap', '"Caption"')), everyPage: true },
        detail: band(50, field('h', 'name')),
      }),
    );
    const { text } = await lay(report, huts(7));
    expect(text).toEqual([
      ['Caption', 'Hut 1', 'Hut 2', 'Hut 3', 'Hut 4', 'Hut 5'],
      ['Caption', 'Hut 6', 'Hut 7'],
    ]);
    const after = definition(
      flat({
        header: { ...band(8, field('cap', '"Caption"')), everyPage: true },
        detail: band(50, field('h', 'name')),
      }),
    );
    const second = { ...after, header: { height: 240, items: [] } };
    expect((await lay(second, huts(6))).text).toEqual([
      [],
      ['Caption', 'Hut 1', 'Hut 2', 'Hut 3', 'Hut 4', 'Hut 5'],
      ['Caption', 'Hut 6'],
    ]);
    const inner = definition(
      nested(
        { header: band(20, field('cap', '"Charges"')), detail: band(140, field('k', 'kind')) },
        { detail: band(80, field('g', 'guest')) },
      ),
    );
    const { text: pages } = await lay(inner, {
      hut: [{ name: 'x' }],
      stay: [
        { in: 1, guest: 'Noa' },
        { in: 1, guest: 'Rui' },
      ],
      charge: [
        { in: 1, kind: 'bunk' },
        { in: 2, kind: 'levy' },
      ],
    });
    expect(pages).toEqual([
      ['Noa', 'Charges', 'bunk'],
      ['Rui', 'Charges', 'levy'],
    ]);
  });

  it('break between rows without an empty first page', async () => {
    const report = definition(flat({ detail: { ...band(10, field('h', 'name')), pageBreak: 'between' } }));
    expect((await lay(report, huts(3))).text).toEqual([['Hut 1'], ['Hut 2'], ['Hut 3']]);
  });

  it('grow with their text, move what stands below, and split a band taller than a page between lines', async () => {
    const long = 'below the ridge '.repeat(900);
    const report = definition(
      flat({ detail: band(12, field('d', 'name', { width: 40 }), field('under', '"after"', { y: 6 })) }),
    );
    const { text, pages } = await lay(report, { hut: [{ name: long.trim() }] });
    expect(pages.length).toBeGreaterThan(2);
    const words = text.flat();
    expect(words.pop()).toBe('after');
    expect(words.join(' ').replace(/\s+/g, ' ')).toBe(long.trim());
    for (const page of pages) for (const mark of page.marks) expect(mark.y).toBeLessThan(page.height - 15 * POINTS + 1);
  });
});

describe('subreports', () => {
  const stays = definition({
    parameters: [{ name: 'hut', label: 'Hut', type: 'number', required: true }],
    body: [
      {
        id: 'inner',
        name: 'stay',
        rows: { entity: 'stay' },
        filter: 'hut_id = hut',
        detail: band(30, field('g', 'guest & " of " & hut')),
        footer: band(6, field('n', 'COUNT(stay)')),
      },
    ],
  });
  const sub = (id: string, x: number) => nest('stays', { id, x, y: 6, width: 80, height: 10, links: { hut: 'id' } });
  const outer = definition(
    flat({
      detail: band(
        20,
        field('h', 'name'),
        sub('left', 0),
        sub('right', 90),
        field('below', '"end of " & name', { y: 16 }),
      ),
    }),
  );
  const data: Rows = {
    hut: [
      { id: 7, name: 'Lago' },
      { id: 9, name: 'Sino' },
    ],
    stay: [
      ...Array.from({ length: 10 }, (_, i) => ({ in: 1, hut_id: 7, guest: `G${i}` })),
      { in: 2, hut_id: 9, guest: 'Ana' },
    ],
  };

  it('run side by side over pages, and what stands below follows the longest', async () => {
    const { text } = await lay(outer, data, { stays });
    expect(text.flat().filter((w) => w.startsWith('G3'))).toEqual(['G3 of 7', 'G3 of 7']);
    expect(text.flat().slice(-6)).toEqual(['Sino', 'Ana of 9', 'Ana of 9', '1', '1', 'end of Sino']);
    expect(text.length).toBe(2);
    expect(text[1]!.indexOf('end of Lago')).toBeGreaterThan(text[1]!.lastIndexOf('G9 of 7'));
  });

  it('take what stands above them along to a page with room for their first rows', async () => {
    const spaced = (height: number) => ({ ...outer, header: { height, items: [] } });
    for (const height of [180, 200, 215, 230, 240, 250, 260]) {
      const { text } = await lay(spaced(height), data, { stays });
      const page = text.findIndex((words) => words.includes('Lago'));
      expect([height, text[page]!.includes('G0 of 7')]).toEqual([height, true]);
    }
  });

  it('that miss or run in a circle leave the rest of the report standing', async () => {
    const { text } = await lay(outer, data, {});
    expect(text.flat()).toContain('end of Sino');
    const loop = definition({
      name: 'Loop',
      ...flat({ detail: band(20, field('h', 'name'), { ...sub('again', 0), report: 'loop', links: {} }) }),
    });
    const laid = await lay(loop, huts(2), { loop });
    expect(laid.text.flat()).toContain('Hut 2');
  });
});
