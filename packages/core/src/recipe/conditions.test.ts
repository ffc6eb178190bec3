import { describe, expect, it } from 'vitest';
import type { Condition } from '../definition/recipe.ts';
import { checkFormula } from '../formula/check.ts';
import { compileFormula } from '../formula/compile.ts';
import { plainContext } from '../formula/functions/context.ts';
import { rowScope } from '../model/scopes.ts';
import { problemText } from '../problems/problem.ts';
import { CalendarDate, Moment } from '../value/date.ts';
import { List, type Value } from '../value/value.ts';
import { comparisonsFor, conditionFormula } from './conditions.ts';
import { models, parameters } from './stays.test-support.ts';

describe('a condition', () => {
  const { fields } = models[0]!.entities[0]!;
  const row: Record<string, Value> = {
    id: 7,
    hut_id: 1,
    status: 'Stayed "long"',
    nights: 3,
    arrival: CalendarDate.parse('2025-07-12'),
    booked: Moment.parse('2025-07-11T23:30:00Z'),
    paid: true,
    photo: null,
  };
  const holds = (condition: Condition, values: Record<string, Value> = {}): Value => {
    const checked = checkFormula(conditionFormula(condition, fields), rowScope(fields, parameters));
    if (!checked.ok) throw new Error(checked.problems.map(problemText).join(' '));
    return compileFormula(checked.formula)(
      plainContext({ name: '', timeZone: 'Europe/Lisbon', language: 'en', runAt: new Moment(0) }, values, [
        null,
        ...fields.map((f) => row[f.name] ?? null),
      ]),
    );
  };
  it.each<[Condition, boolean]>([
    [{ field: 'status', is: 'equal', to: { value: 'Stayed "long"' } }, true],
    [{ field: 'status', is: 'contains', to: { value: 'LONG' } }, true],
    [{ field: 'status', is: 'startsWith', to: { value: 'long' } }, false],
    [{ field: 'status', is: 'endsWith', to: { value: '"' } }, true],
    [{ field: 'status', is: 'oneOf', to: { values: ['x', 'Stayed "long"'] } }, true],
    [{ field: 'status', is: 'notOneOf', to: { values: ['x'] } }, true],
    [{ field: 'nights', is: 'between', to: { from: 3, to: 4 } }, true],
    [{ field: 'nights', is: 'oneOf', to: { values: [1, 2] } }, false],
    [{ field: 'nights', is: 'less', to: { field: 'id' } }, true],
    [{ field: 'arrival', is: 'greaterOrEqual', to: { value: '2025-07-12' } }, true],
    [{ field: 'arrival', is: 'between', to: { from: '2025-07-13', to: '2025-07-14' } }, false],
    [{ field: 'paid', is: 'equal', to: { value: true } }, true],
    [{ field: 'photo', is: 'blank' }, true],
    [{ field: 'nights', is: 'notBlank' }, true],
    [{ all: [] }, true],
    [{ any: [{ field: 'nights', is: 'equal', to: { value: 9 } }, { formula: 'nights = 3' }] }, true],
    [
      {
        all: [
          { field: 'nights', is: 'equal', to: { value: 3 } },
          { field: 'paid', is: 'equal', to: { value: false } },
        ],
      },
      false,
    ],
  ])('%j holds: %s', (condition, expected) => {
    expect(holds(condition)).toBe(expected);
  });
  it('asks a parameter, which asks for everything while it has no value', () => {
    const within = (field: string, parameter: string): Condition => ({ field, is: 'within', to: { parameter } });
    const day = (text: string) => CalendarDate.parse(text);
    expect(holds(within('arrival', 'season'))).toBe(true);
    expect(
      holds(within('arrival', 'season'), { 'season.from': day('2025-07-12'), 'season.to': day('2025-07-12') }),
    ).toBe(true);
    expect(holds(within('arrival', 'season'), { 'season.from': day('2025-07-13') })).toBe(false);
    // 23:30 in UTC is the next day in Lisbon.
    expect(
      holds(within('booked', 'season'), { 'season.from': day('2025-07-12'), 'season.to': day('2025-07-12') }),
    ).toBe(true);
    const at = (text: string) => Moment.parse(text);
    expect(
      holds(within('booked', 'shift'), {
        'shift.from': at('2025-07-11T23:30:00Z'),
        'shift.to': at('2025-07-11T23:31:00Z'),
      }),
    ).toBe(true);
    expect(holds(within('booked', 'shift'), { 'shift.to': at('2025-07-11T23:30:00Z') })).toBe(false);
    expect(holds(within('status', 'kinds'))).toBe(true);
    expect(holds(within('status', 'kinds'), { kinds: new List(['other']) })).toBe(false);
    expect(holds({ field: 'status', is: 'notOneOf', to: { parameter: 'kinds' } }, { kinds: new List(['other']) })).toBe(
      true,
    );
    expect(holds(within('status', 'wanted'))).toBe(true);
    expect(holds({ field: 'status', is: 'equal', to: { parameter: 'wanted' } }, { wanted: 'x' })).toBe(false);
  });
  it('offers for every type comparisons that can be said', () => {
    for (const field of fields) {
      for (const is of comparisonsFor(field.type)) {
        const to =
          is === 'between'
            ? { from: '2025-01-01', to: '2025-01-02' }
            : { value: field.type === 'number' ? 1 : '2025-01-01' };
        if (field.type === 'number' && is === 'between') continue;
        expect(
          checkFormula(
            conditionFormula({ field: field.name, is, to }, fields),
            rowScope(
              fields.map(({ hidden: _, ...f }) => f),
              parameters,
            ),
          ).ok,
          `${field.name} ${is}`,
        ).toBe(true);
      }
    }
  });
});
