import { boolean, date, foreignKey, integer, numeric, pgTable, primaryKey, text, timestamp } from 'drizzle-orm/pg-core';
import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import { defineModel, type ModelInput } from './define.ts';
import { number } from './fields.test-support.ts';
import { drizzleTables, jsonSchemaFields, refineModel, zodFields } from './from-schema.ts';
import { introspectedModel } from './introspected.ts';
import { printModel } from './print.ts';

describe('a model in code', () => {
  const input = (entity: object): ModelInput => ({
    name: 'works',
    label: 'Works',
    connection: 'main',
    entities: {
      hut: { label: 'Hut', plural: 'Huts', key: 'id', fields: { id: number, name: { label: 'Name', type: 'text' } } },
      stay: { label: 'Stay', plural: 'Stays', key: 'id', fields: { id: number, hut_id: number }, ...entity } as never,
    },
  });
  const wrong = (entity: object): string => {
    try {
      defineModel(input(entity));
      return 'it was taken';
    } catch (error) {
      return (error as Error).message;
    }
  };
  it('fails at start with the line to mend', () => {
    expect(wrong({ key: 'nr' })).toContain('stay.key: there is no field “nr”');
    expect(wrong({ key: ['id', 'nr'] })).toContain('stay.key: there is no field “nr”');
    expect(wrong({ relations: { hut: { label: 'h', to: 'house', kind: 'one', on: { hut_id: 'id' } } } })).toContain(
      'stay.relations.hut.to: there is no entity “house”',
    );
    expect(wrong({ relations: { hut: { label: 'h', to: 'hut', kind: 'one', on: { hut_id: 'name' } } } })).toContain(
      '“hut_id” is of type number, “name” of hut is of type text',
    );
    expect(wrong({ relations: { hut: { label: 'h', to: 'hut', kind: 'one', on: {} } } })).toContain(
      'name at least one pair',
    );
    expect(wrong({ fields: { id: number, x: { ...number, formula: 'id +' } } })).toContain('stay.fields.x.formula');
    expect(wrong({ fields: { id: number, x: { ...number, formula: 'nope * 2' } } })).toContain('unknown-name');
    expect(wrong({ time: 'id' })).toContain('stay.time: “id” must be a field of type date');
    expect(wrong({ readings: { name: 'n', value: 'v', columns: { wind: 'w' } } })).toContain('describe “wind”');
  });
  it('speaks several languages', () => {
    const { model, inLanguage } = defineModel(input({ label: { en: 'Stay', pt: 'Estadia' } }));
    const label = (language: string) => inLanguage(language).entities[1]!.label;
    expect(model.entities[1]!.label).toBe('Stay');
    expect([label('pt-BR'), label('pt'), label('fr')]).toEqual(['Estadia', 'Estadia', 'Stay']);
  });
  it('is printed with what stands behind it', () => {
    const text = printModel(
      defineModel(
        input({
          table: 'crm.stay',
          fields: {
            id: number,
            hut_id: { ...number, hidden: true, column: 'hut' },
            twice: { ...number, formula: 'id * 2' },
          },
          relations: { hut: { label: 'Hut', to: 'hut', kind: 'one', on: { hut_id: 'id' } } },
          scope: () => ({ keep: 'hut_id = CLAIM("hut")' }),
        }),
      ),
    );
    for (const part of [
      'table crm.stay',
      'hidden; column hut',
      '= id * 2',
      '→ one hut where hut_id = id',
      'those where hut_id = CLAIM("hut")',
    ])
      expect(text).toContain(part);
  });
});

describe('a model out of a Drizzle schema', () => {
  const region = pgTable('region', { id: integer().primaryKey(), name: text().notNull() });
  const hut = pgTable('hut', {
    id: integer().primaryKey(),
    regionId: integer('region_id').references(() => region.id),
    opened: date(),
    at: timestamp({ withTimezone: true }),
    open: boolean(),
    price: numeric({ precision: 12, scale: 2 }),
  });
  const bed = pgTable('bed', { hut: integer(), number: integer() }, (t) => [
    primaryKey({ columns: [t.hut, t.number] }),
    foreignKey({ columns: [t.hut], foreignColumns: [hut.id] }),
  ]);
  const input = introspectedModel('works', 'Works', 'main', drizzleTables({ region, hut, bed, helper: () => 1 }));
  it('has types, keys and relations both ways', () => {
    const { model } = defineModel(input);
    const [r, h, b] = model.entities;
    expect(h!.fields.map((f) => f.type)).toEqual(['number', 'number', 'date', 'datetime', 'boolean', 'number']);
    expect(h!.relations.map((x) => `${x.kind} ${x.to}`)).toEqual(['one region', 'many bed']);
    expect(r!.relations.map((x) => `${x.kind} ${x.to}`)).toEqual(['many hut']);
    expect([h!.key, b!.key]).toEqual(['id', 'row_key']);
  });
  it('takes labels, hidden and added fields and scopes on top, and refuses names that are not there', () => {
    const refined = refineModel(input, {
      bed: null,
      hut: {
        label: 'Hut',
        scope: () => 'nothing',
        fields: {
          price: { label: 'Price', format: '#,##0.00' },
          open: null,
          double: { label: 'Double', type: 'number', formula: 'price * 2' },
        },
      },
    });
    const { model, tables } = defineModel(refined);
    expect(model.entities.map((e) => e.name)).toEqual(['region', 'hut']);
    const found = model.entities[1]!;
    expect(found.fields.map((f) => f.name)).toEqual(['id', 'region_id', 'opened', 'at', 'price', 'double']);
    expect(found.relations.map((x) => x.to)).toEqual(['region']);
    expect(tables.get('hut')!.scope({})).toBe('nothing');
    expect(() => refineModel(input, { huts: { hidden: true } as never })).toThrow('has no entity huts');
    expect(() => refineModel(input, { hut: { fields: { prise: { hidden: true } } } })).toThrow('has no field “prise”');
  });
});

describe('fields out of a schema of rows', () => {
  it('come from Zod', () => {
    const row = z.object({
      number: z.number().meta({ title: 'Number' }),
      calledAt: z.date().nullable(),
      day: z.iso.date(),
      urgent: z.boolean().optional(),
      level: z.enum(['low', 'high']),
      inner: z.object({ a: z.string() }),
    });
    expect(zodFields(row)).toEqual({
      number: { label: 'Number', type: 'number' },
      calledAt: { label: 'Called at', type: 'datetime' },
      day: { label: 'Day', type: 'date' },
      urgent: { label: 'Urgent', type: 'boolean' },
      level: { label: 'Level', type: 'text', choices: { low: 'low', high: 'high' } },
    });
  });
  it('come from JSON Schema', () => {
    const properties = {
      n: { type: ['integer', 'null'], title: 'Count', description: 'How many.' },
      photo: { type: 'string', contentEncoding: 'base64' },
      list: { type: 'array' },
    };
    expect(jsonSchemaFields({ properties })).toEqual({
      n: { label: 'Count', type: 'number', description: 'How many.' },
      photo: { label: 'Photo', type: 'picture' },
    });
  });
});
