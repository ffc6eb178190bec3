import { z } from '../definition/zod.ts';
import { DATA_TYPES } from '../value/value.ts';

const name = z.string().regex(/^[\p{L}_][\p{L}\p{N}_]*$/u, 'a name of letters, digits and _');

/** A data model as core and the interface see it: no tables, no secrets, no row scopes. */
export const fieldSchema = z.strictObject({
  name,
  label: z.string(),
  type: z.enum(DATA_TYPES),
  /** Spreadsheet number-format code that values are shown with unless an item says otherwise. */
  format: z.string().optional(),
  /** ISO 4217 code of what it is counted in: values are shown with its sign and decimals where there is no format. */
  currency: z.string().optional(),
  /** Never offered, and refused in formulas. */
  hidden: z.boolean().optional(),
  /** What it says, in a sentence; and in what it is counted, as km/h. */
  description: z.string().optional(),
  unit: z.string().optional(),
  /** Its database rounds it, to about 15 digits or fewer. */
  inexact: z.boolean().optional(),
  /** What coded values mean. */
  choices: z.array(z.strictObject({ value: z.string(), label: z.string() })).optional(),
});

export const relationSchema = z.strictObject({
  name,
  label: z.string(),
  /** Name of the entity it leads to. */
  to: name,
  /** `one`: at most one row for each row here; `many`: any number. */
  kind: z.enum(['one', 'many']),
  /** Pairs of fields, here and there, whose values are equal. */
  on: z.array(z.strictObject({ here: name, there: name })).min(1),
  /** Name of the model that it leads on in; left out: the same. */
  model: name.optional(),
});

/** An argument of a function that returns rows. */
export const argumentSchema = z.strictObject({ name, label: z.string(), type: z.enum(DATA_TYPES) });

export const entitySchema = z.strictObject({
  name,
  /** For one row: “Hut”. */
  label: z.string(),
  /** For many: “Huts”. */
  plural: z.string(),
  /** The field that tells its rows apart. */
  key: name,
  fields: z.array(fieldSchema),
  relations: z.array(relationSchema),
  description: z.string().optional(),
  /** The field by which time windows choose rows. */
  time: name.optional(),
  /** Of a function that returns rows: what it must be given. Only recipes take rows from it. */
  arguments: z.array(argumentSchema).optional(),
});

export const modelSchema = z.strictObject({
  name,
  label: z.string(),
  description: z.string().optional(),
  entities: z.array(entitySchema),
  /** Its labels in other languages: by language (BCP 47), then by the label. */
  texts: z.record(z.string(), z.record(z.string(), z.string())).optional(),
  /** Decimals of currencies where they are others than the standard’s, by code. */
  currencies: z.record(z.string(), z.number()).optional(),
});

export type Field = z.infer<typeof fieldSchema>;
export type Relation = z.infer<typeof relationSchema>;
export type Entity = z.infer<typeof entitySchema>;
export type Model = z.infer<typeof modelSchema>;

/** What the values of a field are shown with, for one that takes them over. */
export const lookOf = ({ format, currency }: Field): Pick<Field, 'format' | 'currency'> => ({
  ...(format ? { format } : {}),
  ...(currency ? { currency } : {}),
});

export const findEntity = (model: Model, entity: string): Entity | null =>
  model.entities.find((e) => e.name === entity) ?? null;

/**
 * The model as it is sent to browsers: without hidden fields, but for the keys that relations need. Those stay hidden,
 * and names alone give no rows away.
 */
export const visibleModel = (model: Model): Model => {
  const { texts, ...shown } = { ...model, entities: visibleEntities(model) };
  return texts ? { ...shown, texts: textsWithin(texts, labelsIn(shown)) } : shown;
};

/** Those texts of a dictionary that say one of these labels, or what one of them is called. */
const textsWithin = (texts: NonNullable<Model['texts']>, labels: ReadonlySet<string>): NonNullable<Model['texts']> =>
  Object.fromEntries(
    Object.entries(texts).map(([language, said]) => [
      language,
      Object.fromEntries(Object.entries(said).filter((pair) => pair.some((text) => labels.has(text)))),
    ]),
  );

const labelsIn = ({ label, entities }: Model): Set<string> =>
  new Set([
    label,
    ...entities.flatMap((entity) => [
      ...[entity.label, entity.plural],
      ...entity.relations.map((one) => one.label),
      ...shownFields(entity.fields).flatMap(({ label: own, unit, choices = [] }) => [
        ...[own, unit ?? ''],
        ...choices.map((choice) => choice.label),
      ]),
    ]),
  ]);

const visibleEntities = (model: Model): Entity[] =>
  model.entities.map((entity) => {
    const keys = new Set([entity.key, ...entity.relations.flatMap((r) => r.on.map((pair) => pair.here))]);
    for (const other of model.entities) {
      for (const r of other.relations) if (r.to === entity.name) for (const pair of r.on) keys.add(pair.there);
    }
    return { ...entity, fields: entity.fields.filter((f) => !f.hidden || keys.has(f.name)) };
  });

/**
 * The field that somebody means by a name. Hidden fields are only ever the keys of a model’s own relations: whoever names
 * one, anywhere, gets `hidden`, and null where there is none. Every planner asks here.
 */
export const namedField = (fields: readonly Field[], name: string | undefined): Field | 'hidden' | null => {
  const field = fields.find((f) => f.name === name);
  return field?.hidden ? 'hidden' : (field ?? null);
};

/** The fields of an entity that people may see. */
export const shownFields = (fields: readonly Field[]): Field[] => fields.filter((f) => !f.hidden);
