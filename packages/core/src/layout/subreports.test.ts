import { describe, expect, it } from 'vitest';
import { definition, lay, line, nest, plan, type Rows } from './huts.test-support.ts';

const STAYS: Rows = { stay: [{ guest: 'Noa' }, { guest: 'Rui' }, { guest: 'Ana' }] };
const stays = (more: Record<string, unknown>, report: Record<string, unknown> = {}) =>
  definition({ ...report, body: [{ id: 'stays', name: 'stay', rows: { entity: 'stay' }, ...more }] });

describe('subreports', () => {
  const inner = definition({
    name: 'Card',
    body: [
      {
        id: 'b',
        name: 'stay',
        rows: { entity: 'stay' },
        detail: line('c', '"card of " & guest'),
        footer: line('n', 'COUNT(stay)'),
      },
    ],
  });
  const sub = (rows: unknown) => nest('card', { y: 5, width: 80, height: 5, rows });

  it('show the current row of the report around, without rows of their own', async () => {
    const detail = { height: 10, items: [...line('d', 'guest').items, sub('current')] };
    expect((await lay(stays({ first: 2, detail }), STAYS, { card: inner })).text.flat()).toEqual([
      'Noa',
      'card of Noa',
      '1',
      'Rui',
      'card of Rui',
      '1',
    ]);
  });

  it('show the rows that a relation leads to', async () => {
    const detail = { height: 10, items: [...line('d', 'name').items, sub({ relation: 'stays' })] };
    const report = definition({ body: [{ id: 'huts', name: 'hut', rows: { entity: 'hut' }, detail }] });
    const rows = {
      hut: [{ name: 'Lago' }, { name: 'Sino' }],
      stay: [
        { in: 1, guest: 'Noa' },
        { in: 2, guest: 'Ana' },
      ],
    };
    expect((await lay(report, rows, { card: inner })).text.flat()).toEqual([
      'Lago',
      'card of Noa',
      '1',
      'Sino',
      'card of Ana',
      '1',
    ]);
    const wrong = definition({ ...inner, body: [{ ...inner.body[0]!, rows: { entity: 'charge' } }] });
    const laid = await lay(report, rows, { card: wrong });
    expect(laid.text.flat()).toEqual(['Lago', 'Sino']);
  });

  it('stand one below the other as they are drawn, what is between them too, and side by side where they are beside', async () => {
    const rows = {
      hut: [{ name: 'Lago' }],
      stay: [
        { in: 1, guest: 'Noa' },
        { in: 1, guest: 'Rui' },
      ],
    };
    const stays = { rows: { relation: 'stays' }, height: 5, width: 40 };
    const text = (id: string, y: number) => ({ kind: 'text', id, x: 0, y, width: 40, height: 5, content: [id] });
    const items = [
      nest('card', { ...stays, id: 'a', y: 0 }),
      text('between', 5),
      nest('card', { ...stays, id: 'b', y: 10 }),
      nest('card', { ...stays, id: 'c', x: 50, y: 10, height: 15 }),
      nest('card', { ...stays, id: 'd', x: 2, y: 20 }),
      text('below', 25),
    ];
    const report = definition({
      body: [{ id: 'huts', name: 'hut', rows: { entity: 'hut' }, detail: { height: 30, items } }],
    });
    const { pages } = await lay(report, rows, { card: inner });
    const marks = pages.flatMap((page) => page.marks).filter((mark) => mark.kind === 'text');
    const at = (words: string) => marks.filter((mark) => mark.text === words).map(({ x, y }) => ({ x, y }));
    const [a, b, c, d] = at('card of Noa').sort((one, other) => one.y - other.y || one.x - other.x) as [
      { x: number; y: number },
      { x: number; y: number },
      { x: number; y: number },
      { x: number; y: number },
    ];
    const [between] = at('between');
    const [below] = at('below');
    // Two rows and a footer of the first one come before what stands between, and nothing lies over anything.
    expect(between!.y).toBeGreaterThan(a.y + 2 * 5 * (72 / 25.4));
    expect(b.y).toBeGreaterThan(between!.y);
    expect(c.y).toBeCloseTo(b.y, 3);
    expect(c.x - b.x).toBeCloseTo(50 * (72 / 25.4), 3);
    // Three lines of the one above, and the room of 5 mm that is drawn between the two.
    expect(d.y - b.y).toBeCloseTo(20 * (72 / 25.4), 3);
    expect(d.x - b.x).toBeCloseTo(2 * (72 / 25.4), 3);
    expect(below!.y).toBeGreaterThan(d.y + 2 * 5 * (72 / 25.4));
    const places = marks.map(({ x, y }) => `${x.toFixed(2)} ${y.toFixed(2)}`);
    expect(new Set(places).size).toBe(places.length);
  });

  it('count as rows inside where only rows with some are wanted', async () => {
    const rows = {
      hut: [
        { id: 1, name: 'Lago' },
        { id: 2, name: 'Sino' },
        { id: 3, name: 'Brecha' },
      ],
      stay: [
        { in: 1, hut_id: 1, guest: 'Noa' },
        { in: 3, hut_id: 3, guest: 'Ana' },
      ],
    };
    const only = (item: object) => {
      const detail = { height: 10, items: [...line('d', 'name').items, item] };
      return definition({ body: [{ id: 'huts', name: 'hut', rows: { entity: 'hut' }, onlyWithInner: true, detail }] });
    };
    const cards = ['Lago', 'card of Noa', '1', 'Brecha', 'card of Ana', '1'];
    expect((await lay(only(sub({ relation: 'stays' })), rows, { card: inner })).text.flat()).toEqual(cards);
    const which = { name: 'which', label: 'Which', type: 'text' };
    const chosen = (filter: string) =>
      definition({ ...inner, parameters: [which], body: [{ ...inner.body[0]!, filter }] });
    const linked = nest('card', { y: 5, width: 80, height: 5, links: { which: 'name' } });
    const some = await lay(only(linked), rows, { card: chosen('guest = "Ana"') });
    expect(some.text.flat()).toEqual(['Brecha', 'card of Ana', '1']);
    // What it chooses its rows by is not known before it runs.
    const other = { ...which, name: 'other' };
    const unknown = definition({ ...chosen('guest = other'), parameters: [which, other] });
    const all = await lay(only(linked), rows, { card: unknown });
    expect(all.text.flat().filter((text) => text !== '0')).toEqual(['Lago', 'Sino', 'Brecha']);
    expect(plan(only(linked), { card: unknown }).problems.map((p) => p.code)).toEqual(['inner-rows-unknown']);
  });
});
