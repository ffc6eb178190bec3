import {
  type Checked,
  type CheckedType,
  conjuncts,
  type GivenParameters,
  type Grouping,
  groupOrder,
  hasTotals,
  isCount,
  joinConjuncts,
  type Level,
  type LevelSort,
  parameterAt,
  type ReportPlan,
  type TotalPlan,
  type Value,
} from '@gaveta/core/internal';
import type { Claims } from '../access/claims.ts';
import type { Statement } from '../connection/statement.ts';
import { Bindings, type SqlNames, type Term, toSql } from './expression.ts';
import { Joins, type Tables } from './joins.ts';
import { constantValue, parameterValues } from './parameters.ts';
import { countedGroups, decidingTotals, ranksOf, stateSql } from './totals.ts';

export interface QueryContext {
  claims: Claims;
  /** Values of the outermost report's parameters. */
  parameters: Record<string, Value>;
  /** Values of parameters that only the host sets, also in nested reports. */
  host: GivenParameters;
  /** What a plan's levels take rows from, in the database that the statement runs in. */
  tables: (plan: ReportPlan, bindings: Bindings, parameters: Omit<SqlNames, 'field' | 'total'>) => Tables;
  /** One row more than this is asked for, so that the limit can be told from the end. */
  maxRows: number;
  /** The collation in which a plan’s texts are ordered, as SQL; null for the plain order of characters. */
  textOrder: (plan: ReportPlan) => string | null;
}

/** A plan with the plans around it, outermost first. */
export type PlanPath = readonly ReportPlan[];

/**
 * The one query that brings every row of a level, for all parent rows at once. Its first column is the ordinal of the
 * parent row, by which the rows are merged; the levels around it are common table expressions in the same statement, so
 * a nested report's rows join to the rows of the report around it in the same way. Totals that stand before their rows
 * come as columns of the rows.
 *
 * A level whose own totals decide on its rows is built twice: first with all its rows, under which the totals are
 * counted, then cut and put in order by them.
 */
export const levelQuery = (path: PlanPath, level: Level, context: QueryContext): Statement =>
  new LevelQuery(context).build(path, level);

/** Levels whose rows are taken before their totals decide on them. */
type Under = readonly Level[];
const NONE: Under = [];

/** A level in a statement: a nested report's levels lie deeper than those of the report around it. */
interface LevelPlace {
  path: PlanPath;
  level: Level;
}

/** Names of a level's columns in the statement. */
const at = ({ path, level }: LevelPlace): string => `${path.length - 1}_${level.index}`;
const ordinalOf = (place: LevelPlace): string => `n${at(place)}`;
const firstOrdinalOf = (place: LevelPlace): string => `m${at(place)}`;
const keyOf = (place: LevelPlace, field: string): string => `k${at(place)}_${field}`;
const groupOf = (place: LevelPlace, group: number): string => `g${at(place)}_${group}`;
const totalOf = (place: LevelPlace, slot: number): string => `t${place.path.length - 1}_${slot}`;

/** The place whose columns a level's fields stand in: those of a shared row are the outer report's. */
const owner = (place: LevelPlace): LevelPlace =>
  place.level.sharedWith ? owner({ path: place.path.slice(0, -1), level: place.level.sharedWith }) : place;

/** The place whose rows a level's rows hang on, if any. */
const outerOf = ({ path, level }: LevelPlace): LevelPlace | null => {
  if (level.parent) return owner({ path, level: level.parent });
  const outer = path.at(-1)!.link?.outer;
  return outer ? owner({ path: path.slice(0, -1), level: outer }) : null;
};

const planOf = (place: LevelPlace): ReportPlan => place.path.at(-1)!;

class LevelQuery {
  private readonly bindings = new Bindings();
  private readonly tables: string[] = [];
  private readonly built = new Set<string>();

  constructor(private readonly context: QueryContext) {}

  build(path: PlanPath, level: Level): Statement {
    if (level.grouping) return this.groups(path, level, level.grouping);
    const place: LevelPlace = { path, level };
    const table = this.table(place, NONE);
    const outer = outerOf(place);
    const deciding = decidingTotals(planOf(place), level);
    const joins: string[] = [];
    const columns = level.columns.map((column, i) => {
      switch (column.kind) {
        case 'field':
          return `q.${columnOf(place, i + 1)}`;
        case 'depth':
        case 'value':
        case 'state':
        case 'times':
          return 'null';
        case 'total': {
          const { total } = column;
          if (total.name === 'RANK' || deciding.includes(total)) return `q.${totalOf(place, total.slot)}`;
          joins.push(this.totalJoin(place, total, NONE, 'q'));
          return `${totalOf(place, total.slot)}.v`;
        }
        default:
          return column satisfies never;
      }
    });
    const parent = outer ? `q.${ordinalOf(outer)}` : '1';
    const select = [parent, ...columns].join(', ');
    const text = `with ${this.tables.join(',\n')}\nselect ${select} from ${table} q${joins.join('')} order by q.${ordinalOf(place)} limit ${this.context.maxRows + 1}`;
    return { text, values: this.bindings.values };
  }

  /** The rows of a level in groups: by what they hang on, then by the values that they have in common. */
  private groups(path: PlanPath, level: Level, { counted, scope }: Grouping): Statement {
    const place = owner({ path, level: counted });
    const table = this.table(place, NONE);
    const names = this.names(place, (column) => columnOf(place, column));
    const of: LevelPlace = owner({ path, level: scope.level });
    const outer = outerOf(of);
    const group = groupOf(of, scope.group);
    let from = table;
    let parent = outer ? ordinalOf(outer) : '1';
    if (scope.kind === 'row') parent = ordinalOf(of);
    else if (scope.kind === 'group') {
      // A group goes by the number of its first row, since groups come in the order of their rows.
      const first = `select ${group} as g, min(${ordinalOf(of)}) as instance from ${this.table(of, NONE)} group by 1`;
      from = `${table} join (${first}) i on i.g = ${group}`;
      parent = 'i.instance';
    }
    const columns = level.columns.map((column) => {
      switch (column.kind) {
        case 'value':
          return toSql(column.formula, names, this.bindings).sql;
        case 'state':
          return stateSql(
            column.total,
            toSql(column.total.formula, names, this.bindings),
            ordinalOf(place),
            names.collation,
          );
        case 'times':
          return 'count(*)';
        case 'field':
        case 'depth':
        case 'total':
          throw new Error(`A level of groups has no column of ${column.kind}`);
        default:
          return column satisfies never;
      }
    });
    const grouped = ['1', ...level.columns.flatMap(({ kind }, i) => (kind === 'value' ? [String(i + 2)] : []))];
    const text = `with ${this.tables.join(',\n')}\nselect ${[parent, ...columns].join(', ')} from ${from} group by ${grouped.join(', ')} order by 1 limit ${this.context.maxRows + 1}`;
    return { text, values: this.bindings.values };
  }

  /**
   * Adds the level's table expression, after those it stands on; gives its name. The rows of the levels in `under` are
   * those before their totals decide on them.
   */
  private table(given: LevelPlace, under: Under): string {
    const place = owner(given);
    const { level } = place;
    const around = place.path === given.path ? under.filter((first) => level.isWithin(first)) : NONE;
    const name = `l${at(place)}${around.map((first) => `_u${first.index}`).join('')}`;
    if (this.built.has(name)) return name;
    this.built.add(name);
    if (around.includes(level)) this.tables.push(this.rowsBefore(place, around, name));
    else if (decidingTotals(planOf(place), level).length > 0) this.tables.push(...this.rowsAfter(place, around, name));
    else this.tables.push(...this.rowsAtOnce(place, around, name));
    return name;
  }

  /** What every table expression of a level selects, and from where. */
  private parts(place: LevelPlace, under: Under, keeps: (part: Checked) => boolean) {
    const { path, level } = place;
    const outer = outerOf(place);
    const outerTable = outer ? this.table(outer, outer.path === path ? under : NONE) : null;
    const joins = new Joins(this.tablesOf(path), level.entity, 't');
    const own = level.columns.flatMap((column, i) =>
      column.kind === 'field' ? [`${joins.column(column.path)} as ${columnOf(place, i + 1)}`] : [],
    );
    const names = this.names(place, (column) => {
      const found = level.columns[column - 1]!;
      return found.kind === 'field' ? joins.column(found.path) : 'null';
    });
    const conditions: string[] = [];
    if (level.relation && outer) {
      for (const { here, there } of level.relation.on) {
        conditions.push(`${joins.own(there)} = p.${keyOf(outer, here)}`);
      }
    }
    const kept = joinConjuncts(level.pushedFilter ? conjuncts(level.pushedFilter).filter(keeps) : []);
    if (kept) conditions.push(toSql(kept, names, this.bindings).sql);
    const keys = [...this.keysFor(level)].map((field) => `${joins.own(field)} as ${keyOf(place, field)}`);
    const outerOrdinal = outer ? `p.${ordinalUnder(outer, under, path)}` : null;
    const select = [...(outerTable ? ['p.*'] : []), ...own, ...keys];
    const from = (): string => {
      const base = joins.from();
      const tables = outerTable ? `${outerTable} p join ${base} on true${joins.text()}` : `${base}${joins.text()}`;
      return conditions.length > 0 ? `${tables}\n  where ${conditions.join(' and ')}` : tables;
    };
    return { select, names, outerOrdinal, from, key: joins.own(level.entity.key) };
  }

  /** A level without totals that decide: filtered, put in order and cut in one step. */
  private rowsAtOnce(place: LevelPlace, under: Under, name: string): string[] {
    const { select, names, outerOrdinal, from, key } = this.parts(place, under, () => true);
    const ordered = this.ordered(place, names, outerOrdinal, key);
    const body = `select ${[...select, ...ordered].join(', ')}\n  from ${from()}`;
    return this.finished(place, under, name, body);
  }

  /** All rows of a level whose totals decide on them. */
  private rowsBefore(place: LevelPlace, under: Under, name: string): string {
    const { select, names, outerOrdinal, from, key } = this.parts(place, under, (part) => !hasTotals(part));
    const over = [outerOrdinal, key].filter(Boolean).join(', ');
    const groups = this.groupColumns(place, names, outerOrdinal, firstGroupOf);
    const columns = [...select, `row_number() over (order by ${over})::int as ${firstOrdinalOf(place)}`, ...groups];
    return `${name} as (select ${columns.join(', ')}\n  from ${from()})`;
  }

  /** The rows of a level that its totals leave, in the order that they ask for. */
  private rowsAfter(place: LevelPlace, under: Under, name: string): string[] {
    const { level } = place;
    const plan = planOf(place);
    const within = [...under, level];
    const before = this.table(place, within);
    const deciding = decidingTotals(plan, level);
    const joins = deciding.map((total) => this.totalJoin(place, total, within, 'b'));
    const value = (total: TotalPlan): string => {
      const state = `${totalOf(place, total.slot)}.v`;
      const counts = total.name === 'SUM' || isCount(total.name);
      return counts ? `coalesce(${state}, 0)` : state;
    };
    const names: SqlNames = {
      ...this.names(place, (column) => `b.${columnOf(place, column)}`),
      total: (slot) => value(plan.totals[slot]!),
    };
    const outer = outerOf(place);
    const outerOrdinal = outer ? `b.${ordinalUnder(outer, under, place.path)}` : null;
    const ordered = this.ordered(place, names, outerOrdinal, `b.${keyOf(place, level.entity.key)}`);
    const decided = level.pushedFilter ? joinConjuncts(conjuncts(level.pushedFilter).filter(hasTotals)) : null;
    const where = decided ? `\n  where ${toSql(decided, names, this.bindings).sql}` : '';
    const values = deciding.map((total) => `${value(total)} as ${totalOf(place, total.slot)}`);
    const columns = ['b.*', ...values, ...ordered];
    return this.finished(
      place,
      under,
      name,
      `select ${columns.join(', ')}\n  from ${before} b${joins.join('')}${where}`,
    );
  }

  /** The columns that put rows in order and number their groups. */
  private ordered(place: LevelPlace, names: SqlNames, outerOrdinal: string | null, key: string) {
    const { level } = place;
    const sorts: LevelSort[] = [...level.groups.flatMap(groupOrder), ...level.sort];
    const order = [...(level.sortsLocally ? [] : sorts.map((sort) => this.sortSql(sort, names))), key];
    const over = [outerOrdinal, ...order].filter(Boolean).join(', ');
    const ordinal = cutsOf(level).length > 0 ? uncutOrdinalOf(place) : ordinalOf(place);
    const columns = [`row_number() over (order by ${over})::int as ${ordinal}`];
    columns.push(...this.groupColumns(place, names, outerOrdinal, groupOf));
    return columns;
  }

  /** Ranks of a level's rows, among those that are left. */
  private ranks(place: LevelPlace, under: Under): string[] {
    const names = this.names(place, (column) => columnOf(place, column));
    return ranksOf(planOf(place), place.level).map((rank) => {
      const parts = this.rankParts(place, rank, names, under);
      const partition = parts.length > 0 ? `partition by ${parts.join(', ')} ` : '';
      const by = toSql(rank.formula, names, this.bindings).sql;
      return `rank() over (${partition}order by ${by} desc nulls last) as ${totalOf(place, rank.slot)}`;
    });
  }

  /** What the rows that a rank compares have in common. */
  private rankParts(place: LevelPlace, { scope }: TotalPlan, names: SqlNames, under: Under): string[] {
    const { path } = place;
    const isRow = scope.level !== place.level && scope.kind === 'row';
    const around = isRow ? { path, level: scope.level } : outerOf({ path, level: scope.level });
    const outer = around ? [ordinalUnder(around, under, path)] : [];
    if (scope.kind !== 'group') return outer;
    return [
      ...outer,
      ...scope.level.groups.slice(0, scope.group + 1).map((g) => toSql(g.key, names, this.bindings).sql),
    ];
  }

  private sortSql({ formula, descending, blanksFirst }: LevelSort, names: SqlNames): string {
    const term = toSql(formula, names, this.bindings);
    const text = term.type === 'text' ? ` collate ${names.collation ?? '"C"'}` : '';
    return `${term.sql}${text}${descending ? ' desc' : ''} nulls ${blanksFirst ? 'first' : 'last'}`;
  }

  /** Numbers for the groups of a level that totals count. */
  private groupColumns(
    place: LevelPlace,
    names: SqlNames,
    outerOrdinal: string | null,
    name: (place: LevelPlace, group: number) => string,
  ): string[] {
    return countedGroups(planOf(place), place.level).map((group) => {
      const keys = place.level.groups.slice(0, group + 1).map((g) => toSql(g.key, names, this.bindings).sql);
      const over = [outerOrdinal, ...keys].filter(Boolean).join(', ');
      return `dense_rank() over (order by ${over})::int as ${name(place, group)}`;
    });
  }

  /** The table expressions of rows in order: cut to the first where that can be done here, and ranked. */
  private finished(place: LevelPlace, under: Under, name: string, body: string): string[] {
    const cuts = cutsOf(place.level);
    const ranks = this.ranks(place, under);
    if (cuts.length === 0 && ranks.length === 0) return [`${name} as (${body})`];
    let from = `${name}_all`;
    const tables = [`${from} as (${body})`];
    const names = this.names(place, (column) => columnOf(place, column));
    const outer = outerOf(place);
    for (const [i, { groups, first }] of cuts.entries()) {
      const keys = place.level.groups.slice(0, groups).map((g) => toSql(g.key, names, this.bindings).sql);
      const parts = [...(outer ? [ordinalUnder(outer, under, place.path)] : []), ...keys];
      const partition = parts.length > 0 ? `partition by ${parts.join(', ')} ` : '';
      const order = `${placeOf(place)}_${i}`;
      const placed = `select *, row_number() over (${partition}order by ${uncutOrdinalOf(place)}) as ${order} from ${from}`;
      from = `${name}_cut${i}`;
      tables.push(`${from} as (select * from (${placed}) c where ${order} <= ${first})`);
    }
    // Rows are numbered without gaps, since whoever reads them counts.
    const ordinal =
      cuts.length > 0 ? [`row_number() over (order by ${uncutOrdinalOf(place)})::int as ${ordinalOf(place)}`] : [];
    tables.push(`${name} as (select ${['*', ...ordinal, ...ranks].join(', ')} from ${from})`);
    return tables;
  }

  /** A join that brings a total to each row of its scope's level. */
  private totalJoin(place: LevelPlace, total: TotalPlan, under: Under, alias: string): string {
    const { path, level } = place;
    const { scope, counted } = total;
    const counts: LevelPlace = owner({ path, level: counted });
    const table = this.table(counts, under);
    const first = under.includes(level);
    const outer = outerOf(place);
    const key =
      scope.kind === 'row'
        ? first
          ? firstOrdinalOf(place)
          : ordinalOf(place)
        : scope.kind === 'group'
          ? (first ? firstGroupOf : groupOf)(place, scope.group)
          : outer && ordinalUnder(outer, under, path);
    const name = totalOf(place, total.slot);
    const cte = `a${name}${under.map((l) => `_u${l.index}`).join('')}`;
    if (!this.built.has(cte)) {
      this.built.add(cte);
      const names = this.names(counts, (column) => columnOf(counts, column));
      const order = under.includes(counted) ? firstOrdinalOf(counts) : ordinalOf(counts);
      const state = stateSql(total, toSql(total.formula, names, this.bindings), order, names.collation);
      const group = key ? ` group by ${key}` : '';
      this.tables.push(`${cte} as (select ${key ?? '1'} as k, ${state} as v from ${table}${group})`);
    }
    return `\n  left join ${cte} ${name} on ${name}.k = ${key ? `${alias}.${key}` : '1'}`;
  }

  private tablesOf(path: PlanPath): Tables {
    return this.context.tables(path.at(-1)!, this.bindings, this.names(null, null, path));
  }

  /** Columns that other levels join on. */
  private keysFor(level: Level): Set<string> {
    const children = level.children.flatMap((child) => child.relation?.on.map((pair) => pair.here) ?? []);
    return new Set([...children, ...level.linkKeys, level.entity.key]);
  }

  /** `own`: SQL of a column of the place's own level. */
  private names(
    place: LevelPlace | null,
    own: ((column: number) => string) | null,
    path = place?.path ?? [],
  ): SqlNames {
    const plan = path.at(-1)!;
    return {
      field: (index, column) => {
        if (place && own && index === place.level.index) return own(column);
        return columnOf({ path, level: plan.levels[index]! }, column);
      },
      parameter: (name, wanted) => this.parameter(path, name, wanted),
      total: (slot) => totalOf({ path, level: plan.totals[slot]!.scope.level }, slot),
      timeZone: plan.report.timeZone,
      collation: this.context.textOrder(plan),
      constant: plan.link?.outer ? undefined : (formula) => constantValue(formula, plan, this.parameters(path)),
    };
  }

  private parameters(path: PlanPath): Record<string, Value> {
    return parameterValues(path, this.context.parameters, this.context.host);
  }

  /** A nested report's parameter becomes the formula that is linked to it, read from the outer row. */
  private parameter(path: PlanPath, name: string, wanted: CheckedType): Term {
    const plan = path.at(-1)!;
    const link = plan.link?.outer ? plan.link.values[name] : undefined;
    if (link) return toSql(link, this.names(null, null, path.slice(0, -1)), this.bindings, wanted);
    const value = this.parameters(path)[name] ?? null;
    const parameter = parameterAt(plan.report.parameters, name.split('.'));
    const type = parameter?.type ?? 'text';
    if (type === 'list') {
      const of = parameter?.kind === 'parameter' ? (parameter.of ?? 'text') : 'text';
      return { sql: this.bindings.bindList(value, of), solid: false, type };
    }
    return { sql: this.bindings.bind(value, type), solid: value !== null, type };
  }
}

/** What the database cuts a level to, in order: the first rows of each of so many groups, or of all. */
const cutsOf = (level: Level): { groups: number; first: number }[] => {
  const { drawer, localFilter, settlesLocally, groups } = level;
  if (localFilter || settlesLocally) return [];
  const cuts = groups.flatMap(({ group: { first } }, g) => (first === undefined ? [] : [{ groups: g + 1, first }]));
  if (drawer.first !== undefined && !drawer.others) cuts.unshift({ groups: 0, first: drawer.first });
  return cuts.reverse();
};

const uncutOrdinalOf = (place: LevelPlace): string => `f${at(place)}`;

const placeOf = (place: LevelPlace): string => `o${at(place)}`;

const firstGroupOf = (place: LevelPlace, group: number): string => `h${at(place)}_${group}`;

/** Name of a level's column; 1-based as in its rows. */
const columnOf = (place: LevelPlace, column: number): string => `c${at(owner(place))}_${column}`;

/** The ordinal by which rows under a level hang on it. */
const ordinalUnder = (outer: LevelPlace, under: Under, path: PlanPath): string =>
  outer.path === path && under.includes(outer.level) ? firstOrdinalOf(outer) : ordinalOf(outer);
