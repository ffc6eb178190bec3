import { type DataType, type Entity, type Field, type Model, modelSchema, type Relation } from '@gaveta/core';

/** What a signed-in caller brings: set by the host's server, never by the browser. */
export type Claims = Readonly<Record<string, string | number | boolean>>;

/**
 * Which rows of an entity a caller may see: all, none, or those for which a formula holds. The formula reads the
 * entity's fields (also along `one` relations) and the caller's claims, as `region_id = CLAIM("region")`. A claim that
 * is missing keeps every row away.
 */
export type RowScope = 'everything' | 'nothing' | { keep: string };

export interface FieldInput {
  label: string;
  type: DataType;
  format?: string;
  hidden?: boolean;
  /** Column in the table; left out: the field's name. */
  column?: string;
}

export interface RelationInput {
  label: string;
  to: string;
  kind: 'one' | 'many';
  /** Field here → field there. */
  on: Record<string, string>;
}

export interface EntityInput {
  label: string;
  plural: string;
  /** Table or view; left out: the entity's name. May carry a schema: `crm.person`. */
  table?: string;
  key: string;
  fields: Record<string, FieldInput>;
  relations?: Record<string, RelationInput>;
  scope?: (claims: Claims) => RowScope;
}

export interface ModelInput {
  name: string;
  label: string;
  /** Name of a connection given to createGaveta. */
  connection: string;
  entities: Record<string, EntityInput>;
}

export interface TableBinding {
  table: string;
  columns: Map<string, string>;
  scope: (claims: Claims) => RowScope;
}

/** A data model that reports can be bound to, with what stays on the server: tables, columns and row scopes. */
export interface RegisteredModel {
  model: Model;
  connection: string;
  tables: Map<string, TableBinding>;
}

/** Registers a data model. Throws with every mistake found, each naming the entity and the line to mend. */
export const defineModel = (input: ModelInput): RegisteredModel => {
  const mistakes: string[] = [];
  const tables = new Map<string, TableBinding>();
  const entities: Entity[] = [];
  for (const [name, entity] of Object.entries(input.entities)) {
    const fields: Field[] = [];
    const columns = new Map<string, string>();
    for (const [field, { column, ...rest }] of Object.entries(entity.fields)) {
      fields.push({ name: field, ...rest });
      columns.set(field, column ?? field);
    }
    const relations = Object.entries(entity.relations ?? {}).map(
      ([relation, { on, ...rest }]): Relation => ({
        name: relation,
        ...rest,
        on: Object.entries(on).map(([here, there]) => ({ here, there })),
      }),
    );
    if (!columns.has(entity.key)) mistakes.push(`${name}.key: there is no field “${entity.key}”`);
    for (const relation of relations) {
      const target = input.entities[relation.to];
      if (!target) mistakes.push(`${name}.relations.${relation.name}.to: there is no entity “${relation.to}”`);
      for (const { here, there } of relation.on) {
        if (!columns.has(here))
          mistakes.push(`${name}.relations.${relation.name}.on: there is no field “${here}” in ${name}`);
        if (target && !target.fields[there]) {
          mistakes.push(`${name}.relations.${relation.name}.on: there is no field “${there}” in ${relation.to}`);
        }
      }
    }
    const { label, plural, key } = entity;
    entities.push({ name, label, plural, key, fields, relations });
    tables.set(name, { table: entity.table ?? name, columns, scope: entity.scope ?? (() => 'everything') });
  }
  const checked = modelSchema.safeParse({ name: input.name, label: input.label, entities });
  if (!checked.success)
    mistakes.push(...checked.error.issues.map((issue) => `${issue.path.join('.')}: ${issue.message}`));
  if (!checked.success || mistakes.length > 0) {
    throw new Error(`The data model “${input.name}” cannot be used:\n  ${mistakes.join('\n  ')}`);
  }
  return { model: checked.data, connection: input.connection, tables };
};
