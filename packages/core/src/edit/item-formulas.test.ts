import { expect, it } from 'vitest';
import { band, definition, hutModel } from '../layout/huts.test-support.ts';
import { groupingCompletions, groupingProblems } from './item-formulas.ts';

const context = { models: [hutModel], report: () => null };
const item = {
  kind: 'crosstab',
  id: 'x',
  x: 0,
  y: 0,
  width: 100,
  height: 20,
  rows: { entity: 'stay' },
  down: [{ name: 'who', by: 'guest', caption: 'Guest' }],
  across: [],
  cells: [{ formula: 'SUM(nights)' }],
} as const;
const report = definition({ header: band(20, item), body: [] });
const FIELDS = [{ label: 'Nights', type: 'number' as const, formula: 'nights', of: 'Stays' }];

it('formulas of cells are offered the values of groups first, those of groups the fields alone', () => {
  const first = (isCell: boolean) =>
    groupingCompletions(report, isCell ? item.down : [], FIELDS)
      .slice(0, 2)
      .map(({ kind, insert }) => `${kind} ${insert}`);
  expect(first(true)).toEqual(['group who', 'field nights']);
  expect(first(false)[0]).toBe('field nights');
  expect(first(false)[1]).not.toContain('who');
});

it('functions that a host added are offered with their signature and help', () => {
  const run = () => null;
  const facts = { min: 1, max: 1, gives: 'number' as const, help: 'Nights in a hut.', example: '', run };
  const offered = groupingCompletions(report, [], FIELDS, { HUTNIGHTS: { takes: [['hut', 'text']], ...facts } });
  expect(offered.at(-1)).toEqual({
    kind: 'function',
    insert: 'HUTNIGHTS',
    label: 'HUTNIGHTS(hut)',
    type: 'number',
    detail: 'Nights in a hut.',
  });
});

it('what is wrong with a formula is told where it is typed, and nothing else of the crosstab', () => {
  const cell = (formula: string) =>
    groupingProblems(report, 'x', { cells: [{ formula }] }, 'cells/0', context).map(({ code }) => code);
  expect(cell('AVERAGE(nights)')).toEqual([]);
  expect(cell('SUM(nigths)')).toEqual(['unknown-name']);
  expect(cell('SUM(')).toEqual(['formula-syntax']);
  const by = (formula: string) =>
    groupingProblems(report, 'x', { down: [{ name: 'who', by: formula }] }, 'down/0/by', context).map(
      ({ code }) => code,
    );
  expect(by('LEFT(guest; 1)')).toEqual([]);
  expect(by('gest')).toEqual(['unknown-name']);
  const filter = (text: string) =>
    groupingProblems(report, 'x', { rows: { entity: 'stay', filter: text } }, 'filter', context).map(
      ({ code }) => code,
    );
  expect(filter('nights > 2')).toEqual([]);
  expect(filter('nights')).toEqual(['wrong-type']);
  expect(groupingProblems(report, 'none', {}, 'cells/0', context)).toEqual([]);
});
