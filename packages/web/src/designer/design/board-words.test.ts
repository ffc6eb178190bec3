import { type BandAddress, drawerEntities, type Item } from '@gaveta/core/internal';
import { expect, it } from 'vitest';
import { model, report } from '../office.test-support.ts';
import { formulaLabel, formulasOf } from './board-words.ts';

const t = ((key: string, { of = '' }: { of?: string } = {}) =>
  key === 'viewer.origin.total_SUM' ? `sum of ${of}` : key) as never;
const known = { t, report, model, entities: drawerEntities(report, model) };
const inStay: BandAddress = { drawer: 'stays', band: 'detail' };

it('fields are called as people see them, of the nearest rows first, totals after what they are', () => {
  const label = (formula: string) => formulaLabel(formula, inStay, known);
  expect(label('arrival')).toBe('Arrival');
  expect(label('SUM( hut_id )')).toBe('Sum of hut number');
  expect(label('home.name')).toBe('Home: Name');
  expect(label('hut.name')).toBe('Name');
  expect(label('season')).toBe('Season');
  // What is more than that stands as it is written.
  for (const formula of ['hut_id * 2', 'unknown', 'SUM(hut_id; report)', '"x"', 'ROUND(hut_id)', 'secret', ''])
    expect(label(formula)).toBe(formula);
});

it('the formulas of an item are those whose values it shows', () => {
  const place = { id: 'x', x: 0, y: 0, width: 1, height: 1 };
  const text = { kind: 'text', ...place, content: ['a ', { formula: 'nights' }, { text: 'b' }, { formula: 'beds' }] };
  expect(formulasOf(text as Item).map(({ formula }) => formula)).toEqual(['nights', 'beds']);
  expect(formulasOf({ kind: 'field', ...place, formula: 'nights' } as Item).length).toBe(1);
  expect(formulasOf({ kind: 'rectangle', ...place } as Item)).toEqual([]);
});
