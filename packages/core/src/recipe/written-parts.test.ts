import { describe, expect, it } from 'vitest';
import type { Condition, Step } from '../definition/recipe.ts';
import type { Drawer } from '../definition/schema.ts';
import { keepingAway } from './keeping-away.ts';
import { comparedColumn, writtenParameters } from './written-parts.ts';

const statement = `select * from stay s -- :no
where s.arrival between :season.from and :season.to and "nights" >= :least
  and (:region is null or region = :region) and status in (:status) and ':text' <> name::text`;

it('knows the parameters that a statement names', () => {
  expect(writtenParameters(statement)).toEqual(['season', 'least', 'region', 'status']);
});

it.each([
  ['nights >= :p', 'nights'],
  ['s.nights<:p', 'nights'],
  ['"Nights" = ( :p )', 'Nights'],
  [':p <> nights', 'nights'],
  [':p.from <= s.arrival', 'arrival'],
  ['status not in (:p)', 'status'],
  ['name ilike :p', 'name'],
  ['arrival between :a and :p', 'arrival'],
  ['arrival between :p and :b', 'arrival'],
  ['select :p', null],
  ['nights > :prior', null],
])('sees what a parameter is compared with: %s', (text, column) => {
  expect(comparedColumn(text, 'p')).toBe(column);
});

describe('parameters without a value', () => {
  const names = ['season', 'least', 'region', 'status'];
  const parameters = names.map((name) => ({ name, label: name, type: 'text' as const }));
  const keep = (where: Condition): Step => ({ step: 'keep', where });
  const away = (steps: Step[], body: Drawer[] = []): string[] =>
    keepingAway({ parameters, queries: [{ name: 'q', steps }], body });

  it('keep no row away in a comparison that is chosen, or in a formula that asks first', () => {
    expect(away([keep({ field: 'a', is: 'equal', to: { parameter: 'region' } })])).toEqual([]);
    expect(away([keep({ formula: 'OR(ISBLANK(region); a = region)' })])).toEqual([]);
    expect(away([])).toEqual([]);
  });

  it('keep rows away where they are compared as they are', () => {
    expect(
      away([
        keep({
          any: [{ field: 'a', is: 'equal', to: { parameter: 'region', evenBlank: true } }, { formula: 'a > 1' }],
        }),
      ]),
    ).toEqual(['region']);
    expect(away([keep({ formula: 'a >= season.from' })])).toEqual(['season']);
    expect(away([{ step: 'sql', model: 'm', text: statement, columns: [] }])).toEqual(['season', 'least', 'status']);
    const inner: Drawer = { id: 'i', name: 'i', rows: { relation: 'r' }, filter: 'a = parameters.status' };
    expect(away([], [{ id: 'o', name: 'o', rows: { entity: 'e' }, drawers: [inner] }])).toEqual(['status']);
    expect(
      keepingAway({ parameters, queries: [{ name: 'q', recipe: 'x' }] }, () => ({
        steps: [keep({ formula: 'a = least' })],
      })),
    ).toEqual(['least']);
  });
});
