import { readDefinition } from '../definition/read.ts';
import type { Report } from '../definition/schema.ts';
import type { Entity, Model, Relation } from '../model/model.ts';
import { problemText } from '../problems/problem.ts';
import type { DataType } from '../value/value.ts';

/** A table with its fields by name; the first is its key. */
export const entityOf = (name: string, fields: Record<string, DataType>, relations: Relation[] = []): Entity => ({
  name,
  label: name,
  plural: `${name}s`,
  key: Object.keys(fields)[0]!,
  fields: Object.entries(fields).map(([field, type]) => ({ name: field, label: field, type })),
  relations,
});

export const modelOf = (...entities: Entity[]): Model => ({ name: 'm', label: 'M', entities });

/** A report over that model. Throws what is wrong with it. */
export const reportOf = (json: object): Report => {
  const read = readDefinition({ gaveta: 2, name: 'x', model: 'm', ...json });
  if (!read.ok) throw new Error(read.problems.map(problemText).join(' '));
  return read.report;
};

/** A drawer of huts. */
export const hutDrawer = (more: object): object => ({ id: 'd', name: 'hut', rows: { entity: 'hut' }, ...more });

export const fieldItem = (id: string, formula: string, x = 0): object => ({
  kind: 'field',
  id,
  x,
  y: 0,
  width: 10,
  height: 5,
  formula,
});
