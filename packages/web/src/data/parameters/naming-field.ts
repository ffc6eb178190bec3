import type { Field } from '@gaveta/core/internal';

/** What names a row for people: the first text that is not its key. */
export const namingField = (fields: readonly Field[], key: string): Field | undefined =>
  fields.find((f) => f.type === 'text' && f.name !== key && !f.hidden);
