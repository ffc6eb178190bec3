import { describe, expect, it } from 'vitest';
import type { Parameter } from '../definition/schema.ts';
import type { Field } from '../model/model.ts';
import { rowScope } from '../model/scopes.ts';
import type { Value } from '../value/value.ts';
import { checkFormula } from './check.ts';
import { compileFormula } from './compile.ts';
import { rowContext } from './formulas.test-support.ts';

const FIELDS: Field[] = [
  {
    name: 'status',
    label: 'Status',
    type: 'text',
    choices: [
      { value: 'booked', label: 'Booked' },
      { value: 'BOOKED', label: 'Booked twice' },
    ],
  },
  {
    name: 'door',
    label: 'Door',
    type: 'number',
    choices: [
      { value: '0', label: 'closed' },
      { value: '1.5', label: 'ajar' },
    ],
  },
  {
    name: 'paid',
    label: 'Paid',
    type: 'boolean',
    choices: [
      { value: 'true', label: 'paid' },
      { value: 'false', label: 'open' },
    ],
  },
  { name: 'note', label: 'Note', type: 'text' },
];
const PARAMETERS: Parameter[] = [
  { name: 'kind', label: 'Kind', type: 'choice', choices: [{ value: 'b', label: 'bunks alone' }] },
];

const value = (formula: string, row: Value[], kind: Value = null): Value => {
  const checked = checkFormula(formula, rowScope(FIELDS, PARAMETERS));
  if (!checked.ok) throw new Error(JSON.stringify(checked.problems));
  return compileFormula(checked.formula)({ ...rowContext(row), parameters: { kind } });
};

describe('LABELOF', () => {
  it('says what a coded value means, capitals and all', () => {
    expect(['booked', 'BOOKED', 'Booked', 'gone'].map((status) => value('LABELOF(status)', [status]))).toEqual([
      'Booked',
      'Booked twice',
      'Booked',
      'gone',
    ]);
    expect([0, 1.5, 7].map((door) => value('LABELOF(door)', [null, door]))).toEqual(['closed', 'ajar', 7]);
    expect([true, false].map((paid) => value('LABELOF(paid)', [null, null, paid]))).toEqual(['paid', 'open']);
  });

  it('gives a blank for a blank: it is neither nothing nor FALSE', () => {
    for (const name of ['status', 'door', 'paid', 'note'])
      expect(value(`LABELOF(${name})`, [null, null, null, null])).toBeNull();
  });

  it('takes parameters, and gives what has no choices as it is', () => {
    expect(['b', 'c', null].map((kind) => value('LABELOF(parameters.kind)', [], kind))).toEqual([
      'bunks alone',
      'c',
      null,
    ]);
    expect(value('LABELOF(note)', [null, null, null, 'as it is'])).toBe('as it is');
    expect(value('LABELOF(door + 1)', [null, 0])).toBe(1);
  });

  it('is a value like any other', () => {
    expect(value('"is " & UPPER(LABELOF(status))', ['booked'])).toBe('is BOOKED');
    expect(value('IF(LABELOF(door) = "closed"; 1; 2)', [null, 0])).toBe(1);
  });
});
