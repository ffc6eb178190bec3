import {
  type Entity,
  findEntity,
  type Model,
  type Operation,
  type PlannedRecipe,
  type PlannedStep,
  type PlannedTable,
  type ReportPlan,
  ROW_NUMBER,
  visibleModel,
} from '@gaveta/core/internal';
import type { Claims } from '../access/claims.ts';
import type { RegisteredModel } from '../model/define.ts';
import { type Bindings, SQL_TYPES, type SqlNames } from './expression.ts';
import { identifier } from './identifiers.ts';
import { quote, type Tables } from './joins.ts';
import { type RecipeTables, recipeSql } from './recipe-query.ts';
import { scoped, scopedTables } from './scoped-tables.ts';
import { readyStatement, type WrittenTable } from './written.ts';

/** Tables that hold rows for one run, copied there because their sources lie apart. */
export interface Staged {
  /** Name of the table with an entity's rows; its columns carry the fields' names. */
  entity(model: string, entity: Entity, given: PlannedTable | null): string;
  /** Name of the table with the rows of a statement written by hand. */
  written(operation: Extract<Operation, { kind: 'sql' }>): string;
  /** Name of the table that holds a recipe's rows after a step; null when it does not stand ready. */
  step(step: PlannedStep): string | null;
}

export interface TableContext {
  models: ReadonlyMap<string, RegisteredModel>;
  claims: Claims;
  /** Null: the statement runs where the rows come from. */
  staged: Staged | null;
  /** Whether nothing of a run can need a field, by its name; left out where all are shown. */
  isUnused?: ((field: string) => boolean) | undefined;
}

type Names = Omit<SqlNames, 'field' | 'total'>;

/** Where a recipe's tables stand. */
export const recipeTables = (context: TableContext, bindings: Bindings, names: Names): RecipeTables => ({
  table(table, given) {
    const { staged, models, claims } = context;
    if (staged) return { from: staged.entity(table.model, table.entity, table), column: identifier };
    const model = models.get(table.model)!;
    const bound = model.tables.get(table.entity.name)!;
    return {
      from: scoped(model, table.entity, claims, bindings, given),
      column: (field) => (bound.columns.has(field) ? identifier(bound.columns.get(field)!) : identifier(field)),
    };
  },
  written: (operation) =>
    context.staged
      ? `select * from ${context.staged.written(operation)}`
      : readyStatement(operation.text, {
          tables: writtenTables(context.models.get(operation.model)!, context.claims, bindings),
          names,
        }).text,
  isUnused: context.staged ? undefined : context.isUnused,
  ready: (step) => context.staged?.step(step) ?? null,
});

/**
 * The tables of a model as hand-written statements see them: by the names of its entities and fields, without hidden
 * fields other than the keys that relations need, cut to the caller's rows.
 */
export const writtenTables = (
  model: RegisteredModel,
  claims: Claims,
  bindings: Bindings,
): Map<string, () => WrittenTable> => {
  const tables = scopedTables(model, claims, bindings);
  const entities = visibleModel(model.model).entities.filter((entity) => !entity.arguments);
  return new Map(
    entities.map((entity) => [
      entity.name,
      () => {
        const columns = entity.fields.map((f) => {
          const [column, name] = [tables.column(entity, f.name), identifier(f.name)];
          return column === name ? `s.${name}` : `s.${column} as ${name}`;
        });
        const isCut = model.tables.get(entity.name)!.scope(claims) !== 'everything';
        return { sql: `select ${columns.join(', ')} from ${tables.from(entity)} s`, isCut };
      },
    ]),
  );
};

/**
 * The tables of files, services and rows that the host gives, as hand-written statements see them. `from`: what stands
 * after FROM for the rows of an entity that were brought to the workbench; null where none are needed, as to know columns.
 */
export const gatheredTables = (
  model: RegisteredModel,
  from: ((entity: Entity) => string) | null,
): Map<string, () => WrittenTable> =>
  new Map(
    visibleModel(model.model)
      .entities.filter((entity) => !entity.arguments)
      .map((entity) => [
        entity.name,
        () => {
          const columns = entity.fields.map(({ name, type }) =>
            from
              ? `s.${identifier(name)}`
              : `null::${type === 'picture' ? 'text' : SQL_TYPES[type]} as ${identifier(name)}`,
          );
          const rows = from ? `from ${from(findEntity(model.model, entity.name)!)} s` : 'where false';
          return { sql: `select ${columns.join(', ')} ${rows}`, isCut: false };
        },
      ]),
  );

/** The tables of a report's levels: those of its data model, and its queries. */
export const planTables = (plan: ReportPlan, context: TableContext, bindings: Bindings, names: Names): Tables => {
  const model = context.models.get(plan.report.model ?? '');
  return {
    model: plan.model as Model,
    from(entity) {
      const query = plan.queries.get(entity.name);
      if (query) return queryTable(query, entity, context, bindings, names);
      if (context.staged) return context.staged.entity(plan.report.model ?? '', entity, null);
      return scoped(model!, entity, context.claims, bindings, []);
    },
    column(entity, field) {
      if (context.staged || plan.queries.has(entity.name)) return identifier(field);
      return quote(model!.tables.get(entity.name)!.columns.get(field) ?? field);
    },
  };
};

/** A query as a table in brackets; `lateral` when its parameters are values of the rows around. */
const queryTable = (
  query: PlannedRecipe,
  entity: Entity,
  context: TableContext,
  bindings: Bindings,
  names: Names,
): string => {
  let readsOthers = false;
  const noting: Names = {
    ...names,
    parameter: (name, wanted) => {
      const term = names.parameter(name, wanted);
      if (!term.sql.startsWith('$')) readsOthers = true;
      return term;
    },
  };
  const { text, order } = recipeSql(query, recipeTables(context, bindings, noting), noting, bindings);
  const numbered = entity.key === ROW_NUMBER;
  const by = [...order, ...(query.key === null ? [] : [identifier(query.key)])];
  const over = by.length > 0 ? `order by ${by.join(', ')}` : '';
  const rows = numbered ? `select k.*, row_number() over (${over})::int as ${ROW_NUMBER} from (\n${text}\n) k` : text;
  return `${readsOthers ? 'lateral ' : ''}(${rows})`;
};
