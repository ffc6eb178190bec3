import { createHash } from 'node:crypto';
import {
  type Checked,
  type Entity,
  encodeValue,
  type Field,
  isPushable,
  Moment,
  nodes,
  type PlannedRecipe,
  type PlannedSource,
  type PlannedStep,
  type PlannedTable,
  RowProblem,
  type RowsTotal,
  type Value,
  type WireRow,
  writtenParts,
} from '@gaveta/core/internal';
import type { Claims } from '../access/claims.ts';
import { ConnectionError, type ReportConnection, StatementError, type WantedField } from '../connection/connection.ts';
import type { Statement } from '../connection/statement.ts';
import type { RegisteredModel } from '../model/define.ts';
import { Bindings, SQL_TYPES, type SqlNames, toSql } from '../sql/expression.ts';
import { identifier } from '../sql/identifiers.ts';
import { quote } from '../sql/joins.ts';
import { gatheredTables, recipeTables, type Staged, writtenTables } from '../sql/plan-tables.ts';
import { formulaOf, recipeSql } from '../sql/recipe-query.ts';
import { scoped } from '../sql/scoped-tables.ts';
import { isTakenThere } from '../sql/step-sql.ts';
import { readyStatement } from '../sql/written.ts';
import { type Base, recipeBases } from './bases.ts';
import { converted, readsTexts } from './convert.ts';
import { TotalsOfRows } from './totals-of-rows.ts';
import { withinScope } from './within-scope.ts';
import { apartOf, type Bench, fillTable, type Lease } from './workbench.ts';
import { workedOut } from './worked-rows.ts';

export interface StageContext {
  models: ReadonlyMap<string, RegisteredModel>;
  connections: ReadonlyMap<string, ReportConnection>;
  claims: Claims;
  workbench: () => Bench;
  /** Most rows of one source that are copied. */
  maxStaged: number;
  signal: AbortSignal;
  /** Ends a statement that takes longer. */
  seconds: number;
}

/** What a report's formulas and texts go by. */
export interface StageSettings {
  parameters: Record<string, Value>;
  names: (bindings: Bindings) => Omit<SqlNames, 'field' | 'total'>;
  report: { name: string; timeZone: string; language: string };
  /** Whether nothing can need a field of this name; left out where all fields are shown. */
  isUnused?: (field: string) => boolean;
}

/** Whether a formula of a recipe can run in a database: there a division by nothing gives nothing. */
const recipePushes = (formula: Checked, total?: (slot: number) => boolean): boolean =>
  isPushable(formula, total, { divides: true });

const totalPushes = (total: RowsTotal | undefined): boolean =>
  total !== undefined && isTakenThere(total) && recipePushes(total.of);

/** The formula of a step that no database knows; null when there is none. */
const localFormula = ({ operation }: PlannedStep): Checked | null => {
  const formula = operation && formulaOf(operation);
  if (!formula) return null;
  const totals = operation.kind === 'add' ? operation.totals : [];
  return recipePushes(formula, (slot) => totalPushes(totals[slot])) ? null : formula;
};

const isLocal = (step: PlannedStep): boolean =>
  localFormula(step) !== null || (step.operation?.kind === 'convert' && readsTexts(step.operation));

const sourceOf = ({ operation }: PlannedStep): PlannedSource | null =>
  operation && 'source' in operation ? operation.source : null;

/** Whether some step of a recipe, or of one that it takes rows from, must be worked out outside of a database. */
export const hasLocalSteps = (recipe: PlannedRecipe): boolean =>
  recipe.steps.some((step) => {
    const source = sourceOf(step);
    return isLocal(step) || (source?.kind === 'recipe' && hasLocalSteps(source.recipe));
  });

/** The one database that all the tables stand in; null when they lie apart, or outside of any. */
export const homeOf = (
  bases: readonly Base[],
  context: Pick<StageContext, 'models' | 'connections'>,
): string | null => {
  const names = new Set(bases.map((b) => connectionOf(b, context)));
  const [name] = names;
  if (names.size !== 1 || name === undefined) return null;
  return context.connections.get(name)?.kind === 'database' ? name : null;
};

/** Parameters that decide on rows before they are copied: those of written statements, functions, and local formulas. */
export function* parametersRead(bases: Iterable<Base>, recipes: Iterable<PlannedRecipe>): Iterable<string> {
  const inFormula = (formula: Checked): string[] =>
    [...nodes(formula)].flatMap((node) => (node.kind === 'parameter' ? [node.name] : []));
  for (const base of bases) {
    if (base.kind === 'sql') {
      for (const part of writtenParts(base.text)) if ('parameter' in part) yield part.parameter;
    } else for (const formula of Object.values(base.table?.arguments ?? {})) yield* inFormula(formula);
  }
  for (const recipe of recipes) {
    for (const step of recipe.steps) {
      const formula = localFormula(step);
      const source = sourceOf(step);
      if (formula) yield* inFormula(formula);
      if (source?.kind === 'recipe') yield* parametersRead([], [source.recipe]);
    }
  }
}

export const connectionOf = (base: { model: string }, { models }: Pick<StageContext, 'models'>): string =>
  models.get(base.model)?.connection ?? '';

/** The rows of one run that had to be copied to one place, because their sources lie apart. */
export class RunStage implements Staged {
  private readonly tables = new Map<string, Promise<string>>();
  private readonly names = new Map<string, string>();
  private readonly steps = new Map<PlannedStep, string>();
  private readonly leases: Lease[] = [];

  /** `sharedFor`: milliseconds for which others who ask the same are given what was worked out; 0 for never. */
  constructor(
    private readonly context: StageContext,
    private readonly sharedFor = 0,
  ) {}

  /** Whether the rows after a step are at hand. */
  readonly stands = (step: PlannedStep): boolean => this.steps.has(step);

  entity(model: string, entity: Entity, given: PlannedTable | null): string {
    return this.names.get(entityKey(model, entity, given)) ?? 'missing';
  }

  written(operation: { model: string; text: string }): string {
    return this.names.get(`sql ${operation.model} ${operation.text}`) ?? 'missing';
  }

  step(step: PlannedStep): string | null {
    return this.steps.get(step) ?? null;
  }

  /** Copies tables, unless they are there already. */
  async copy(bases: Iterable<Base>, settings: StageSettings): Promise<void> {
    for (const base of bases) {
      const key =
        base.kind === 'sql' ? `sql ${base.model} ${base.text}` : entityKey(base.model, base.entity, base.table);
      const full = `${key} ${this.dependsOnParameters(base) ? parametersKey(settings) : ''}`;
      let table = this.tables.get(full);
      if (!table) {
        table = base.kind === 'sql' ? this.copyWritten(base, settings) : this.copyEntity(base, settings);
        this.tables.set(full, table);
      }
      this.names.set(key, await table);
    }
  }

  private dependsOnParameters(base: Base): boolean {
    const connection = this.context.connections.get(connectionOf(base, this.context));
    return base.kind === 'sql' || base.table?.entity.arguments !== undefined || connection?.kind === 'rows';
  }

  /** Works out the steps of a recipe that no database can, each over the rows of the steps before. */
  async settle(recipe: PlannedRecipe, settings: StageSettings): Promise<void> {
    for (const step of recipe.steps) {
      const source = sourceOf(step);
      if (source?.kind === 'recipe') await this.settle(source.recipe, settings);
    }
    for (const [i, step] of recipe.steps.entries()) {
      if (!isLocal(step) || this.steps.has(step)) continue;
      const work = async (): Promise<string> => {
        const before = { ...recipe, steps: recipe.steps.slice(0, i) };
        const rows = await this.rowsOf(before, settings);
        return this.worked(rows, step, recipe.steps[i - 1]!.fields, settings);
      };
      const bench = this.context.workbench();
      if (this.sharedFor === 0 || !bench.lease) this.steps.set(step, await work());
      else {
        const key = this.workKey(recipe.steps.slice(0, i + 1), settings);
        const lease = await bench.lease(key, work, this.sharedFor);
        this.leases.push(lease);
        this.steps.set(step, lease.table);
      }
    }
  }

  /** The same for the same steps over what the same person may see, with the same values. */
  private workKey(steps: readonly PlannedStep[], settings: StageSettings): string {
    const made = steps.map(({ operation, fields }) => ({ operation, fields }));
    const plain = (_: string, value: unknown): unknown => (typeof value === 'bigint' ? String(value) : value);
    const all = JSON.stringify([made, this.context.claims, settings.report, parametersKey(settings)], plain);
    return `steps ${createHash('sha256').update(all).digest('hex')}`;
  }

  /** The table with the rows after a step that is worked out here. */
  private async worked(
    rows: AsyncIterable<WireRow[]>,
    step: PlannedStep,
    before: readonly Field[],
    settings: StageSettings,
  ): Promise<string> {
    const operation = step.operation!;
    if (operation.kind === 'convert')
      return this.fill(step.fields, converted(rows, operation, settings.report.timeZone));
    const formula = localFormula(step)!;
    const { parameters } = settings;
    const around = { report: { ...settings.report, runAt: new Moment(Date.now()) }, parameters };
    if (operation.kind !== 'add' || operation.totals.length === 0)
      return this.fill(step.fields, workedOut(rows, operation, formula, before, around));
    // The totals are known after the last row: until then the rows wait at the workbench.
    const totals = new TotalsOfRows(operation, before, around);
    const waiting = await this.fill(before, totals.of(rows));
    try {
      const columns = before.map((f) => identifier(f.name)).join(', ');
      const query = { text: `select ${columns} from ${waiting}`, values: [] };
      const again = this.read(this.context.workbench().connection, query, false);
      return await this.fill(step.fields, workedOut(again, operation, formula, before, around, totals));
    } finally {
      await this.context.workbench().drop([waiting]);
    }
  }

  /** The rows after a recipe's steps, hidden fields included, in their order. */
  private async rowsOf(recipe: PlannedRecipe, settings: StageSettings): Promise<AsyncIterable<WireRow[]>> {
    const bindings = new Bindings();
    const names = settings.names(bindings);
    const bases = [...recipeBases(recipe, this.stands)];
    const stands = recipe.steps.some((s) => this.steps.has(s)) || hasLocalSteps(recipe);
    const home = stands ? null : homeOf(bases, this.context);
    if (home === null) await this.copy(bases, settings);
    const tables = recipeTables({ ...this.context, staged: home === null ? this : null }, bindings, names);
    const { text } = recipeSql(recipe, tables, names, bindings);
    const columns = (recipe.steps.at(-1)?.fields ?? []).map((f) => identifier(f.name));
    const query = { text: `select ${columns.join(', ')} from (\n${text}\n) s`, values: bindings.values };
    if (home === null) return this.read(this.context.workbench().connection, query, false);
    const byHand = bases.some((b) => b.kind === 'sql');
    const connection = this.context.connections.get(home)!;
    return this.read(connection, query, byHand);
  }

  private async *read(connection: ReportConnection, query: Statement, byHand: boolean): AsyncGenerator<WireRow[]> {
    if (connection.kind !== 'database') return;
    const { seconds, signal } = this.context;
    const asked = byHand ? { ...query, before: connection.reader ?? [] } : query;
    const [stream] = await connection.open([asked], { seconds, signal, byHand });
    try {
      yield* stream!;
    } finally {
      await stream!.close();
    }
  }

  private async copyEntity(base: Base & { kind: 'entity' }, settings: StageSettings): Promise<string> {
    const model = this.context.models.get(base.model);
    const name = connectionOf(base, this.context);
    const connection = this.context.connections.get(name);
    if (!model || !connection) throw new RowProblem('unknown-connection', { name });
    const { fields } = base.entity;
    try {
      if (connection.kind === 'rows') {
        const { claims, signal } = this.context;
        const parameters = Object.fromEntries(
          Object.entries(settings.parameters).map(([key, value]) => [key, encodeValue(value)]),
        );
        const request = {
          fields: wantedFields(fields, model, base.entity, settings, claims),
          claims,
          parameters,
          signal,
        };
        const fill = (): Promise<string> => {
          const rows = connection.read(base.entity.name, request);
          return this.fill(fields, withinScope(rows, model, base.entity, fields, claims));
        };
        const bench = this.context.workbench();
        const isKept =
          connection.version !== undefined && model.tables.get(base.entity.name)!.scope(claims) === 'everything';
        if (!isKept || !bench.lease) return await fill();
        const lease = await bench.lease(`${connection.version}/${base.entity.name}`, fill);
        this.leases.push(lease);
        return lease.table;
      }
      const bindings = new Bindings();
      const names = settings.names(bindings);
      const given = (base.entity.arguments ?? []).map(({ name: argument, type }) => {
        const term = toSql(
          base.table!.arguments[argument]!,
          { ...names, field: () => 'null', total: () => 'null' },
          bindings,
          type,
        );
        return `${term.sql}::${SQL_TYPES[type]}`;
      });
      const bound = model.tables.get(base.entity.name)!;
      const from = scoped(model, base.entity, this.context.claims, bindings, given);
      const columns = fields.map((f) => `t.${quote(bound.columns.get(f.name) ?? f.name)}`);
      const query = { text: `select ${columns.join(', ')} from ${from} t`, values: bindings.values };
      return await this.fill(fields, this.read(connection, query, false));
    } catch (error) {
      throw asRowProblem(error, name);
    }
  }

  private async copyWritten(base: Base & { kind: 'sql' }, settings: StageSettings): Promise<string> {
    const name = connectionOf(base, this.context);
    const connection = this.context.connections.get(name);
    if (!connection) throw new RowProblem('unknown-connection', { name });
    const step = base.recipe.steps.find((s) => s.operation?.kind === 'sql')!;
    const bindings = new Bindings();
    const columns = step.fields.map((f) => `q.${identifier(f.name)}${f.type === 'text' ? '::text' : ''}`);
    const model = this.context.models.get(base.model)!;
    try {
      if (connection.kind === 'rows') return await this.copyOverRows(base, model, columns, settings);
      const tables = writtenTables(model, this.context.claims, bindings);
      const { text } = readyStatement(base.text, { tables, names: settings.names(bindings) });
      const query = { text: `select ${columns.join(', ')} from (\n${text}\n) q`, values: bindings.values };
      return await this.fill(step.fields, this.read(connection, query, true));
    } catch (error) {
      throw asRowProblem(error, name);
    }
  }

  /** A statement over files, services, or rows that the host gives: the tables that it names are brought together for it. */
  private async copyOverRows(
    base: Base & { kind: 'sql' },
    model: RegisteredModel,
    columns: readonly string[],
    settings: StageSettings,
  ): Promise<string> {
    const read: Entity[] = [];
    const noting = gatheredTables(model, (entity) => {
      read.push(entity);
      return '';
    });
    readyStatement(base.text, { tables: noting, names: settings.names(new Bindings()) });
    // A scope may read any field, and the statement any that can be seen.
    const { isUnused: _, ...whole } = settings;
    const bench = apartOf(this.context.workbench());
    const apart = new RunStage({ ...this.context, workbench: () => bench });
    try {
      await apart.copy(
        read.map((entity) => ({ kind: 'entity', model: base.model, entity, table: null })),
        whole,
      );
      const bindings = new Bindings();
      const tables = gatheredTables(model, (entity) => apart.entity(base.model, entity, null));
      const { text } = readyStatement(base.text, { tables, names: settings.names(bindings) });
      const query = { text: `select ${columns.join(', ')} from (\n${text}\n) q`, values: bindings.values };
      const step = base.recipe.steps.find((s) => s.operation?.kind === 'sql')!;
      return await this.fill(step.fields, this.read(bench.connection, query, true));
    } finally {
      await apart.close();
    }
  }

  private fill(fields: readonly Field[], rows: AsyncIterable<WireRow[]>): Promise<string> {
    const { maxStaged, signal } = this.context;
    return fillTable(this.context.workbench(), fields, rows, {
      most: maxStaged,
      tooMany: () => new RowProblem('too-many-rows', { limit: maxStaged }),
      signal,
    });
  }

  async close(): Promise<void> {
    const made = await Promise.allSettled(this.tables.values());
    const names = made.flatMap((m) => (m.status === 'fulfilled' ? [m.value] : []));
    const leased = new Set(this.leases.map(({ table }) => table));
    for (const { release } of this.leases.splice(0)) release();
    const all = [...names, ...this.steps.values()].filter((name) => !leased.has(name));
    if (all.length > 0) await this.context.workbench().drop(all);
  }
}

/** The fields of an entity, each told whether the run could do without it. */
const wantedFields = (
  fields: readonly Field[],
  model: RegisteredModel,
  { name }: Entity,
  { isUnused }: StageSettings,
  claims: Claims,
): WantedField[] => {
  // A scope, or a field that is worked out, may read any of them.
  const bound = model.tables.get(name)!;
  const isPlain = isUnused !== undefined && bound.computed.size === 0 && bound.scope(claims) === 'everything';
  return fields.map(({ name: field, type }) => ({
    name: field,
    type,
    ...(isPlain && isUnused(field) ? { mayBeGone: true as const } : {}),
  }));
};

const parametersKey = ({ parameters }: StageSettings): string =>
  JSON.stringify(Object.entries(parameters).map(([name, value]) => [name, encodeValue(value)]));

const entityKey = (model: string, entity: Entity, given: PlannedTable | null): string =>
  `${model}/${entity.name}/${JSON.stringify(given?.arguments ?? {}, (_, v: unknown) => (typeof v === 'bigint' ? String(v) : v))}`;

export const asRowProblem = (error: unknown, connection: string): unknown => {
  if (error instanceof StatementError) return new RowProblem('query-failed', { detail: error.said });
  if (error instanceof ConnectionError)
    return new RowProblem('connection-failed', { name: connection, detail: error.said });
  return error;
};
