import type { Entity, Relation } from './model.ts';

/**
 * A step of a path to a table that no relation leads to: its row whose key is a field of the row before. It is a name that no relation
 * can have.
 */
export const lookupStep = (entity: Entity, here: string): string => `=${entity.name}.${entity.key}=${here}`;

const STEP = /^=([^.=]+)\.([^.=]+)=([^.=]+)$/;

/** The relation that a step of a path goes along: one of the entity’s own, or one to a row that is looked up by its key. */
export const relationAt = (entity: Entity, step: string): Relation | undefined => {
  const [, to, there, here] = STEP.exec(step) ?? [];
  if (to === undefined || there === undefined || here === undefined)
    return entity.relations.find((relation) => relation.name === step);
  return { name: step, label: to, to, kind: 'one', on: [{ here, there }] };
};

/** A step as people name it: by its relation, or the table in which it looks. */
export const stepName = (step: string): string => STEP.exec(step)?.[1] ?? step;
