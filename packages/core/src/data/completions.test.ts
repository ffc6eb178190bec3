import { expect, it } from 'vitest';
import { definition, hutModel } from '../layout/huts.test-support.ts';
import { completionsFor } from './completions.ts';

const report = definition({
  parameters: [{ name: 'season', label: 'Season', type: 'number' }],
  body: [
    {
      id: 'huts',
      name: 'hut',
      rows: { entity: 'hut' },
      groups: [{ name: 'initial', by: 'name', per: 'letter' }],
      drawers: [
        {
          id: 'stays',
          name: 'stay',
          rows: { relation: 'stays' },
          calculated: [{ name: 'long', label: 'Long stay', formula: 'nights > 7' }],
          drawers: [{ id: 'charges', name: 'charge', rows: { relation: 'charges' } }],
        },
      ],
    },
  ],
});
const offered = (address: Parameters<typeof completionsFor>[1]) =>
  completionsFor(report, address, { models: [hutModel], report: () => null });
const inserts = (address: Parameters<typeof completionsFor>[1], kind: string) =>
  offered(address).flatMap((c) => (c.kind === kind ? [c.insert] : []));

it('offers in a detail band its own fields bare, those around by name, and those inside for totals', () => {
  const fields = inserts({ drawer: 'stays', band: 'detail' }, 'field');
  expect(fields.slice(0, 3)).toEqual(['long', 'id', 'hut_id']);
  expect(fields).toEqual(expect.arrayContaining(['guest', 'hut.name', 'charge.amount']));
  expect(fields).not.toContain('hut.secret');
  expect(inserts({ drawer: 'stays', band: 'detail' }, 'scope')).toEqual(['stay', 'hut', 'report']);
});

it('offers in a footer the fields of its rows for totals, and in a group’s bands the group', () => {
  const fields = inserts({ drawer: 'stays', band: 'footer' }, 'field');
  expect(fields).toEqual(expect.arrayContaining(['name', 'stay.guest', 'charge.amount']));
  expect(fields).not.toContain('guest');
  expect(inserts({ drawer: 'huts', group: 'initial', band: 'header' }, 'group')).toEqual(['initial']);
  expect(inserts({ drawer: null, band: 'header' }, 'field')).toContain('charge.kind');
});

it('offers parameters, page values and every function with its signature and help', () => {
  const all = offered({ drawer: 'huts', band: 'detail' });
  expect(all).toEqual(
    expect.arrayContaining([
      expect.objectContaining({ kind: 'parameter', insert: 'season', type: 'number' }),
      expect.objectContaining({ kind: 'page', insert: 'page.count' }),
      expect.objectContaining({ insert: 'ROUND', label: 'ROUND(value; digits?)', type: 'number' }),
      expect.objectContaining({ insert: 'RUNNING', label: 'RUNNING(formula; scope?)' }),
      expect.objectContaining({ kind: 'total', insert: 'MEDIAN' }),
    ]),
  );
});
