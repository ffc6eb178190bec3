import { defineModel, type EntityInput, type FieldInput, type RegisteredModel } from './define.ts';

/** Fields whose words do not matter to a test. */
export const number: FieldInput = { label: 'Number', type: 'number' };
export const text: FieldInput = { label: 'Text', type: 'text' };

/** A table whose rows are told apart by `id`. */
export const table = (label: string, fields: EntityInput['fields'], more: Partial<EntityInput> = {}): EntityInput => ({
  label,
  plural: `${label}s`,
  key: 'id',
  fields,
  ...more,
});

export const modelOf = (name: string, connection: string, entities: Record<string, EntityInput>): RegisteredModel =>
  defineModel({ name, label: name, connection, entities });
