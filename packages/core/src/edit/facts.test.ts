import { expect, it } from 'vitest';
import { band, definition, hutModel } from '../layout/huts.test-support.ts';
import { calculatedFields, formulaFacts } from './facts.ts';

const report = definition({
  footer: band(5),
  body: [
    {
      id: 'huts',
      name: 'hut',
      rows: { entity: 'hut' },
      groups: [{ name: 'letter', by: 'name', per: 'letter', footer: band(5) }],
      detail: band(5),
      detailFooter: band(5),
      footer: band(5),
      drawers: [{ id: 'stays', name: 'stay', rows: { relation: 'stays' }, detail: band(5), footer: band(5) }],
    },
  ],
});
const facts = (address: Parameters<typeof formulaFacts>[1], formula: string) =>
  formulaFacts(report, address, formula, { models: [hutModel], report: () => null });

it('tells what a formula gives and which rows a total counts, by where it stands', () => {
  expect(facts({ drawer: 'stays', band: 'detail' }, 'arrival')).toMatchObject({ type: 'date', total: null });
  const over = (address: Parameters<typeof formulaFacts>[1], formula = 'SUM(nights)') => {
    const { total } = facts(address, formula);
    return total && [total.over, total.drawer, total.group, total.outer];
  };
  expect(over({ drawer: 'stays', band: 'footer' })).toEqual(['set', 'stay', null, 'hut']);
  expect(over({ drawer: 'huts', band: 'detailFooter' })).toEqual(['row', 'hut', null, null]);
  expect(over({ drawer: 'huts', band: 'footer', group: 'letter' })).toEqual(['group', 'hut', 'letter', null]);
  expect(over({ drawer: null, band: 'footer' })).toEqual(['set', 'hut', null, null]);
  expect(over({ drawer: 'stays', band: 'footer' }, 'SUM(nights) * 2')).toBeNull();
});

it('says what is wrong and where', () => {
  const { type, problems } = facts({ drawer: 'stays', band: 'detail' }, '1 + nihgts');
  expect(type).toBeNull();
  expect(problems).toMatchObject([{ code: 'unknown-name', place: { from: 4, to: 10 } }]);
});

it('knows what calculated fields give', () => {
  const calculated = [
    { name: 'double', label: 'Twice', formula: 'nights * 2', format: '0' },
    { name: 'late', formula: 'arrival > DATE(2025; 7; 1)' },
    { name: 'next', formula: 'arrival + 1' },
    { name: 'wrong', formula: 'nihgts' },
  ];
  const body = { id: 'stays', name: 'stay', rows: { entity: 'stay' }, calculated, detail: band(5) };
  const found = calculatedFields(definition({ body: [body] }), { models: [hutModel], report: () => null });
  expect(found.get('stays')).toEqual([
    { name: 'double', label: 'Twice', type: 'number', format: '0' },
    { name: 'late', label: 'late', type: 'boolean' },
    { name: 'next', label: 'next', type: 'date' },
    { name: 'wrong', label: 'wrong', type: 'text' },
  ]);
});
