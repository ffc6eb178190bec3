import {
  type GivenParameters,
  type Level,
  type PlannedRecipe,
  parameterAt,
  phrase,
  plansOf,
  type ReportPlan,
  type RowFeed,
  RowProblem,
  relationAt,
  type Value,
  type WireRow,
} from '@gaveta/core/internal';
import type { Claims } from '../access/claims.ts';
import type { ReportConnection, ReportDatabase, RowStream } from '../connection/connection.ts';
import type { Statement } from '../connection/statement.ts';
import type { RegisteredModel } from '../model/define.ts';
import type { Bindings, SqlNames } from '../sql/expression.ts';
import { levelQuery, type PlanPath, type QueryContext } from '../sql/level-query.ts';
import { constantValue, parameterValues } from '../sql/parameters.ts';
import { planTables } from '../sql/plan-tables.ts';
import { loadParser } from '../sql/written-check.ts';
import { type Base, basesOf } from '../staging/bases.ts';
import {
  asRowProblem,
  connectionOf,
  hasLocalSteps,
  homeOf,
  parametersRead,
  RunStage,
  type StageContext,
  type StageSettings,
} from '../staging/stage.ts';
import { unusedIn } from '../staging/unused.ts';
import type { Bench } from '../staging/workbench.ts';

export interface SourceOptions {
  models: ReadonlyMap<string, RegisteredModel>;
  connections: ReadonlyMap<string, ReportConnection>;
  claims: Claims;
  parameters: Record<string, Value>;
  /** Values of parameters that only the host sets, also in nested reports. */
  host?: GivenParameters;
  maxRows: number;
  /** Most rows of one source that are brought to the workbench. */
  maxStaged?: number;
  /** Where rows of several sources come together; asked for only when it is needed. */
  workbench?: () => Bench;
  signal?: AbortSignal;
  /** A statement that takes longer is ended. */
  seconds?: number;
}

/** A level's statement, and what reading it has come to. */
export interface OpenQuery {
  report: string;
  level: Level;
  query: Statement;
  rows: number;
  /** Spent waiting for its rows. */
  milliseconds: number;
}

/** Rows of a plan and of the reports nested in it. */
export interface OpenRows {
  source: (level: Level) => RowFeed;
  /** The statement of each level, in the order of the plan. */
  queries: OpenQuery[];
  close(): Promise<void>;
}

/** Most rows of one source that are brought together with others when nothing else is said. */
export const MOST_STAGED = 2_000_000;

/** Seconds that a statement of a run may take when nothing else is said. */
const PATIENCE = 600;

/** Constant values as a statement's names, for parts that depend on no row. */
export const constantNames = (
  plan: Pick<ReportPlan, 'report'>,
  parameters: Record<string, Value>,
  bindings: Bindings,
  collation: string | null,
): Omit<SqlNames, 'field' | 'total'> => ({
  parameter: (name, wanted) => {
    const value = parameters[name] ?? null;
    const known = parameterAt(plan.report.parameters, name.split('.'));
    const type = known?.type ?? (wanted === 'any' ? 'text' : wanted);
    if (type === 'list') {
      const of = known?.kind === 'parameter' ? (known.of ?? 'text') : 'text';
      return { sql: bindings.bindList(value, of), solid: false, type };
    }
    return { sql: bindings.bind(value, type), solid: value !== null, type };
  },
  timeZone: plan.report.timeZone,
  collation,
  constant: (formula) => constantValue(formula, plan, parameters),
});

/** Prepares and opens every level's query at once, on one snapshot for each connection. */
export const openRows = async (plan: ReportPlan, options: SourceOptions): Promise<OpenRows> => {
  await loadParser();
  const opener = new Opener(options);
  try {
    return await opener.open(plan);
  } catch (error) {
    await opener.close();
    throw error;
  }
};

/** Where a plan's statements run, and which tables they read. */
interface Home {
  name: string;
  connection: ReportDatabase;
  staged: RunStage | null;
  bases: Base[];
}

class Opener {
  private readonly streams = new Map<Level, RowStream | RowProblem>();
  private readonly queries: OpenQuery[] = [];
  private readonly abort = new AbortController();
  private readonly context: StageContext;
  private readonly stage: RunStage;
  private readonly homes = new Map<Level, string>();
  private isUnused: (field: string) => boolean = () => false;
  private readonly orders = new Map<ReportDatabase, Promise<string | null>>();

  constructor(private readonly options: SourceOptions) {
    const { models, connections, claims, maxStaged = MOST_STAGED, workbench, signal, seconds = PATIENCE } = options;
    signal?.addEventListener('abort', () => this.abort.abort(), { once: true });
    this.context = {
      models,
      connections,
      claims,
      maxStaged,
      seconds,
      signal: this.abort.signal,
      workbench: workbench ?? noWorkbench,
    };
    this.stage = new RunStage(this.context);
  }

  async open(plan: ReportPlan): Promise<OpenRows> {
    this.isUnused = unusedIn([...pathsOf(plan, [])].map((path) => path.at(-1)!));
    const byHome = new Map<string, { home: Home; entries: OpenQuery[] }>();
    for (const path of pathsOf(plan, [])) {
      const nested = path.at(-1)!;
      const levels = nested.levels.filter((level) => !level.sharedWith && level.isFetched);
      let home: Home | RowProblem;
      try {
        home = await this.homeOf(path);
      } catch (error) {
        if (!(error instanceof RowProblem)) throw error;
        home = error;
      }
      for (const level of levels) {
        // The layout refuses these itself; their statement would give rows that nobody asked for.
        if (level.refused) continue;
        if (home instanceof RowProblem) {
          this.streams.set(level, home);
          continue;
        }
        let query: Statement;
        try {
          query = levelQuery(path, level, await this.queryContext(home));
        } catch (error) {
          const found = asRowProblem(error, home.name);
          if (!(found instanceof RowProblem)) throw error;
          this.streams.set(level, found);
          continue;
        }
        const entry = { report: nested.report.name, level, query, rows: 0, milliseconds: 0 };
        this.queries.push(entry);
        this.homes.set(level, home.name);
        const byHand = home.staged === null && home.bases.some((b) => b.kind === 'sql');
        const key = `${home.staged ? 'workbench' : home.name} ${byHand}`;
        const group = byHome.get(key) ?? { home, entries: [] };
        group.entries.push(entry);
        byHome.set(key, group);
      }
    }
    for (const { home, entries } of byHome.values()) {
      const { signal, seconds } = this.context;
      const byHand = home.staged === null && home.bases.some((b) => b.kind === 'sql');
      const asked = byHand
        ? entries.map((e) => ({ ...e.query, before: home.connection.reader ?? [] }))
        : entries.map((e) => e.query);
      const opened = await home.connection.open(asked, { signal, seconds, byHand });
      for (const [i, entry] of entries.entries()) this.streams.set(entry.level, opened[i]!);
    }
    return { source: (level) => this.feed(level), queries: this.queries, close: () => this.close() };
  }

  /** The database in which the statements of a plan run: where its rows lie, or the workbench with copies of them. */
  private async homeOf(path: PlanPath): Promise<Home> {
    // The statements of a nested report contain those of the rows that it hangs on.
    const within = path.filter((_, i) => i === path.length - 1 || path.slice(i + 1).some((q) => q.link?.outer));
    const bases = within.flatMap((p) => [...basesOf(p)]);
    for (const base of bases) {
      const name = connectionOf(base, this.options);
      if (!this.options.connections.has(name)) throw new RowProblem('unknown-connection', { name });
    }
    const local = within.some((p) => [...usedQueries(p)].some(hasLocalSteps));
    const name = local ? null : homeOf(bases, this.options);
    if (name !== null)
      return { name, connection: this.options.connections.get(name) as ReportDatabase, staged: null, bases };
    for (const [i, p] of path.entries()) {
      if (!within.includes(p)) continue;
      // What is copied once cannot depend on each row of the report around.
      for (const name of p.link?.outer ? parametersRead(basesOf(p), usedQueries(p)) : []) {
        if (p.link?.values[name] === undefined) continue;
        const detail = phrase('set-by-each-row', { name });
        throw new RowProblem('query-failed', { detail });
      }
      const settings = await this.settings(path.slice(0, i + 1));
      for (const query of usedQueries(p)) await this.stage.settle(query, settings);
      await this.stage.copy(basesOf(p, this.stage.stands), settings);
    }
    return { name: 'workbench', connection: this.context.workbench().connection, staged: this.stage, bases };
  }

  private async settings(path: PlanPath): Promise<StageSettings> {
    const plan = path.at(-1)!;
    const parameters = parameterValues(path, this.options.parameters, this.options.host ?? {});
    const { name, timeZone, language } = plan.report;
    return {
      parameters,
      names: (bindings) => constantNames(plan, parameters, bindings, null),
      report: { name, timeZone, language },
      isUnused: this.isUnused,
    };
  }

  private async queryContext(home: Home): Promise<QueryContext> {
    const order = this.orders.get(home.connection) ?? home.connection.textOrder();
    this.orders.set(home.connection, order);
    const textOrder = await order;
    const { claims, parameters, maxRows, models, host = {} } = this.options;
    return {
      claims,
      parameters,
      host,
      maxRows,
      textOrder: () => textOrder,
      tables: (plan, bindings, names) =>
        planTables(plan, { models, claims, staged: home.staged, isUnused: this.isUnused }, bindings, names),
    };
  }

  private async *feed(level: Level): AsyncGenerator<WireRow[]> {
    const stream = this.streams.get(level);
    if (!stream || stream instanceof RowProblem)
      throw stream ?? new RowProblem('query-failed', { detail: phrase('not-opened') });
    const entry = this.queries.find((q) => q.level === level)!;
    const { maxRows } = this.options;
    let from = performance.now();
    try {
      for await (const batch of stream) {
        entry.milliseconds += performance.now() - from;
        entry.rows += batch.length;
        if (entry.rows > maxRows) {
          yield batch.slice(0, batch.length - (entry.rows - maxRows));
          throw new RowProblem('too-many-rows', { limit: maxRows });
        }
        yield batch;
        from = performance.now();
      }
      entry.milliseconds += performance.now() - from;
    } catch (error) {
      throw asRowProblem(error, this.homes.get(level) ?? '');
    }
  }

  async close(): Promise<void> {
    const streams = [...this.streams.values()].filter((s) => !(s instanceof RowProblem)) as RowStream[];
    for (const stream of streams) await stream.close();
    await this.stage.close();
  }
}

const noWorkbench = (): never => {
  throw new RowProblem('query-failed', { detail: phrase('no-workbench') });
};

/** The queries of a report that its levels read. */
function* usedQueries(plan: ReportPlan): Iterable<PlannedRecipe> {
  const used = new Set([...basesOf(plan)].flatMap((b) => (b.kind === 'sql' ? [b.recipe] : [])));
  for (const [name, query] of plan.queries) {
    const isUsed = plan.levels.some((level) => level.entity.name === name || readsAlong(plan, level, name));
    if (isUsed || used.has(query)) yield query;
  }
}

/** Whether a level's columns lead to an entity along relations. */
const readsAlong = (plan: ReportPlan, level: Level, name: string): boolean =>
  level.columns.some((column) => {
    if (column.kind !== 'field') return false;
    let entity: ReportPlan['levels'][number]['entity'] | undefined = level.entity;
    for (const step of column.path.slice(0, -1)) {
      const to: string | undefined = entity && relationAt(entity, step)?.to;
      if (to === name) return true;
      entity = plan.model?.entities.find((e) => e.name === to);
    }
    return false;
  });

/** Each plan with the plans around it. */
function* pathsOf(plan: ReportPlan, around: PlanPath): Iterable<PlanPath> {
  const path = [...around, plan];
  if (plan.levels.length > 0) yield path;
  const direct = new Set<ReportPlan>();
  for (const nested of plansOf(plan)) {
    if (nested === plan || !nested.link) continue;
    if ([...direct].some((d) => [...plansOf(d)].includes(nested))) continue;
    direct.add(nested);
    yield* pathsOf(nested, path);
  }
}
