import {
  checkFormula,
  type Drawer,
  type Entity,
  type Field,
  findEntity,
  Level,
  phrase,
  problem,
  rowScope,
} from '@gaveta/core/internal';
import type { Claims } from '../access/claims.ts';
import { castSql } from '../connection/types.ts';
import { type RegisteredModel, ROW_KEY, type TableBinding } from '../model/define.ts';
import { withClaims } from './claims.ts';
import { type Bindings, type SqlNames, toSql } from './expression.ts';
import { Joins, quote, type Tables } from './joins.ts';

const binding = (model: RegisteredModel, entity: Entity): TableBinding => model.tables.get(entity.name)!;

/** A model's tables as they stand in the database, each cut to the rows that the caller may see. */
export const scopedTables = (model: RegisteredModel, claims: Claims, bindings: Bindings): Tables => ({
  model: model.model,
  from: (entity) => scoped(model, entity, claims, bindings, []),
  column: (entity, field) => quote(binding(model, entity).columns.get(field) ?? field),
});

/** What stands after FROM for an entity, before any row scope. `given`: SQL of the arguments of a function. */
const wholeTable = (bound: TableBinding, entity: Entity, given: readonly string[], bindings: Bindings): string => {
  const stored = storedTable(bound, given, bindings);
  if (bound.computed.size === 0 && bound.keyColumns === null) return stored;
  const others = entity.fields.filter((f) => bound.columns.has(f.name)).map(({ hidden: _, ...f }) => f);
  const names = {
    ...NO_NAMES,
    field: (_: number, column: number) => `w.${quote(bound.columns.get(others[column - 1]!.name)!)}`,
  };
  const columns = [...bound.computed].map(([field, source]) => {
    const checked = checkFormula(source, rowScope(others, []));
    if (!checked.ok) throw new Error(`The formula of ${entity.name}.${field} is wrong: ${source}`);
    return `${toSql(checked.formula, names, bindings).sql} as ${quote(field)}`;
  });
  if (bound.keyColumns === 'all') columns.push(`md5(w::text) as ${quote(ROW_KEY)}`);
  else if (bound.keyColumns) {
    // Of every part its length, so that parts cannot run into one another.
    const parts = bound.keyColumns.map((column) => `w.${quote(column)}::text`);
    columns.push(`concat(${parts.map((part) => `length(${part}), ':', ${part}`).join(', ')}) as ${quote(ROW_KEY)}`);
  }
  return `(select w.*, ${columns.join(', ')} from ${stored} w)`;
};

const NO_NAMES: SqlNames = {
  field: () => 'null',
  total: () => 'null',
  timeZone: 'UTC',
  collation: null,
  parameter: () => ({ sql: 'null', solid: false, type: 'any' }),
};

const storedTable = (bound: TableBinding, given: readonly string[], bindings: Bindings): string => {
  const raw = rawTable(bound, given, bindings);
  if (bound.casts.size === 0) return raw;
  const together = Array.isArray(bound.keyColumns) ? bound.keyColumns : [];
  const columns = [...new Set([...bound.columns.values(), ...together])].map((column) => {
    const cast = bound.casts.get(column);
    return cast ? `${castSql(`r.${quote(column)}`, cast)} as ${quote(column)}` : `r.${quote(column)}`;
  });
  return `(select ${columns.join(', ')} from ${raw} r)`;
};

const rawTable = ({ source, columns }: TableBinding, given: readonly string[], bindings: Bindings): string => {
  switch (source.kind) {
    case 'table':
      return quote(source.table);
    case 'function':
      return `${quote(source.name)}(${given.map((value, i) => (source.casts[i] ? `${value}::${source.casts[i]}` : value)).join(', ')})`;
    case 'readings': {
      const { table, nameColumn, valueColumn, names } = source;
      const own = [...columns].filter(([field]) => !names.has(field)).map(([, column]) => quote(column));
      const spread = [...names].map(([field, name]) => {
        const when = `${quote(nameColumn)} = ${bindings.bind(name, 'text')}`;
        return `max(${quote(valueColumn)}) filter (where ${when}) as ${quote(field)}`;
      });
      return `(select ${[...own, ...spread].join(', ')} from ${quote(table)} group by ${own.join(', ')})`;
    }
    default:
      return source satisfies never;
  }
};

/** An entity's table, cut to the rows that the caller may see. */
export const scoped = (
  model: RegisteredModel,
  entity: Entity,
  claims: Claims,
  bindings: Bindings,
  given: readonly string[],
): string => {
  const bound = binding(model, entity);
  const rows = bound.scope(claims);
  const nothing = (): string => `(select * from ${wholeTable(bound, entity, given, bindings)} s where false)`;
  if (rows === 'everything') return wholeTable(bound, entity, given, bindings);
  if (rows === 'nothing') return nothing();
  const { formula: scope, level } = scopeFormula(model, entity, rows.keep);
  const claimed = withClaims(scope, claims);
  if ('unfit' in claimed) {
    model.unfitClaim?.(entity.name, claimed.unfit.claim, claimed.unfit.wanted);
    return nothing();
  }
  const { formula } = claimed;
  // The joins of a scope see whole tables: they only decide, they show nothing.
  const open: Tables = {
    model: model.model,
    from: (target) => wholeTable(binding(model, target), target, target === entity ? given : [], bindings),
    column: (target, field) => quote(binding(model, target).columns.get(field) ?? field),
  };
  const joins = new Joins(open, entity, 's');
  const keep = toSql(
    formula,
    {
      ...NO_NAMES,
      field: (_, column) => {
        const found = level.columns[column - 1]!;
        return found.kind === 'field' ? joins.column(found.path) : 'null';
      },
    },
    bindings,
  ).sql;
  // The fence keeps whatever a statement asks of the rows from running on those that the caller may not see: errors and
  // time would tell of them.
  return `(select s.* from ${joins.from()}${joins.text()} where ${keep} offset 0)`;
};

/** The checked formula of a row scope, and the level whose columns it reads. Throws when it is wrong. */
export const scopeFormula = (model: RegisteredModel, entity: Entity, keep: string) => {
  const stub: Drawer = { id: 'scope', name: 'scope', rows: { entity: entity.name } };
  const level = new Level(0, stub, 'scope', entity, null, null);
  const result = checkFormula(keep, {
    claims: true,
    name: (parts) => {
      const field = fieldAlong(model, entity, parts);
      if (!field)
        return problem(
          'unknown-name',
          {},
          { name: parts.join('.'), hint: phrase('no-such-field', { entity: entity.name }) },
        );
      return { kind: 'field', level: 0, column: level.column({ kind: 'field', path: parts, field }), type: field.type };
    },
    rows: () => problem('total-in-query'),
    previous: () => problem('total-in-query'),
    depth: () => problem('total-in-query'),
    isRowScope: () => false,
    suggestions: () => [],
  });
  if (result.ok) return { formula: result.formula, level };
  const words = result.problems.map((p) => `${p.code} ${JSON.stringify(p.data)}`).join(', ');
  throw new Error(`The row scope of ${entity.name} is wrong (${keep}): ${words}`);
};

const fieldAlong = (model: RegisteredModel, entity: Entity, parts: string[]): Field | null => {
  let at: Entity | null = entity;
  for (const part of parts.slice(0, -1)) {
    const relation: Entity['relations'][number] | undefined = at?.relations.find(
      (r) => r.name === part && r.kind === 'one',
    );
    at = relation ? findEntity(model.model, relation.to) : null;
  }
  return at?.fields.find((f) => f.name === parts.at(-1)) ?? null;
};
