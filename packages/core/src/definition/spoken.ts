import { z } from './zod.ts';

/**
 * How a part of a definition speaks to readers: as a text; as the pieces of one; as a formula, which may hold texts; or as a name that
 * another text of the report has, and that follows it.
 */
export type Speech = 'text' | 'pieces' | 'formula' | 'follows';

/** Which schemas hold what readers read. Translations are made from it, so that a new setting is translated by being marked. */
export const SPOKEN = z.registry<{ as: Speech }>();

/** Marks a schema as one of what readers read. */
export const spoken = <S extends z.ZodType>(schema: S, as: Speech = 'text'): S => {
  SPOKEN.add(schema, { as });
  return schema;
};
