import { describe, expect, it } from 'vitest';
import { type Parameter, parameterSchema, type Report, reportSchema } from '../definition/schema.ts';
import { problemText } from '../problems/problem.ts';
import { Moment } from '../value/date.ts';
import { encodeValue, valueText } from '../value/value.ts';
import { joinChoices, splitChoices } from './given-values.ts';
import { fitsParameter, type ReadOptions, readParameters } from './parameters.ts';
import { momentAt, readMoment } from './windows.ts';

const NOW = Date.parse('2025-07-12T10:15:00Z');

const report = (parameters: object[], more: Partial<Report> = {}): Report =>
  reportSchema.parse({
    gaveta: 2,
    name: 'r',
    timeZone: 'Europe/Lisbon',
    parameters: parameters.map((p) => ({ label: 'P', ...p })),
    ...more,
  });

const read = (parameter: object, given?: unknown, options: ReadOptions = {}) => {
  const { values, problems } = readParameters(
    report([{ name: 'p', ...parameter }]),
    given === undefined ? {} : { p: given as never },
    { now: NOW, ...options },
  );
  const shown = Object.fromEntries(Object.entries(values).map(([name, value]) => [name, encodeValue(value)]));
  return { values: shown, problems: problems.map((p) => p.code), words: problems.map(problemText).join(' ') };
};

describe('a parameter’s value', () => {
  it.each<[object, unknown, unknown]>([
    [{ type: 'number' }, ' 12.50 ', '12.50'],
    [{ type: 'date' }, '2024-02-29', '2024-02-29'],
    [{ type: 'boolean' }, 'true', true],
    [{ type: 'boolean' }, false, false],
    [{ type: 'choice', choices: [{ value: 'a', label: 'A' }] }, 'a', 'a'],
    [{ type: 'choice', of: 'number' }, '7', 7],
    [{ type: 'choices' }, 'a,b', 'a, b'],
    [{ type: 'choices', of: 'number' }, [1, '2'], '1, 2'],
    [{ type: 'text' }, `'; drop table x`, `'; drop table x`],
  ])('%j takes %j', (parameter, given, value) => {
    expect(read(parameter, given)).toMatchObject({ values: { p: value }, problems: [] });
  });
  it.each<[object, unknown]>([
    [{ type: 'number' }, 'soon'],
    [{ type: 'date' }, '2023-02-29'],
    [{ type: 'boolean' }, 'yes'],
    [{ type: 'choice', choices: [{ value: 'a', label: 'A' }] }, 'b'],
    [{ type: 'choice', of: 'number' }, 'x'],
    [{ type: 'choices', choices: [{ value: 'a', label: 'A' }] }, 'a,b'],
    [{ type: 'text' }, ['a', 'b']],
    [{ type: 'dates' }, '2025-06-01'],
    [{ type: 'dates' }, '2025-06-02..2025-06-01'],
    [{ type: 'dates' }, '2025-06-31..'],
    [{ type: 'window' }, 'decade'],
    [{ type: 'window' }, 'toString'],
    [{ type: 'window' }, '2025-07-12T10:00..2025-07-12T10:00'],
    [{ type: 'window' }, '2025-07-12T25:00..'],
  ])('%j does not take %j', (parameter, given) => {
    expect(read(parameter, given).problems).toEqual(['wrong-parameter']);
  });
  it('is blank for all, or missing where it must be given', () => {
    for (const blank of [undefined, '', null, []]) {
      expect(read({ type: 'choices' }, blank)).toMatchObject({ values: { p: null }, problems: [] });
      expect(read({ type: 'number', required: true }, blank).problems).toEqual(['missing-parameter']);
    }
  });
});

describe('a stretch of days', () => {
  it('has ends, either of which may be open, and words', () => {
    expect(read({ type: 'dates' }, '2025-06-01..2025-09-30').values).toEqual({
      p: '1 Jun 2025 – 30 Sep 2025',
      'p.from': '2025-06-01',
      'p.to': '2025-09-30',
    });
    expect(read({ type: 'dates' }, '..2025-09-30').values).toMatchObject({ 'p.from': null, 'p.to': '2025-09-30' });
    expect(read({ type: 'dates' }).values).toEqual({ p: null, 'p.from': null, 'p.to': null });
  });
});

describe('a stretch of time', () => {
  it('ends now, or at the moment that the report says', () => {
    expect(read({ type: 'window' }, 'day').values).toEqual({
      p: 'Last 24 hours',
      'p.from': '2025-07-11T10:15:00.000Z',
      'p.to': '2025-07-12T10:15:00.000Z',
    });
    expect(read({ type: 'window', asOf: 'DATE(2025;3;30)' }, 'hour').values).toMatchObject({
      'p.to': '2025-03-30T00:00:00.000Z',
    });
  });
  it('is read in the report’s time zone, over a change of clocks too', () => {
    const { values } = read({ type: 'window' }, '2025-03-30..2025-03-31');
    // In Lisbon the clocks go forward at one in the morning.
    expect([values['p.from'], values['p.to']]).toEqual(['2025-03-30T00:00:00.000Z', '2025-03-30T23:00:00.000Z']);
    expect(readMoment('2025-07-12T08:30', 'Europe/Lisbon')!.toString()).toBe('2025-07-12T07:30:00.000Z');
    expect(readMoment('2025-07-12T08:30Z', 'Europe/Lisbon')!.toString()).toBe('2025-07-12T08:30:00.000Z');
    expect(momentAt(Math.floor(Date.parse('2025-10-26') / 86_400_000), 0, 'Europe/Lisbon').toString()).toBe(
      '2025-10-25T23:00:00.000Z',
    );
  });
  it('has names of the report’s own, with formulas for its ends', () => {
    const windows = [
      { value: 'season', label: 'This season', from: 'DATE(YEAR(TODAY());6;1)', until: 'DATE(YEAR(TODAY());10;1)' },
    ];
    expect(read({ type: 'window', windows }, 'season').values).toEqual({
      p: 'This season',
      'p.from': '2025-05-31T23:00:00.000Z',
      'p.to': '2025-09-30T23:00:00.000Z',
    });
    expect(read({ type: 'window', windows: [{ ...windows[0]!, from: 'nothing' }] }, 'season').problems).toContain(
      'unknown-name',
    );
  });
});

describe('what holds when nothing is given', () => {
  it('is the default, or what a formula works out, from parameters before it too', () => {
    expect(read({ type: 'number', default: 2025 }).values.p).toBe(2025);
    expect(read({ type: 'date', defaultFormula: 'DATE(YEAR(TODAY());6;1)' }).values.p).toBe('2025-06-01');
    expect(read({ type: 'dates', defaultFormula: 'TODAY() - 7', defaultUntil: 'TODAY()' }).values).toMatchObject({
      'p.from': '2025-07-05',
      'p.to': '2025-07-12',
    });
    const two = report([
      { name: 'year', type: 'number', default: 2024 },
      { name: 'first', type: 'date', defaultFormula: 'DATE(year;1;1)' },
    ]);
    expect(valueText(readParameters(two, {}).values.first!)).toBe('2024-01-01');
  });
  it('is a problem with words when its formula is wrong', () => {
    expect(read({ type: 'number', defaultFormula: '1 / 0' }).problems).toEqual(['wrong-default']);
    expect(read({ type: 'number', required: true, defaultFormula: 'nope' }).problems).toEqual([
      'unknown-name',
      'missing-parameter',
    ]);
  });
  it('is the sample at design time, and only then', () => {
    const parameter = { type: 'number', default: 1, sample: 9 };
    expect(read(parameter, undefined, { use: 'design' }).values.p).toBe(9);
    expect(read(parameter).values.p).toBe(1);
    expect(read(parameter, '5', { use: 'design' }).values.p).toBe(5);
  });
});

describe('a parameter of the host', () => {
  it('takes what the host set, and nothing from the reader', () => {
    const parameter = { type: 'number', fromHost: true };
    expect(read(parameter, undefined, { host: { p: 4 } }).values.p).toBe(4);
    const given = read(parameter, '5', { host: { p: 4 } });
    expect(given.values.p).toBe(4);
    expect(given.words).toContain('set by the application around');
  });
});

it('tells a name that no parameter has', () => {
  const { problems } = readParameters(report([{ name: 'season', type: 'number' }]), {
    saeson: 1,
    __proto__: 2,
  } as never);
  expect(problems.map(problemText).join(' ')).toContain('Did you mean season?');
});

it('checks a value as a form does, before anything is sent', () => {
  const form = { name: '', language: 'en', timeZone: 'UTC', parameters: [] };
  const parameter = (given: object): Parameter => parameterSchema.parse({ name: 'p', label: 'P', ...given });
  expect(fitsParameter(form, parameter({ type: 'number' }), 'x')).toBe(false);
  expect(fitsParameter(form, parameter({ type: 'number' }), '')).toBe(true);
  expect(fitsParameter(form, parameter({ type: 'number', required: true }), '')).toBe(false);
  expect(fitsParameter(form, parameter({ type: 'window' }), 'week')).toBe(true);
});

it('writes several choices so that they are read again, commas and all', () => {
  for (const list of [['a'], ['a, b', 'c'], ['Fonte da Água', 'x\\y']])
    expect(splitChoices(joinChoices(list))).toEqual(list);
  expect(splitChoices(' a , , b ')).toEqual(['a', 'b']);
  expect(new Moment(0).toString()).toBe('1970-01-01T00:00:00.000Z');
});
