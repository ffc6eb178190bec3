import type { Field, Relation } from '../data/model.ts';
import type { BroughtColumn, PlannedSource } from './planned.ts';

/** What a source gives: its columns, what tells its rows apart, and where they lead. */
export interface Shape {
  fields: readonly Field[];
  key: string | null;
  relations: Relation[];
}

/** The relations of a table, with the model in which they lead on. */
export const shapeOf = (source: PlannedSource): Shape => {
  if (source.kind === 'recipe') return source.recipe;
  const { fields, key, relations } = source.entity;
  return { fields, key, relations: relations.map((r) => ({ ...r, model: r.model ?? source.model })) };
};

export const labelOf = (source: PlannedSource): string =>
  source.kind === 'table' ? source.entity.label : source.recipe.label;

/** A relation of rows that were brought in, from the names that their fields have now. */
export const renamed = (relation: Relation, as: string, columns: readonly BroughtColumn[]): Relation[] => {
  const on = relation.on.flatMap(({ here, there }) => {
    const column = columns.find((c) => c.field === here);
    return column ? [{ here: column.name, there }] : [];
  });
  return on.length === relation.on.length ? [{ ...relation, name: `${as}_${relation.name}`, on }] : [];
};
