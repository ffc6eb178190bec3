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
