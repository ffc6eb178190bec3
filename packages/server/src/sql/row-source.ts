import { type Level, plansOf, type ReportPlan, type RowFeed, RowProblem, type Value, type WireRow } from '@gaveta/core';
import { type Connection, ConnectionError, type RowStream, StatementError } from '../connection/connection.ts';
import type { Claims, RegisteredModel } from '../model/define.ts';
import { levelQuery, type PlanPath, type Query, type QueryContext } from './level-query.ts';

export interface SourceOptions {
  models: ReadonlyMap<string, RegisteredModel>;
  connections: ReadonlyMap<string, Connection>;
  claims: Claims;
  parameters: Record<string, Value>;
  maxRows: number;
}

/** A level's statement, and what reading it has come to. */
export interface OpenQuery {
  report: string;
  level: Level;
  query: Query;
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

/** Prepares and opens every level's query at once, on one snapshot for each connection. */
export const openRows = async (plan: ReportPlan, options: SourceOptions): Promise<OpenRows> => {
  const streams = new Map<Level, RowStream | RowProblem>();
  const queries: OpenRows['queries'] = [];
  const byConnection = new Map<string, OpenQuery[]>();
  const modelOf = (p: ReportPlan): RegisteredModel => options.models.get(p.report.model ?? '')!;
  const textOrders = await textOrdersOf(plan, modelOf, options);
  const context: QueryContext = {
    ...options,
    model: modelOf,
    textOrder: (p) => textOrders.get(modelOf(p).connection) ?? null,
  };
  for (const path of pathsOf(plan, [])) {
    const nested = path.at(-1)!;
    for (const level of nested.levels) {
      if (level.sharedWith) continue;
      const { connection } = modelOf(nested);
      const apart = path.find((p) => p.root && modelOf(p).connection !== connection && nested.link?.outer);
      if (!options.connections.has(connection))
        streams.set(level, new RowProblem('unknown-connection', { name: connection }));
      else if (apart) {
        const detail = `its rows come over another connection (${connection}) than the report around it`;
        streams.set(level, new RowProblem('query-failed', { detail }));
      } else {
        const query = levelQuery(path, level, context);
        const entry = { report: nested.report.name, level, query, rows: 0, milliseconds: 0 };
        queries.push(entry);
        byConnection.set(connection, [...(byConnection.get(connection) ?? []), entry]);
      }
    }
  }
  for (const [name, entries] of byConnection) {
    const opened = await options.connections.get(name)!.open(entries.map((e) => e.query));
    for (const [i, entry] of entries.entries()) streams.set(entry.level, opened[i]!);
  }
  const feed = async function* (level: Level): AsyncGenerator<WireRow[]> {
    const stream = streams.get(level);
    if (!stream || stream instanceof RowProblem)
      throw stream ?? new RowProblem('query-failed', { detail: 'it was not opened' });
    const entry = queries.find((q) => q.level === level)!;
    let from = performance.now();
    try {
      for await (const batch of stream) {
        entry.milliseconds += performance.now() - from;
        entry.rows += batch.length;
        if (entry.rows > options.maxRows) {
          yield batch.slice(0, batch.length - (entry.rows - options.maxRows));
          throw new RowProblem('too-many-rows', { limit: options.maxRows });
        }
        yield batch;
        from = performance.now();
      }
      entry.milliseconds += performance.now() - from;
    } catch (error) {
      throw asRowProblem(error, plan, options);
    }
  };
  const close = async (): Promise<void> => {
    for (const stream of streams.values()) if (!(stream instanceof RowProblem)) await stream.close();
  };
  return { source: feed, queries, close };
};

/** How the database of each plan names the order of texts. */
const textOrdersOf = async (
  plan: ReportPlan,
  modelOf: (plan: ReportPlan) => RegisteredModel | undefined,
  options: SourceOptions,
): Promise<Map<string, string | null>> => {
  const found = new Map<string, string | null>();
  for (const nested of plansOf(plan)) {
    const name = modelOf(nested)?.connection ?? '';
    if (!found.has(name)) found.set(name, (await options.connections.get(name)?.textOrder()) ?? null);
  }
  return found;
};

const asRowProblem = (error: unknown, plan: ReportPlan, options: SourceOptions): unknown => {
  if (error instanceof StatementError) return new RowProblem('query-failed', { detail: error.message });
  const name = options.models.get(plan.report.model ?? '')?.connection ?? '';
  if (error instanceof ConnectionError) return new RowProblem('connection-failed', { name, detail: error.message });
  return error;
};

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
