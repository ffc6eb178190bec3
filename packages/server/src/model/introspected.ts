import type { DataType } from '@gaveta/core/internal';
import type { FoundTable } from '../connection/connection.ts';
import type { EntityInput, FieldInput, ModelInput, RelationInput } from './define.ts';
import { fieldNames } from './field-names.ts';

const titled = (name: string): string => {
  const words = name.replace(/[_-]+/g, ' ').trim();
  return words ? words.charAt(0).toUpperCase() + words.slice(1) : name;
};

const FORMATS: Partial<Record<DataType, string>> = { date: 'd mmm yyyy', datetime: 'd mmm yyyy hh:mm' };

/** What a relation to one row is called by its columns: `hut_id` leads to a hut. */
const oneName = (columns: readonly string[], target: string): string =>
  columns.length === 1 ? columns[0]!.replace(/_?(id|key|no|nr)$/i, '') || target : target;

/** A column whose field goes by another name than its own. `table`: name of its entity. */
export interface RenamedField {
  table: string;
  column: string;
  name: string;
}

/**
 * A data model with every table, view and function that a database showed. Foreign keys become relations both ways.
 * Names that two schemas share carry their schema.
 */
export const introspectedModel = (
  name: string,
  label: string,
  connection: string,
  found: readonly FoundTable[],
  renamed: readonly RenamedField[] = [],
): ModelInput => {
  const shared = (table: FoundTable): boolean => found.filter((t) => t.name === table.name).length > 1;
  const names = fieldNames(found.map((t) => (shared(t) ? `${t.schema}_${t.name}` : t.name)));
  const nameOf = new Map(found.map((t, i) => [`${t.schema}.${t.name}`, names[i]!]));
  /** The name of each column's field. */
  const fieldsIn = (at: number): Map<string, string> => {
    const columns = found[at]!.columns.map((c) => c.name);
    const own = fieldNames(columns);
    const asked = (column: string): string | undefined =>
      renamed.find((r) => r.table === names[at] && r.column === column)?.name;
    return new Map(
      columns.map((column, i) => {
        const name = asked(column);
        return [column, name !== undefined && !own.includes(name) ? name : own[i]!];
      }),
    );
  };
  const many = new Map<string, [string, RelationInput][]>();
  const entities: [string, EntityInput][] = [];
  for (const [i, table] of found.entries()) {
    const fields = fieldsIn(i);
    const relations: [string, RelationInput][] = [];
    for (const { to, on } of table.references) {
      const target = nameOf.get(to);
      const there = found.find((t) => `${t.schema}.${t.name}` === to);
      if (!target || !there) continue;
      const thereFields = fieldsIn(found.indexOf(there));
      const pairs = Object.entries(on).map(([a, b]) => [fields.get(a)!, thereFields.get(b)!] as const);
      const one = free(oneName(Object.keys(on), target), [...relations.map((r) => r[0]), ...fields.values()]);
      relations.push([one, { label: titled(one), to: target, kind: 'one', on: Object.fromEntries(pairs) }]);
      const back = many.get(target) ?? [];
      const backName = free(names[i]!, [...back.map((r) => r[0]), ...thereFields.values()]);
      back.push([
        backName,
        {
          label: titled(names[i]!),
          to: names[i]!,
          kind: 'many',
          on: Object.fromEntries(pairs.map(([a, b]) => [b, a])),
        },
      ]);
      many.set(target, back);
    }
    const keys = table.columns.filter((c) => c.isKey).map((c) => fields.get(c.name)!);
    const described = table.columns.map((column): [string, FieldInput] => [
      fields.get(column.name)!,
      {
        label: titled(column.name),
        type: column.type,
        column: column.name,
        ...(column.cast ? { cast: column.cast } : {}),
        ...(column.inexact ? { inexact: true } : {}),
        ...(FORMATS[column.type] ? { format: FORMATS[column.type] } : {}),
        ...(column.comment ? { description: column.comment } : {}),
      },
    ]);
    const place = `${table.schema}.${table.name}`;
    entities.push([
      names[i]!,
      {
        label: titled(table.name),
        plural: titled(table.name),
        ...(table.kind === 'function'
          ? {
              function: {
                name: place,
                arguments: Object.fromEntries(
                  table.arguments.map((a) => [a.name, { label: titled(a.name), type: a.type, cast: a.written }]),
                ),
              },
            }
          : { table: place }),
        ...(keys.length > 0 ? { key: keys } : {}),
        fields: Object.fromEntries(described),
        relations: Object.fromEntries(relations),
      },
    ]);
  }
  const whole = entities.map(([entity, input]): [string, EntityInput] => {
    const taken = Object.keys(input.relations ?? {});
    const back = (many.get(entity) ?? []).filter(([relation]) => !taken.includes(relation));
    return [entity, { ...input, relations: { ...input.relations, ...Object.fromEntries(back) } }];
  });
  return { name, label, connection, entities: Object.fromEntries(whole) };
};

const free = (name: string, taken: readonly string[]): string => {
  let found = name;
  for (let n = 2; taken.includes(found); n++) found = `${name}_${n}`;
  return found;
};
