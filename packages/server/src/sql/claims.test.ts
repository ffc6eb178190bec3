import { compileFormula, Moment, plainContext, type Value } from '@gaveta/core/internal';
import { expect, it } from 'vitest';
import type { Claims } from '../access/claims.ts';
import type { FieldInput, RegisteredModel } from '../model/define.ts';
import { modelOf, number, table, text } from '../model/fields.test-support.ts';
import { withClaims } from './claims.ts';
import { scopeFormula } from './scoped-tables.ts';

const open: FieldInput = { label: 'Open', type: 'boolean' };
const model = (keep: string): RegisteredModel =>
  modelOf('m', 'c', { hut: table('Hut', { id: number, office: text, open }, { scope: () => ({ keep }) }) });

const ROWS: Record<string, Value>[] = [
  { id: 0, office: '', open: false },
  { id: 1, office: 'north', open: true },
  { id: 2, office: 'south', open: false },
  { id: null, office: null, open: null },
];

/** Ids of the rows that a caller sees; `unfit` when their claim keeps every row away. */
const seen = (keep: string, claims: Claims): unknown => {
  const registered = model(keep);
  const entity = registered.model.entities[0]!;
  const { formula, level } = scopeFormula(registered, entity, keep);
  const claimed = withClaims(formula, claims);
  if ('unfit' in claimed) return 'unfit';
  const holds = compileFormula(claimed.formula);
  const report = { name: '', timeZone: 'UTC', language: 'en', runAt: new Moment(0) };
  return ROWS.filter((row) => {
    const values = level.columns.map((c) => (c.kind === 'field' ? (row[c.path[0]!] ?? null) : null));
    return holds(plainContext(report, {}, [null, ...values])) === true;
  }).map((row) => row.id);
};

it('a claim of another type than what it is compared with keeps every row away', () => {
  for (const region of ['north', 'NaN', '', ' ', '2) or (1=1', 'Infinity', true, ['1', 'x']])
    expect(seen('id = CLAIM("region")', { region }), String(region)).toBe('unfit');
  expect(seen('id = CLAIM("region")', {})).toBe('unfit');
  expect(seen('id = CLAIM("constructor")', {})).toBe('unfit');
  expect(seen('id > CLAIM("region")', { region: ['1', '2'] })).toBe('unfit');
  expect(seen('open = CLAIM("open")', { open: 'true' })).toBe('unfit');
  expect(seen('NOT(id = CLAIM("region"))', { region: 'x' })).toBe('unfit');
});

it('one that fits shows its rows, and never those whose value is blank', () => {
  expect(seen('id = CLAIM("region")', { region: 1 })).toEqual([1]);
  expect(seen('CLAIM("region") = id', { region: '1' })).toEqual([1]);
  expect(seen('id = CLAIM("region")', { region: 0 })).toEqual([0]);
  expect(seen('office = CLAIM("office")', { office: '' })).toEqual([0]);
  expect(seen('open = CLAIM("open")', { open: false })).toEqual([0, 2]);
});

it('several values stand for any of them, none for no row', () => {
  expect(seen('id = CLAIM("regions")', { regions: [1, 2] })).toEqual([1, 2]);
  expect(seen('ONEOF(office; CLAIM("offices"))', { offices: ['north', 'south'] })).toEqual([1, 2]);
  expect(seen('id = CLAIM("regions")', { regions: [] })).toEqual([]);
  expect(seen('ONEOF(id; CLAIM("regions"))', { regions: [] })).toEqual([]);
});
