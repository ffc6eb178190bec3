import type { TypedModel } from '@gaveta/core/in-code';
import {
  checkFormula,
  type DataType,
  type Entity,
  type Field,
  isCurrencyCode,
  type Model,
  modelSchema,
  type Relation,
  rowScope,
} from '@gaveta/core/internal';
import type { Claims } from '../access/claims.ts';
import type { ColumnCast } from '../connection/types.ts';

/**
 * Which rows of an entity a caller may see: all, none, or those for which a formula holds. The formula reads the
 * entity's fields (also along `one` relations) and the caller's claims, as `region_id = CLAIM("region")`. A claim that
 * is missing keeps every row away.
 */
export type RowScope = 'everything' | 'nothing' | { keep: string };

/** Words in one language, or in several by BCP 47 tag; the first is for languages that are not there. */
export type Words = string | Readonly<Record<string, string>>;

export interface FieldInput {
  label: Words;
  type: DataType;
  format?: string;
  /** ISO 4217 code, as EUR: amounts have its sign and decimals where there is no format. Of numbers. */
  currency?: string;
  hidden?: boolean;
  description?: Words;
  /** What it is counted in, as km/h. */
  unit?: string;
  /** What coded values mean, by value. */
  choices?: Readonly<Record<string, Words>>;
  /** Column in the table; left out: the field's name. */
  column?: string;
  /** How the column is read where its own type is none of ours. */
  cast?: ColumnCast;
  /** The database itself rounds its values, as those of `double precision`. */
  inexact?: boolean;
  /** Works the field out from the others of its row, instead of a column. */
  formula?: string;
}

export interface RelationInput {
  label: Words;
  to: string;
  kind: 'one' | 'many';
  /** Field here → field there; several pairs for a key of several fields. */
  on: Readonly<Record<string, string>>;
}

/** A table with one row for each reading, seen as one with a column for each name. */
export interface ReadingsInput {
  /** Column that says what was read, and the one with its value. */
  name: string;
  value: string;
  /** Field → the name that its readings carry in the table. The fields are described under `fields`, as others are. */
  columns: Readonly<Record<string, string>>;
}

export interface ArgumentInput {
  label: Words;
  type: DataType;
  /** Its type as the database writes it, as `integer`; left out: one of ours. */
  cast?: string;
}

export interface EntityInput {
  label: Words;
  plural: Words;
  description?: Words;
  /** Table or view; left out: the entity's name. May carry a schema: `crm.person`. */
  table?: string;
  /** Function that returns rows, with its arguments in order; instead of a table. */
  function?: { name: string; arguments: Readonly<Record<string, ArgumentInput>> };
  readings?: ReadingsInput;
  /** The field that tells rows apart, or several that do together; left out: all of them do. */
  key?: string | readonly string[];
  /** Field by which time windows choose rows. */
  time?: string;
  fields: Readonly<Record<string, FieldInput>>;
  relations?: Readonly<Record<string, RelationInput>>;
  scope?: (claims: Claims) => RowScope;
}

export interface ModelInput {
  name: string;
  label: Words;
  description?: Words;
  /** Name of a connection given to createGaveta. */
  connection: string;
  entities: Readonly<Record<string, EntityInput>>;
}

export type TableSource =
  | { kind: 'table'; table: string }
  /** `casts`: the types of its arguments as the database writes them; null: as they come. */
  | { kind: 'function'; name: string; casts: readonly (string | null)[] }
  /** `names`: field → the name that its readings carry. */
  | { kind: 'readings'; table: string; nameColumn: string; valueColumn: string; names: Map<string, string> };

export interface TableBinding {
  source: TableSource;
  /** Column by field; computed fields are not among them. */
  columns: Map<string, string>;
  /** How columns are read whose own type is none of ours, by column. */
  casts: Map<string, ColumnCast>;
  /** Formula by field, over the entity's other fields. */
  computed: Map<string, string>;
  /** Columns that make the rows' key together, `all`: every one; null where one field is the key. */
  keyColumns: string[] | 'all' | null;
  scope: (claims: Claims) => RowScope;
}

/** A data model that reports can be bound to, with what stays on the server: tables, columns and row scopes. */
export interface RegisteredModel {
  model: Model;
  connection: string;
  tables: Map<string, TableBinding>;
  /** Told of a claim that is missing or of another type than what a row scope compares it with. */
  unfitClaim?: (entity: string, claim: string, wanted: string) => void;
  /** The model with its words in a language. */
  inLanguage(language: string): Model;
}

/** The hidden field that tells rows apart where no single one does. */
export const ROW_KEY = 'row_key';

const singleKey = ({ key }: EntityInput): string | null =>
  typeof key === 'string' ? key : key?.length === 1 ? key[0]! : null;

/** The words for a language: its own tag, the tag without region, or the first there is. */
const wordsIn = (words: Words, language: string | null): string => {
  if (typeof words === 'string') return words;
  const tag = language?.toLowerCase() ?? '';
  const found = Object.entries(words).find(([key]) => key.toLowerCase() === tag);
  const near = Object.entries(words).find(([key]) => key.toLowerCase() === tag.split('-')[0]);
  return (found ?? near ?? Object.entries(words)[0])?.[1] ?? '';
};

/** What texts in one language are in the others, by language and text. Of two that are alike the first one holds. */
const dictionaries = (all: Iterable<Words>): NonNullable<Model['texts']> => {
  const texts: Record<string, Record<string, string>> = {};
  for (const words of all) {
    if (typeof words === 'string') continue;
    for (const [language, text] of Object.entries(words)) {
      texts[language] ??= {};
      for (const other of Object.values(words)) if (other !== text) texts[language][other] ??= text;
    }
  }
  return texts;
};

const describe = (input: ModelInput, language: string | null): Model => {
  const all = new Set<Words>();
  const words = (given: Words): string => {
    all.add(given);
    return wordsIn(given, language);
  };
  const maybe = (description: Words | undefined) =>
    description === undefined ? {} : { description: words(description) };
  const entities = Object.entries(input.entities).map(([name, entity]): Entity => {
    const fields = Object.entries(entity.fields).map(([field, given]): Field => {
      const { column: _, formula: __, cast: ___, choices, label, description, ...rest } = given;
      const coded = choices && Object.entries(choices).map(([value, meaning]) => ({ value, label: words(meaning) }));
      return { name: field, label: words(label), ...rest, ...maybe(description), ...(coded ? { choices: coded } : {}) };
    });
    const relations = Object.entries(entity.relations ?? {}).map(
      ([relation, { on, label, ...rest }]): Relation => ({
        name: relation,
        label: words(label),
        ...rest,
        on: Object.entries(on).map(([here, there]) => ({ here, there })),
      }),
    );
    const key = singleKey(entity);
    if (key === null) fields.push({ name: ROW_KEY, label: '', type: 'text', hidden: true });
    const given = Object.entries(entity.function?.arguments ?? {});
    return {
      name,
      label: words(entity.label),
      plural: words(entity.plural),
      key: key ?? ROW_KEY,
      fields,
      relations,
      ...maybe(entity.description),
      ...(entity.time === undefined ? {} : { time: entity.time }),
      ...(given.length === 0
        ? {}
        : { arguments: given.map(([argument, { label, type }]) => ({ name: argument, label: words(label), type })) }),
    };
  });
  const about = { name: input.name, label: words(input.label), ...maybe(input.description), entities };
  const texts = dictionaries(all);
  return Object.keys(texts).length === 0 ? about : { ...about, texts };
};

const bindingOf = (name: string, entity: EntityInput): TableBinding => {
  const table = entity.table ?? name;
  const fields = Object.entries(entity.fields);
  const spread = entity.readings?.columns ?? {};
  const source: TableSource = entity.function
    ? {
        kind: 'function',
        name: entity.function.name,
        casts: Object.values(entity.function.arguments).map(({ cast }) => cast ?? null),
      }
    : entity.readings
      ? {
          kind: 'readings',
          table,
          nameColumn: entity.readings.name,
          valueColumn: entity.readings.value,
          names: new Map(Object.entries(spread)),
        }
      : { kind: 'table', table };
  const stored = fields.filter(([, f]) => f.formula === undefined);
  const columns = new Map(stored.map(([field, { column }]) => [field, column ?? field]));
  const isSingle = singleKey(entity) !== null;
  const together = typeof entity.key === 'object' ? entity.key.map((field) => columns.get(field) ?? field) : null;
  return {
    source,
    columns,
    keyColumns: isSingle ? null : (together ?? 'all'),
    casts: new Map(stored.flatMap(([field, { column, cast }]) => (cast ? [[column ?? field, cast] as const] : []))),
    computed: new Map(fields.flatMap(([field, f]) => (f.formula === undefined ? [] : [[field, f.formula] as const]))),
    scope: ((scope) => (scope ? (claims: Claims) => scopeFrom(name, scope(claims)) : (): RowScope => 'everything'))(
      entity.scope,
    ),
  };
};

/** What a scope gave, if it is one. Throws with the line to mend. */
export const scopeFrom = (entity: string, given: unknown): RowScope => {
  if (given === 'everything' || given === 'nothing') return given;
  const place = `entities.${entity}.scope`;
  if (typeof given === 'string')
    throw new Error(
      `${place} gave a text. A condition is written as { keep: '${given.replace(/'/g, "\\'").slice(0, 80)}' }`,
    );
  if (given instanceof Promise)
    throw new Error(
      `${place} is asynchronous, and must answer at once. Put what it looks up into the token’s claims, and read them: (claims) => ({ keep: 'id IN CLAIM("huts")' })`,
    );
  if (typeof given === 'object' && given !== null && 'keep' in given && typeof given.keep === 'string')
    return { keep: given.keep };
  throw new Error(
    `${place} gave ${given === undefined ? 'nothing' : JSON.stringify(given)}. It must return 'everything', 'nothing' or { keep: '…' } for every caller`,
  );
};

/** Labels that are missing, without which nothing can be described. */
const missingLabels = (input: ModelInput): string[] => {
  const missing: string[] = [];
  const needs = (place: string, label: unknown): void => {
    const isThere = typeof label === 'string' ? label !== '' : typeof label === 'object' && label !== null;
    if (!isThere) missing.push(`${place}: a text is missing, as “${place.split('.').at(-1)}: 'Hut'”`);
  };
  needs('label', input.label);
  for (const [name, entity] of Object.entries(input.entities ?? {})) {
    needs(`entities.${name}.label`, entity.label);
    needs(`entities.${name}.plural`, entity.plural);
    if (!entity.fields) missing.push(`entities.${name}.fields: describe its fields`);
    for (const [field, { label }] of Object.entries(entity.fields ?? {}))
      needs(`entities.${name}.fields.${field}.label`, label);
    for (const [relation, { label }] of Object.entries(entity.relations ?? {}))
      needs(`entities.${name}.relations.${relation}.label`, label);
  }
  return missing;
};

/** What is wrong with an entity, each with the line to mend. */
const mistakesOf = (name: string, entity: EntityInput, input: ModelInput, model: Model): string[] => {
  const mistakes: string[] = [];
  const hasField = (field: string, of: EntityInput = entity): boolean => Object.hasOwn(of.fields, field);
  for (const field of typeof entity.key === 'string' ? [entity.key] : (entity.key ?? [])) {
    if (!hasField(field)) mistakes.push(`${name}.key: there is no field “${field}”`);
  }
  if (entity.time !== undefined && !['date', 'datetime'].includes(entity.fields[entity.time]?.type ?? ''))
    mistakes.push(`${name}.time: “${entity.time}” must be a field of type date or datetime`);
  for (const field of Object.keys(entity.readings?.columns ?? {})) {
    if (!hasField(field)) mistakes.push(`${name}.readings.columns: describe “${field}” under ${name}.fields`);
  }
  for (const [relation, { to, on }] of Object.entries(entity.relations ?? {})) {
    const place = `${name}.relations.${relation}`;
    const target = Object.hasOwn(input.entities, to) ? input.entities[to]! : null;
    if (!target) mistakes.push(`${place}.to: there is no entity “${to}”`);
    if (Object.keys(on).length === 0) mistakes.push(`${place}.on: name at least one pair of fields`);
    for (const [here, there] of Object.entries(on)) {
      if (!hasField(here)) mistakes.push(`${place}.on: there is no field “${here}” in ${name}`);
      if (!target) continue;
      if (!hasField(there, target)) mistakes.push(`${place}.on: there is no field “${there}” in ${to}`);
      else if (hasField(here) && entity.fields[here]!.type !== target.fields[there]!.type)
        mistakes.push(
          `${place}.on: “${here}” is of type ${entity.fields[here]!.type}, “${there}” of ${to} is of type ${target.fields[there]!.type}`,
        );
    }
  }
  for (const [field, { currency, type }] of Object.entries(entity.fields)) {
    if (currency === undefined) continue;
    const place = `${name}.fields.${field}.currency`;
    if (!isCurrencyCode(currency)) mistakes.push(`${place}: “${currency}” is no code of a currency, as EUR`);
    else if (type !== 'number') mistakes.push(`${place}: the field is of type ${type}, and must be a number`);
  }
  const described = model.entities.find((e) => e.name === name)!;
  for (const [field, { formula }] of Object.entries(entity.fields)) {
    if (formula === undefined) continue;
    const others = described.fields.filter(
      (f) => entity.fields[f.name] && entity.fields[f.name]!.formula === undefined,
    );
    const open = others.map(({ hidden: _, ...f }) => f);
    const checked = checkFormula(formula, rowScope(open, []));
    if (!checked.ok) {
      const what = checked.problems.map((p) => `${p.code} ${JSON.stringify(p.data)}`).join(', ');
      mistakes.push(`${name}.fields.${field}.formula: ${what}`);
    }
  }
  return mistakes;
};

type EntityOf<I extends ModelInput, E extends keyof I['entities']> = I['entities'][E];

/** Relations of one kind, or that may be of it, and the entity that each leads to. */
type Leads<R, K> = {
  [N in keyof R as R[N] extends { readonly kind: infer Kind } ? (K extends Kind ? N : never) : never]: R[N] extends {
    readonly to: infer T;
  }
    ? T
    : never;
};

/** What a compiler knows of a model from what it was defined with; fields that are hidden are not there. */
export type ShapeOf<I extends ModelInput> = {
  readonly [E in keyof I['entities']]: {
    readonly fields: {
      readonly [F in keyof EntityOf<I, E>['fields'] as EntityOf<I, E>['fields'][F] extends { readonly hidden: true }
        ? never
        : F]: EntityOf<I, E>['fields'][F]['type'];
    };
    readonly one: Leads<EntityOf<I, E>['relations'], 'one'>;
    readonly many: Leads<EntityOf<I, E>['relations'], 'many'>;
  };
};

/** Registers a data model. Throws with every mistake found, each naming the entity and the line to mend. */
export const defineModel = <const I extends ModelInput>(input: I): RegisteredModel & TypedModel<ShapeOf<I>> => {
  const missing = missingLabels(input);
  if (missing.length > 0) throw new Error(`The data model “${input.name}” cannot be used:\n  ${missing.join('\n  ')}`);
  const model = describe(input, null);
  const mistakes = Object.entries(input.entities).flatMap(([name, entity]) => mistakesOf(name, entity, input, model));
  const checked = modelSchema.safeParse(model);
  if (!checked.success)
    mistakes.push(...checked.error.issues.map((issue) => `${issue.path.join('.')}: ${issue.message}`));
  if (!checked.success || mistakes.length > 0) {
    throw new Error(`The data model “${input.name}” cannot be used:\n  ${mistakes.join('\n  ')}`);
  }
  const tables = new Map(Object.entries(input.entities).map(([name, entity]) => [name, bindingOf(name, entity)]));
  const languages = new Map<string, Model>();
  return {
    model: checked.data,
    connection: input.connection,
    tables,
    inLanguage(language) {
      const found = languages.get(language) ?? describe(input, language);
      if (languages.size < 50) languages.set(language, found);
      return found;
    },
  };
};
