import { expect, it } from 'vitest';
import { constantScope } from '../model/scopes.ts';
import { Moment } from '../value/date.ts';
import { type Value, valueText } from '../value/value.ts';
import { checkFormula } from './check.ts';
import { compileFormula } from './compile.ts';
import { type FunctionTable, plainContext } from './functions/context.ts';
import { describedFunctions, type FunctionFacts, fromDescribed } from './functions/described.ts';

const named = (run: (values: Value[]) => Value): FunctionTable[string] => ({
  takes: [['value', 'text']],
  min: 1,
  max: 1,
  gives: 'text',
  help: '',
  example: '',
  run,
});
const functions: FunctionTable = {
  TWICE: named(([value = null]) => `${valueText(value)}${valueText(value)}`),
  UPPER: named(() => 'taken over'),
};
const scope = { ...constantScope([]), functions };
const report = { name: '', language: 'en', timeZone: 'UTC', runAt: new Moment(0) };

const worked = (source: string, table: FunctionTable | undefined = functions): string => {
  const checked = checkFormula(source, scope);
  if (!checked.ok) throw new Error(checked.problems.map(({ code }) => code).join());
  return valueText(compileFormula(checked.formula)({ ...plainContext(report), functions: table }));
};

it('a further function is checked and worked out as those that Gaveta has', () => {
  expect(worked('TWICE("hut") & 1')).toBe('huthut1');
  expect(worked('TWICE(TWICE("a"))')).toBe('aaaa');
  expect(worked('twice(1 / 0)')).toBe('#DIV/0!');
  expect(() => worked('TWICE()')).toThrow('wrong-arguments');
  expect(() => worked('TWICE(1; 2)')).toThrow('wrong-arguments');
});

it('a further function takes no name of Gaveta’s own, and nothing that every object has is one', () => {
  expect(worked('UPPER("hut")')).toBe('HUT');
  expect(() => worked('CONSTRUCTOR("hut")')).toThrow('unknown-function');
});

it('a function that is worked out elsewhere is checked and offered here, and gives that it is not available', () => {
  const described = fromDescribed(JSON.parse(JSON.stringify(describedFunctions(functions))) as FunctionFacts[]);
  expect(Object.keys(described)).toEqual(['TWICE', 'UPPER']);
  expect(worked('TWICE("hut")', described)).toBe('#N/A');
  expect(() => worked('TWICE()', described)).toThrow('wrong-arguments');
});

it('a misspelt name is told of the function that may be meant', () => {
  const checked = checkFormula('TWIC("hut")', scope);
  expect(checked.ok || JSON.stringify(checked.problems[0]!.data.hint)).toContain('TWICE');
  expect(checkFormula('TWICE("hut")', constantScope([])).ok).toBe(false);
});

it('a formula holds a function by its name: a run without it shows so', () => {
  const checked = checkFormula('TWICE("hut")', scope);
  expect(checked.ok && JSON.parse(JSON.stringify(checked.formula))).toMatchObject({ kind: 'call', name: 'TWICE' });
  expect(worked('TWICE("hut")', {})).toBe('#NAME?');
});
