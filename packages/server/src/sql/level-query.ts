import {
  type CheckedType,
  checkFormula,
  compileFormula,
  type Drawer,
  type Entity,
  type Field,
  FormulaError,
  findEntity,
  Level,
  Moment,
  problem,
  type ReportPlan,
  type Value,
} from '@gaveta/core';
import type { Claims, RegisteredModel, TableBinding } from '../model/define.ts';
import { Bindings, type SqlNames, type Term, toSql } from './expression.ts';

export interface Query {
  text: string;
  values: Bindings['values'];
}

export interface QueryContext {
  claims: Claims;
  /** Values of the outermost report's parameters. */
  parameters: Record<string, Value>;
  model: (plan: ReportPlan) => RegisteredModel;
  /** One row more than this is asked for, so that the limit can be told from the end. */
  maxRows: number;
}

/**
 * The one query that brings every row of a level, for all parent rows at once. Its first column is the ordinal of the
 * parent row, by which the rows are merged; the levels around it are common table expressions in the same statement, so
 * a nested report's rows join to the rows of the report around it in the same way.
 */
export const levelQuery = (path: PlanPath, level: Level, context: QueryContext): Query =>
  new LevelQuery(context).build(path, level);

/** A plan with the plans around it, outermost first. */
export type PlanPath = readonly ReportPlan[];

const quote = (name: string): string =>
  name
    .split('.')
    .map((part) => `"${part.replace(/"/g, '""')}"`)
    .join('.');

/** Names of a level's place and columns in the statement. */
const ordinal = (depth: number, level: Level): string => `n${depth}_${level.index}`;
const columnName = (depth: number, level: Level, column: number): string => `c${depth}_${level.index}_${column}`;
const tableName = (depth: number, level: Level): string => `l${depth}_${level.index}`;

class LevelQuery {
  private readonly bindings = new Bindings();
  private readonly tables: string[] = [];
  private readonly built = new Set<string>();

  constructor(private readonly context: QueryContext) {}

  build(path: PlanPath, level: Level): Query {
    const depth = path.length - 1;
    const from = this.level(path, level);
    const outer = outerOf(path, level);
    const parent = outer ? ordinal(outer.depth, outer.level) : '1';
    const columns = level.columns.map((_, i) => columnName(depth, level, i + 1));
    const text = `with ${this.tables.join(',\n')}\nselect ${[parent, ...columns].join(', ')} from ${from} order by ${ordinal(depth, level)} limit ${this.context.maxRows + 1}`;
    return { text, values: this.bindings.values };
  }

  /** Adds the level's table expression, after those it stands on; gives its name. */
  private level(path: PlanPath, level: Level): string {
    const depth = path.length - 1;
    const name = tableName(depth, level);
    if (this.built.has(name)) return name;
    this.built.add(name);
    const plan = path[depth]!;
    const model = this.context.model(plan);
    const outer = outerOf(path, level);
    const outerTable = outer ? this.level(path.slice(0, outer.depth + 1), outer.level) : null;
    const joins = new Joins(model, this.context.claims, this.bindings, level.entity, 't');
    const own = level.columns.map((column, i) => `${joins.column(column.path)} as ${columnName(depth, level, i + 1)}`);
    const names = this.names(path, level, joins);
    const conditions: string[] = [];
    if (level.relation && level.parent) {
      for (const { here, there } of level.relation.on) {
        conditions.push(`${joins.own(there)} = p.${keyName(depth, level.parent, here)}`);
      }
    }
    if (level.pushedFilter) conditions.push(toSql(level.pushedFilter, names, this.bindings).sql);
    const order = level.sort.map(({ formula, descending }) => {
      const term = toSql(formula, names, this.bindings);
      return `${term.sql}${descending ? ' desc nulls last' : ''}`;
    });
    order.push(joins.own(level.entity.key));
    const outerOrdinal = outer ? `p.${ordinal(outer.depth, outer.level)}` : null;
    const mine = ordinal(depth, level);
    const place = `row_number() over (order by ${[outerOrdinal, ...order].filter(Boolean).join(', ')})::int as ${mine}`;
    const keys = this.keysFor(level, joins, depth);
    const first = level.drawer.first !== undefined && !level.localFilter ? level.drawer.first : null;
    const rank = `row_number() over (${outerOrdinal ? `partition by ${outerOrdinal} ` : ''}order by ${order.join(', ')}) as rank`;
    const select = [outerTable ? 'p.*' : null, ...own, ...keys, place, first === null ? null : rank].filter(Boolean);
    const where = conditions.length > 0 ? `\n  where ${conditions.join(' and ')}` : '';
    const base = joins.from();
    const from = outerTable ? `${outerTable} p join ${base} on true${joins.text()}` : `${base}${joins.text()}`;
    const body = `select ${select.join(', ')}\n  from ${from}${where}`;
    if (first === null) this.tables.push(`${name} as (${body})`);
    else {
      const kept = [outerTable ? `${name}_all.*` : '*'];
      this.tables.push(
        `${name}_all as (${body})`,
        `${name} as (select ${kept} from ${name}_all where rank <= ${first})`,
      );
    }
    return name;
  }

  /** Columns that inner levels join on. */
  private keysFor(level: Level, joins: Joins, depth: number): string[] {
    const names = new Set(level.children.flatMap((child) => child.relation!.on.map((pair) => pair.here)));
    return [...names].map((field) => `${joins.own(field)} as ${keyName(depth, level, field)}`);
  }

  private names(path: PlanPath, level: Level | null, joins: Joins | null): SqlNames {
    const depth = path.length - 1;
    return {
      field: (index, column) => {
        if (level && joins && index === level.index) return joins.column(level.columns[column - 1]!.path);
        return `p.${columnName(depth, path[depth]!.levels[index]!, column)}`;
      },
      parameter: (name, wanted) => this.parameter(path, name, wanted),
      claim: (name, wanted) => bindClaim(this.bindings, this.context.claims, name, wanted),
    };
  }

  /** A nested report's parameter becomes the formula that is linked to it, read from the outer row. */
  private parameter(path: PlanPath, name: string, wanted: CheckedType): Term {
    const depth = path.length - 1;
    const plan = path[depth]!;
    const link = plan.link?.outer ? plan.link.values[name] : undefined;
    if (link) return toSql(link, this.names(path.slice(0, depth), null, null), this.bindings, wanted);
    const value = parameterValues(path, this.context.parameters)[name] ?? null;
    const type = plan.report.parameters.find((p) => p.name === name)?.type;
    const bound = type === 'choice' || type === undefined ? 'text' : type;
    return { sql: this.bindings.bind(value, bound), solid: value !== null, type: bound };
  }
}

/** The table expression that a level's rows hang on, if any. */
const outerOf = (path: PlanPath, level: Level): { level: Level; depth: number } | null => {
  const depth = path.length - 1;
  if (level.parent) return { level: level.parent, depth };
  const outer = path[depth]!.link?.outer;
  return outer ? { level: outer, depth: depth - 1 } : null;
};

const keyName = (depth: number, level: Level, field: string): string => `k${depth}_${level.index}_${field}`;

/** Parameters of a plan that do not depend on rows: given ones, linked constants, defaults. */
const parameterValues = (path: PlanPath, given: Record<string, Value>): Record<string, Value> => {
  const plan = path.at(-1)!;
  if (path.length === 1) return given;
  const outer = parameterValues(path.slice(0, -1), given);
  const values: Record<string, Value> = {};
  for (const parameter of plan.report.parameters) {
    const link = plan.link?.values[parameter.name];
    const fallback = parameter.default ?? null;
    let value: Value = fallback;
    if (link && !plan.link?.outer) {
      const { name, timeZone, language } = plan.report;
      const report = { name, timeZone, language, runAt: new Moment(Date.now()) };
      value = compileFormula(link)({
        rows: [],
        parameters: outer,
        totals: [],
        page: { number: 0, count: null },
        report,
      });
    }
    values[parameter.name] = value instanceof FormulaError ? null : value;
  }
  return values;
};

const bindClaim = (bindings: Bindings, claims: Claims, name: string, wanted: CheckedType): Term => ({
  sql: bindings.bind(String(claims[name]), wanted === 'any' ? 'text' : wanted),
  solid: true,
  type: wanted,
});

/** A table with the joins that its columns along `one` relations need. Every table is cut to the caller's row scope. */
class Joins {
  private readonly aliases = new Map<string, { alias: string; entity: Entity }>();
  private readonly clauses: string[] = [];

  constructor(
    private readonly model: RegisteredModel,
    private readonly claims: Claims,
    private readonly bindings: Bindings,
    private readonly entity: Entity,
    private readonly alias: string,
  ) {}

  from(): string {
    return `${scoped(this.model, this.entity, this.claims, this.bindings)} ${this.alias}`;
  }

  text(): string {
    return this.clauses.map((clause) => `\n  ${clause}`).join('');
  }

  own(field: string): string {
    return this.at(this.alias, this.entity, field);
  }

  column(path: string[]): string {
    const steps = path.slice(0, -1);
    let { alias, entity } = { alias: this.alias, entity: this.entity };
    for (let i = 0; i < steps.length; i++) {
      const key = steps.slice(0, i + 1).join('.');
      const known = this.aliases.get(key);
      if (known) {
        ({ alias, entity } = known);
        continue;
      }
      const relation = entity.relations.find((r) => r.name === steps[i])!;
      const target = findEntity(this.model.model, relation.to)!;
      const next = `${this.alias}_j${this.aliases.size}`;
      const on = relation.on.map(
        (pair) => `${this.at(next, target, pair.there)} = ${this.at(alias, entity, pair.here)}`,
      );
      this.clauses.push(
        `left join ${scoped(this.model, target, this.claims, this.bindings)} ${next} on ${on.join(' and ')}`,
      );
      this.aliases.set(key, { alias: next, entity: target });
      ({ alias, entity } = { alias: next, entity: target });
    }
    return this.at(alias, entity, path.at(-1)!);
  }

  private at(alias: string, entity: Entity, field: string): string {
    return `${alias}.${quote(binding(this.model, entity).columns.get(field)!)}`;
  }
}

const binding = (model: RegisteredModel, entity: Entity): TableBinding => model.tables.get(entity.name)!;

/** An entity's table, cut to the rows that the caller may see. */
const scoped = (model: RegisteredModel, entity: Entity, claims: Claims, bindings: Bindings): string => {
  const { table, scope } = binding(model, entity);
  const rows = scope(claims);
  if (rows === 'everything') return quote(table);
  if (rows === 'nothing') return `(select * from ${quote(table)} where false)`;
  const missing = [...rows.keep.matchAll(/CLAIM\("([^"]+)"\)/g)].some((match) => claims[match[1]!] === undefined);
  if (missing) return `(select * from ${quote(table)} where false)`;
  const stub: Drawer = { id: 'scope', name: 'scope', rows: { entity: entity.name } };
  const level = new Level(0, stub, 'scope', entity, null, null);
  const result = checkFormula(rows.keep, {
    claims: true,
    name: (parts) => {
      const field = fieldAlong(model, entity, parts);
      if (!field)
        return problem('unknown-name', {}, { name: parts.join('.'), hint: `${entity.name} has no such field.` });
      return { kind: 'field', level: 0, column: level.column(parts, field), type: field.type };
    },
    total: () => problem('total-in-query'),
    suggestions: () => [],
  });
  if (!result.ok) {
    const words = result.problems.map((p) => `${p.code} ${JSON.stringify(p.data)}`).join(', ');
    throw new Error(`The row scope of ${entity.name} is wrong (${rows.keep}): ${words}`);
  }
  // The joins of a scope see whole tables: they only decide, they show nothing.
  const open: RegisteredModel = {
    ...model,
    tables: new Map([...model.tables].map(([k, t]) => [k, { ...t, scope: () => 'everything' as const }])),
  };
  const joins = new Joins(open, claims, bindings, entity, 's');
  const keep = toSql(
    result.formula,
    {
      field: (_, column) => joins.column(level.columns[column - 1]!.path),
      parameter: () => ({ sql: 'null', solid: false, type: 'any' }),
      claim: (name, wanted) => bindClaim(bindings, claims, name, wanted),
    },
    bindings,
  ).sql;
  return `(select s.* from ${quote(table)} s${joins.text()} where ${keep})`;
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
