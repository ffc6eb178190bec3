import { expect, test } from 'vitest';
import { parameterSchema } from '../definition/schema.ts';
import { fieldSchema } from '../model/model.ts';
import { CalendarDate, Moment } from '../value/date.ts';
import { type DeliveryScope, factParameters, filledMessage, messageProblems, piecesOf } from './message.ts';
import { daysOf, PERIODS } from './periods.ts';
import { deliveredValues } from './values.ts';

const fields = [
  { name: 'region', label: 'Region', type: 'text' },
  { name: 'owed', label: 'Owed', type: 'number', format: '#,##0.00' },
].map((field) => fieldSchema.parse(field));
const parameters = [
  { name: 'season', label: 'Season', type: 'number' },
  { name: 'regions', label: 'Regions', type: 'choices' },
  { name: 'between', label: 'Between', type: 'dates' },
  { name: 'window', label: 'Window', type: 'window' },
  { name: 'day', label: 'Day', type: 'date' },
].map((one) => parameterSchema.parse(one));

const scope = (now = '2026-03-31T22:30:00Z'): DeliveryScope => ({
  fields,
  parameters: factParameters(parameters),
  report: { name: 'Ledger', language: 'en', timeZone: 'Europe/Lisbon', runAt: new Moment(Date.parse(now)) },
});
const row = ['Encosta Sul', 1234.5];

test('a text is cut at formulas in braces, and quotes in them may hold braces', () => {
  expect(piecesOf('Nights of {region}, {IF(a;"}";"{")} {{so}} {open')).toEqual([
    { words: 'Nights of ' },
    { formula: 'region', from: 11 },
    { words: ', ' },
    { formula: 'IF(a;"}";"{")', from: 21 },
    { words: ' {so} {open' },
  ]);
  expect(piecesOf('')).toEqual([]);
});

test('formulas of words show fields as their formats say, in the report’s language', () => {
  const facts = { report: 'Ledger', pages: 3, season: 2025 };
  expect(filledMessage('{report} {season}: {UPPER(region)} owes {owed}, {pages} pages', scope(), row, facts)).toBe(
    'Ledger 2025: ENCOSTA SUL owes 1,234.50, 3 pages',
  );
  expect(filledMessage('{owed / 0}', scope(), row, facts)).toBe('#DIV/0!');
});

test('what is wrong with a formula is said with its place in the text', () => {
  const [found] = messageProblems('Owed by {regoin}', scope());
  expect(found).toMatchObject({ code: 'unknown-name', place: { from: 9, to: 15 } });
  expect(messageProblems('Owed by {region} {', scope())).toEqual([]);
});

test('values come from formulas over the row and from stretches of the calendar, in the report’s zone', () => {
  // In Lisbon it is the 31st still, half past eleven.
  const asked = {
    season: { formula: 'YEAR(date) - 1' },
    regions: { formula: 'region' },
    between: { period: 'last-month' as const },
    window: { period: 'today' as const },
    day: { period: 'yesterday' as const },
  };
  expect(deliveredValues(asked, parameters, scope(), row)).toEqual({
    values: {
      season: '2025',
      regions: 'Encosta Sul',
      between: '2026-02-01..2026-02-28',
      window: '2026-03-30T23:00:00.000Z..2026-03-31T23:00:00.000Z',
      day: '2026-03-30',
    },
    problems: [],
  });
  const given = { season: 2024, regions: ['a', 'b'] };
  expect(deliveredValues(given, parameters, scope()).values).toEqual(given);
});

test('a formula that fails and a stretch for what is no range are told', () => {
  const { problems } = deliveredValues(
    { season: { formula: '1/0' }, regions: { period: 'today' } },
    parameters,
    scope(),
    row,
  );
  expect(problems.map(({ code, place }) => [code, place.path])).toEqual([
    ['delivered-value-wrong', 'values/season'],
    ['delivered-period-wrong', 'values/regions'],
  ]);
});

test('a part whose row gives no value is refused, since the report would show the rows of all', () => {
  const asked = { regions: { formula: 'region' } };
  for (const blank of [null, ''])
    expect(deliveredValues(asked, parameters, scope(), [blank, 1]).problems).toMatchObject([
      { code: 'delivered-value-wrong', place: { path: 'values/regions' } },
    ]);
  // What is the same for all may be left open.
  expect(deliveredValues({ season: { formula: 'IF(TRUE;"";"")' } }, parameters, scope()).problems).toEqual([]);
});

test.each([
  ['2026-03-31', 'last-month', '2026-02-01..2026-02-28'],
  ['2028-03-31', 'last-month', '2028-02-01..2028-02-29'],
  ['2027-01-01', 'last-month', '2026-12-01..2026-12-31'],
  ['2027-01-01', 'last-quarter', '2026-10-01..2026-12-31'],
  ['2026-12-31', 'this-quarter', '2026-10-01..2026-12-31'],
  ['2027-01-03', 'this-week', '2026-12-28..2027-01-03'],
  ['2027-01-04', 'last-week', '2026-12-28..2027-01-03'],
  ['2027-01-01', 'last-year', '2026-01-01..2026-12-31'],
  ['2026-03-01', 'yesterday', '2026-02-28..2026-02-28'],
  ['2026-03-01', 'last-7-days', '2026-02-22..2026-02-28'],
  ['2026-12-01', 'this-month', '2026-12-01..2026-12-31'],
] as const)('on %s, %s is %s', (today, period, expected) => {
  const { from, to } = daysOf(period, CalendarDate.parse(today)!);
  expect(`${from}..${to}`).toBe(expected);
});

test('stretches that are over end before the day, and those that run hold it', () => {
  for (let day = 20_000; day < 20_800; day++)
    for (const period of PERIODS) {
      const { from, to } = daysOf(period, new CalendarDate(day));
      expect(from.day).toBeLessThanOrEqual(to.day);
      if (period.startsWith('this') || period === 'today') expect(from.day <= day && day <= to.day).toBe(true);
      else expect(to.day).toBeLessThan(day);
    }
});
