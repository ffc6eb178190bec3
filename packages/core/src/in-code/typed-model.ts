import type { Model } from '../model/model.ts';
import type { DataType } from '../value/value.ts';

/** What a compiler knows of an entity: the types of its fields, and which entity each relation leads to. */
export interface EntityShape {
  fields: Readonly<Record<string, DataType>>;
  /** Relations to at most one row, by which formulas read further: `hut.name`. */
  one: Readonly<Record<string, string>>;
  /** Relations to any number of rows, that drawers are made of. */
  many: Readonly<Record<string, string>>;
}

/** The shapes of a model's entities. */
export type ModelShape = Readonly<Record<string, EntityShape>>;

/** A model whose shape the compiler knows: what `defineModel` gives, or a file that `gaveta types` wrote. */
export interface TypedModel<S = ModelShape> {
  readonly model: Model;
  /** Carries the shape for the compiler; there is no value. */
  readonly shape?: S;
}

/** Gives a model its shape: `typedModel<Office>(model)`. */
export const typedModel = <S>(model: Model): TypedModel<S> => ({ model });

export type EntityName<S> = keyof S & string;

/** Relations of an entity of one kind, and where each leads. */
type Relations<S, E, K extends 'one' | 'many'> = E extends keyof S
  ? S[E] extends { readonly [_ in K]: infer R }
    ? R
    : never
  : never;

type Fields<S, E> = E extends keyof S ? (S[E] extends { readonly fields: infer F } ? F : never) : never;

/** Names of an entity's relations to many rows. */
export type ManyRelation<S, E> = string extends E ? string : keyof Relations<S, E, 'many'> & string;

/** The entity that a relation to many rows leads to. */
export type Target<S, E, R> = R extends keyof Relations<S, E, 'many'> ? Relations<S, E, 'many'>[R] & string : string;

/**
 * Fields of an entity as formulas write them, those along two relations to one row at most among them: `hut.region.name`. Any text
 * where the entity is not known.
 */
export type Path<S, E, Hops extends readonly unknown[] = [0, 0]> = string extends E
  ? string
  :
      | (keyof Fields<S, E> & string)
      | (Hops extends readonly [unknown, ...infer Rest]
          ? {
              [R in keyof Relations<S, E, 'one'> & string]: `${R}.${Path<S, Relations<S, E, 'one'>[R], Rest>}`;
            }[keyof Relations<S, E, 'one'> & string]
          : never);
