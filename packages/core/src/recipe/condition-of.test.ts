import * as fc from 'fast-check';
import { expect, it } from 'vitest';
import type { Condition, Operand } from '../definition/recipe.ts';
import { parseFormula } from '../formula/parse.ts';
import type { Field } from '../model/model.ts';
import { conditionOf } from './condition-of.ts';
import { comparisonsFor, conditionFormula } from './conditions.ts';

const FIELDS: Field[] = [
  { name: 'status', label: 'Status', type: 'text' },
  { name: 'nights', label: 'Nights', type: 'number' },
  { name: 'arrival', label: 'Arrival', type: 'date' },
  { name: 'read_at', label: 'Read at', type: 'datetime' },
  { name: 'paid', label: 'Paid', type: 'boolean' },
  { name: 'hut.altitude', label: 'Hut: Altitude', type: 'number' },
];

it('reads the conditions that people write', () => {
  expect(conditionOf('AND(status = "stayed"; nights > -2.5)', FIELDS)).toEqual({
    all: [
      { field: 'status', is: 'equal', to: { value: 'stayed' } },
      { field: 'nights', is: 'greater', to: { value: -2.5 } },
    ],
  });
  expect(conditionOf('NOT(ONEOF(status; "a"; "b"))', FIELDS)).toEqual({
    field: 'status',
    is: 'notOneOf',
    to: { values: ['a', 'b'] },
  });
  expect(conditionOf('arrival >= parameters.season', FIELDS)).toEqual({
    field: 'arrival',
    is: 'greaterOrEqual',
    to: { parameter: 'season', evenBlank: true },
  });
  expect(conditionOf('OR(ISBLANK(parameters.season); arrival >= parameters.season)', FIELDS)).toEqual({
    field: 'arrival',
    is: 'greaterOrEqual',
    to: { parameter: 'season' },
  });
  expect(conditionOf('OR(ISBLANK(parameters.kinds); NOT(WITHIN(status; parameters.kinds)))', FIELDS)).toEqual({
    field: 'status',
    is: 'notOneOf',
    to: { parameter: 'kinds' },
  });
  expect(conditionOf('hut.altitude > 2000', FIELDS)).toEqual({
    field: 'hut.altitude',
    is: 'greater',
    to: { value: 2000 },
  });
  expect(conditionOf('', FIELDS)).toEqual({ all: [] });
});

it('leaves what it does not know as it is written', () => {
  for (const source of ['SUM(nights) > 3', 'hut.name = "Lago"', 'nights + 1 = 2', 'nights > ', 'gone = 1'])
    expect(conditionOf(source, FIELDS)).toEqual({ formula: source });
  expect(conditionOf('AND(paid; nights > 1)', FIELDS)).toEqual({
    all: [{ formula: 'paid' }, { field: 'nights', is: 'greater', to: { value: 1 } }],
  });
});

const value = (field: Field): fc.Arbitrary<string | number | boolean> =>
  field.type === 'number'
    ? fc.integer({ min: -1000, max: 1000 })
    : field.type === 'boolean'
      ? fc.boolean()
      : field.type === 'date'
        ? fc.constantFrom('2024-02-29', '2025-07-01')
        : field.type === 'datetime'
          ? fc.constantFrom('2025-03-30T01:30:00', '2025-07-01T12:00:00')
          : fc.string({ maxLength: 8 });

const test = fc.constantFrom(...FIELDS).chain((field) =>
  fc.constantFrom(...comparisonsFor(field.type)).chain((is): fc.Arbitrary<Condition> => {
    if (is === 'blank' || is === 'notBlank') return fc.constant({ field: field.name, is });
    const to: fc.Arbitrary<Operand> =
      is === 'between'
        ? fc.tuple(value(field), value(field)).map(([from, end]) => ({ from, to: end }) as Operand)
        : is === 'oneOf' || is === 'notOneOf'
          ? fc.array(value(field), { minLength: 1, maxLength: 3 }).map((values) => ({ values }) as Operand)
          : is === 'within'
            ? fc.constant({ parameter: 'given' })
            : fc.oneof(
                value(field).map((v) => ({ value: v })),
                fc.constant({ parameter: 'given' }),
              );
    return to.map((operand) => ({ field: field.name, is, to: operand }));
  }),
);

const nested = fc.oneof(
  test,
  fc.array(test, { minLength: 2, maxLength: 3 }).map((all): Condition => ({ all })),
  fc.array(test, { minLength: 2, maxLength: 3 }).map((any): Condition => ({ any })),
);

it('says the same again when it is written back', () => {
  fc.assert(
    fc.property(nested, (condition) => {
      const formula = conditionFormula(condition, FIELDS);
      const back = conditionFormula(conditionOf(formula, FIELDS), FIELDS);
      // Brackets around what stays a formula are the only difference there may be.
      const bare = (text: string) => text.replace(/[()\s]/g, '');
      expect(bare(back)).toBe(bare(formula));
      expect(parseFormula(back).ok).toBe(true);
    }),
    { numRuns: 400, seed: 5 },
  );
});
