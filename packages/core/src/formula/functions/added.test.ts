import { expect, it } from 'vitest';
import { constantScope } from '../../model/scopes.ts';
import { CalendarDate, Moment } from '../../value/date.ts';
import { type DataType, FormulaError, List, type Value, valueText } from '../../value/value.ts';
import { checkFormula } from '../check.ts';
import { compileFormula } from '../compile.ts';
import { type AddedFunction, addedFunctions, defineFunction, type PlainValue } from './added.ts';
import { plainContext } from './context.ts';

const report = { name: 'Huts', language: 'pt-PT', timeZone: 'Europe/Lisbon', runAt: new Moment(0) };
const worked = (added: AddedFunction, source: string): Value => {
  const functions = addedFunctions({ OWN: added });
  const checked = checkFormula(source, { ...constantScope([]), functions });
  if (!checked.ok) throw new Error(checked.problems.map(({ code }) => code).join());
  return compileFormula(checked.formula)({ ...plainContext(report), functions });
};
const about = { help: '', example: '' };
const giving = (gives: DataType, value: unknown): AddedFunction =>
  defineFunction({ takes: [], gives, ...about, run: () => value as PlainValue });

it('a function of a host’s own gets plain values, and what it gives is read by its type', () => {
  const seen: unknown[] = [];
  const all = defineFunction({
    takes: [
      ['text', 'text'],
      ['amount', 'number'],
      ['day', 'date'],
      ['sure', 'boolean'],
      ['rest', 'list'],
    ],
    gives: 'number',
    ...about,
    run: ([text, amount, day, sure, rest], { language, timeZone, runAt }) => {
      seen.push(text, amount, day, sure, rest, language, timeZone, runAt);
      return (amount ?? 0) * 3;
    },
  });
  expect(valueText(worked(all, 'OWN("a"; 12.5; DATE(2024; 2; 29); TRUE; {1; "b"})'))).toBe('37.5');
  expect(seen).toEqual(['a', 12.5, '2024-02-29', true, [1, 'b'], 'pt-PT', 'Europe/Lisbon', '1970-01-01T00:00:00.000Z']);
  expect(worked(giving('date', '2026-03-01'), 'OWN()')).toEqual(CalendarDate.parse('2026-03-01'));
  expect(worked(giving('boolean', true), 'OWN()')).toBe(true);
  expect(worked(giving('text', undefined), 'OWN()')).toBeNull();
});

it('numbers keep what counts: fifteen digits of a number, all of a text, and whole texts in where that is asked for', () => {
  expect(valueText(worked(giving('number', 0.1 + 0.2), 'OWN() + 0'))).toBe('0.3');
  expect(valueText(worked(giving('number', '123456789012345678.25'), 'OWN() + 0'))).toBe('123456789012345678.25');
  const exact = defineFunction({
    takes: [['amount', 'number']],
    gives: 'text',
    exact: true,
    ...about,
    run: ([amount]) => amount,
  });
  expect(worked(exact, 'OWN(123456789012345678.25)')).toBe('123456789012345678.25');
});

it('whatever it throws, or gives that is not of its type, is an error value that says so', () => {
  const thrown = defineFunction({
    takes: [],
    gives: 'text',
    ...about,
    run: () => {
      throw new Error('no rate for today');
    },
  });
  const error = worked(thrown, 'OWN()');
  expect(error).toBeInstanceOf(FormulaError);
  expect(JSON.stringify(error)).toContain('no rate for today');
  for (const [gives, value] of [
    ['number', Promise.resolve(1)],
    // Nobody hears of it: it must not end the process.
    ['number', Promise.reject(new Error('late'))],
    ['number', 'twelve'],
    ['text', 12],
    ['date', '29 February'],
    ['boolean', 'yes'],
    ['picture', 'hut.png'],
    ['text', {}],
  ] as const)
    expect(worked(giving(gives, value), 'OWN()'), `${gives} ${String(value)}`).toMatchObject({ code: '#VALUE!' });
  expect(worked(giving('number', Number.NaN), 'OWN()')).toMatchObject({ code: '#NUM!' });
});

it('many that give a promise which fails leave nothing behind that nobody owns', async () => {
  const unowned: unknown[] = [];
  const hear = (reason: unknown): void => void unowned.push(reason);
  process.on('unhandledRejection', hear);
  const late = defineFunction({
    takes: [],
    gives: 'number',
    ...about,
    run: () => Promise.reject(new Error('late')) as unknown as PlainValue,
  });
  for (let i = 0; i < 5; i++) expect(worked(late, 'OWN()')).toMatchObject({ code: '#VALUE!' });
  await new Promise(setImmediate);
  process.off('unhandledRejection', hear);
  expect(unowned).toEqual([]);
});

it('a mistake in how one is written is told with its name', () => {
  const good = { takes: [['a', 'number']], gives: 'text', ...about, run: () => '' };
  const told = (name: string, more: object): string => {
    try {
      addedFunctions({ [name]: { ...good, ...more } as unknown as AddedFunction });
      return '';
    } catch (error) {
      return (error as Error).message;
    }
  };
  expect(told('GOOD', {})).toBe('');
  expect(told('good', {})).toContain('“good”');
  expect(told('OWN', { takes: 'number' })).toContain('The function “OWN”: “takes” is a list');
  expect(told('OWN', { takes: [['a', 'money']] })).toContain('the type of “a”');
  expect(told('OWN', { gives: 'list' })).toContain('“gives” is one of');
  expect(told('OWN', { min: 3 })).toContain('“min” is more than “max”');
  expect(told('OWN', { max: 300 })).toContain('“max” is a whole number');
  expect(told('OWN', { takes: [], max: 2 })).toContain('does not name');
  expect(told('OWN', { run: 'a + 1' })).toContain('“run” is the function');
});

it('lists come as lists, also inside one another', () => {
  const joined = defineFunction({
    takes: [['all', 'list']],
    gives: 'text',
    ...about,
    run: ([all]) => JSON.stringify(all),
  });
  expect(worked(joined, 'OWN({1; 2.5; "c"})')).toBe('[1,2.5,"c"]');
  expect(new List([1, 'b']).toString()).toBe('1, b');
});
