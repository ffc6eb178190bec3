import type { DataType } from '@gaveta/core/internal';
import { is } from 'drizzle-orm';
import { getTableConfig, PgTable } from 'drizzle-orm/pg-core';
import { z } from 'zod';
import type { FoundColumn, FoundTable } from '../connection/connection.ts';
import type { EntityInput, FieldInput, ModelInput, RelationInput } from './define.ts';

/** Our type for what Drizzle calls a column's SQL type, as `numeric(10, 2)`. */
const sqlType = (type: string): DataType => {
  const plain = type.toLowerCase().replace(/\(.*/, '').trim();
  if (/^(small|big)?(int|serial)|^integer|^numeric|^decimal|^real|^double|^int\d|^float/.test(plain)) return 'number';
  if (plain === 'date') return 'date';
  if (plain.startsWith('timestamp')) return 'datetime';
  if (plain.startsWith('bool')) return 'boolean';
  if (plain === 'bytea') return 'picture';
  return 'text';
};

/** What a column is to us, by its type as SQL writes it. */
const columnOf = (written: string): Pick<FoundColumn, 'type' | 'cast' | 'inexact'> => {
  if (written.endsWith(']')) return { type: 'text', cast: 'list', inexact: false };
  if (/^(real|double precision|float)/i.test(written)) return { type: 'number', cast: 'digits', inexact: true };
  if (/^money/i.test(written)) return { type: 'number', cast: 'number', inexact: false };
  const type = sqlType(written);
  const isText = type === 'text' && !/^(text|varchar|char)/i.test(written);
  return { type, cast: isText ? 'text' : null, inexact: false };
};

/**
 * The tables of a Drizzle schema (PostgreSQL), as `introspectedModel` takes them: `import * as schema`, and give it
 * here. What is no table is passed over. Foreign keys become relations.
 */
export const drizzleTables = (schema: Readonly<Record<string, unknown>>): FoundTable[] =>
  Object.values(schema).flatMap((table): FoundTable[] => {
    if (!is(table, PgTable)) return [];
    const config = getTableConfig(table);
    const place = (of: { schema: string | undefined; name: string }): string => `${of.schema ?? 'public'}.${of.name}`;
    const primary = new Set(config.primaryKeys.flatMap((key) => key.columns.map((c) => c.name)));
    return [
      {
        schema: config.schema ?? 'public',
        name: config.name,
        kind: 'table',
        columns: config.columns.map((column) => ({
          name: column.name,
          ...columnOf(column.getSQLType()),
          nullable: !column.notNull,
          isKey: column.primary || primary.has(column.name),
          comment: null,
        })),
        arguments: [],
        references: config.foreignKeys.map((key) => {
          const { columns, foreignColumns, foreignTable } = key.reference();
          const target = getTableConfig(foreignTable);
          return {
            to: place({ schema: target.schema, name: target.name }),
            on: Object.fromEntries(columns.map((column, i) => [column.name, foreignColumns[i]!.name])),
          };
        }),
      },
    ];
  });

type JsonSchema = { [key: string]: unknown };

/** Our type for a property of JSON Schema (draft 2020-12). */
const jsonType = (property: JsonSchema): DataType => {
  const one = [property.type].flat().find((type) => type !== 'null' && type !== undefined);
  if (one === undefined && Array.isArray(property.anyOf)) {
    const other = (property.anyOf as JsonSchema[]).find((p) => p.type !== 'null');
    return other ? jsonType(other) : 'text';
  }
  if (one === 'number' || one === 'integer') return 'number';
  if (one === 'boolean') return 'boolean';
  if (property.format === 'date') return 'date';
  if (property.format === 'date-time') return 'datetime';
  if (property.contentEncoding === 'base64' || String(property.contentMediaType ?? '').startsWith('image/'))
    return 'picture';
  return 'text';
};

const titled = (name: string): string => {
  const words = name
    .replace(/([a-z\d])([A-Z])/g, '$1 $2')
    .replace(/[_-]+/g, ' ')
    .toLowerCase()
    .trim();
  return words.charAt(0).toUpperCase() + words.slice(1);
};

/** Fields for the properties of a JSON Schema of one row. Titles become labels; objects and lists are left out. */
export const jsonSchemaFields = (schema: JsonSchema): Record<string, FieldInput> => {
  const properties = (schema.properties ?? {}) as Record<string, JsonSchema>;
  return Object.fromEntries(
    Object.entries(properties).flatMap(([name, property]): [string, FieldInput][] => {
      if (property.type === 'object' || property.type === 'array') return [];
      const {
        title,
        description,
        enum: values,
      } = property as { title?: string; description?: string; enum?: unknown[] };
      const choices = values && Object.fromEntries(values.map((value) => [String(value), String(value)]));
      return [
        [
          name,
          {
            label: title ?? titled(name),
            type: jsonType(property),
            ...(description ? { description } : {}),
            ...(choices ? { choices } : {}),
          },
        ],
      ];
    }),
  );
};

/** Fields for the properties of a Zod object of one row; `meta({ title, description })` says their words. */
export const zodFields = (schema: z.ZodObject): Record<string, FieldInput> =>
  jsonSchemaFields(
    z.toJSONSchema(schema, {
      unrepresentable: 'any',
      override: ({ zodSchema, jsonSchema }) => {
        if (zodSchema._zod.def.type === 'date') Object.assign(jsonSchema, { type: 'string', format: 'date-time' });
      },
    }) as JsonSchema,
  );

/** What a host says of a table on top of what was found. */
export interface EntityChanges extends Partial<Omit<EntityInput, 'fields' | 'relations'>> {
  /** Fields to change, to add, or (null) to leave out. */
  fields?: Readonly<Record<string, Partial<FieldInput> | null>>;
  relations?: Readonly<Record<string, RelationInput | null>>;
}

/**
 * A model that was made from a schema, with labels, hidden fields, row scopes and so on put in. An entity that is null is
 * left out, with the relations that lead to it. Throws for names that are not there, so that a typing slip is no leak.
 */
export const refineModel = (
  input: ModelInput,
  changes: Readonly<Record<string, EntityChanges | null>>,
  more: Partial<Pick<ModelInput, 'label' | 'description'>> = {},
): ModelInput => {
  const unknown = Object.keys(changes).filter((name) => !Object.hasOwn(input.entities, name));
  if (unknown.length > 0) {
    const known = Object.keys(input.entities).join(', ');
    throw new Error(`refineModel: “${input.name}” has no entity ${unknown.join(', ')}. It has ${known}.`);
  }
  const kept = Object.entries(input.entities).filter(([name]) => changes[name] !== null);
  const names = new Set(kept.map(([name]) => name));
  const entities = kept.map(([name, entity]): [string, EntityInput] => {
    const { fields = {}, relations = {}, ...rest } = changes[name] ?? {};
    const changed = { ...entity.fields } as Record<string, FieldInput>;
    for (const [field, change] of Object.entries(fields)) {
      if (change === null) delete changed[field];
      else if (changed[field]) changed[field] = { ...changed[field], ...change };
      else if (change.type) changed[field] = { label: titled(field), type: change.type, ...change };
      else throw new Error(`refineModel: ${name} has no field “${field}”. Give it a type to add it.`);
    }
    const own = { ...entity.relations, ...relations };
    const leading = Object.entries(own).filter(([, r]) => r !== null && names.has(r.to)) as [string, RelationInput][];
    return [name, { ...entity, ...rest, fields: changed, relations: Object.fromEntries(leading) }];
  });
  return { ...input, ...more, entities: Object.fromEntries(entities) };
};
