import {
  explainReport,
  hasFolds,
  hasSwitches,
  type LayoutTrace,
  type Level,
  levelKeys,
  Moment,
  needsRows,
  type PlanContext,
  planReport,
  plansOf,
  type QueryProfile,
  type ReportPlan,
  ROWS_VERSION,
  RowProblem,
  type RowSource,
  readParameters,
  runReport,
  TraceDiffers,
  type WireRow,
} from '@gaveta/core/internal';
import { writeReport } from '@gaveta/output';
import { withText } from '../base/problem-text.ts';
import { type OpenRows, openRows } from '../rows/row-source.ts';
import { basesOf } from '../staging/bases.ts';
import { type Calls, joined } from './calls.ts';
import { fileSink, refusalOf } from './file-sink.ts';
import type {
  ExplainTask,
  KeptRows,
  ListCalls,
  ListTask,
  PartCalls,
  PartsTask,
  PlainModel,
  ReportTask,
  RowCalls,
  RunCalls,
  RunResult,
  TaskAnswers,
  ThreadTask,
} from './job.ts';
import { keepingRows, keptBefore, keptRows } from './kept-rows.ts';
import { Outbox } from './outbox.ts';
import { makeParts } from './parts.ts';
import { giveWay } from './priority.ts';
import { benchOver, connectionsOver, modelsOver } from './row-client.ts';
import { threadEquipment } from './thread-equipment.ts';
import type { ThreadCalls } from './thread-pool.ts';

giveWay();

const equipment = threadEquipment();

/** The models that were asked for last: they seldom change. */
let known: { key: string; models: PlainModel[] } | null = null;

/**
 * Works on one report in a thread of its own: plans it, asks for its rows where the connections are, and lays it out.
 * Whatever takes long here holds up nobody else, and ends with the thread.
 */
export default async ({
  task,
  job,
  connections,
  modelsKey,
  port,
}: ThreadTask): Promise<TaskAnswers[keyof TaskAnswers]> => {
  const ended = new AbortController();
  const ours: ThreadCalls = {
    cancel: async () => ended.abort(),
  };
  const host = joined<RowCalls & RunCalls & ListCalls & PartCalls>(port, ours);
  try {
    if (known?.key !== modelsKey) known = { key: modelsKey, models: await host.models() };
    const { models } = known;
    const context: PlanContext = {
      models: models.map(({ model }) => model),
      report: (id) => job.nested.get(id) ?? null,
      recipe: (id) => job.recipes.find((recipe) => recipe.id === id) ?? null,
      rowsFromDatabase: true,
      rowKeys: true,
      functions: (await equipment).functions,
      language: job.language,
    };
    const started = performance.now();
    const plan = planReport(job.report, context);
    const work: Work = { job, plan, models, host, context, connections, signal: ended.signal, started };
    switch (task.kind) {
      case 'run':
        return await run(work, task);
      case 'list':
        return await list(work, task);
      case 'explain':
        return await explain(work, task);
      case 'parts':
        return await partsOf(work, task);
      case 'rows':
        return await rowsOf(work);
      case 'check':
        return plan.problems;
      case 'models':
        return modelsOf(plan);
      default:
        return task satisfies never;
    }
  } finally {
    port.close();
  }
};

interface Work extends Pick<ThreadTask, 'job' | 'connections'> {
  plan: ReportPlan;
  models: PlainModel[];
  host: Calls<RowCalls & RunCalls & ListCalls & PartCalls>;
  context: PlanContext;
  signal: AbortSignal;
  started: number;
}

const modelsOf = (plan: ReportPlan): string[] => [
  ...new Set([...plansOf(plan)].flatMap((nested) => [...basesOf(nested)].map((base) => base.model))),
];

const parametersOf = ({ plan, job }: Pick<Work, 'plan' | 'job'>): ReturnType<typeof readParameters> => {
  const { parameters, host, use, now } = job;
  return readParameters(plan.report, parameters, { host, use, now });
};

const open = async ({ job, plan, models, host, connections, signal }: Work): Promise<OpenRows> => {
  const scopes = await host.scopes(modelsOf(plan));
  const { claims, maxRows, maxStaged, seconds } = job;
  return openRows(plan, {
    models: modelsOver(host, models, scopes),
    connections: connectionsOver(host, connections),
    claims,
    parameters: parametersOf({ plan, job }).values,
    host: job.host,
    maxRows,
    maxStaged,
    workbench: () => benchOver(host),
    signal,
    seconds,
  });
};

/** Rows as they are laid out: those that were kept may be decoded already. */
type RowsOfRun = Omit<OpenRows, 'source'> & { source: RowSource };

/** Whether readers can open and close, or switch off, something in a report. */
const canTurn = (plan: ReportPlan): boolean => hasFolds(plan) || hasSwitches(plan);

/** The rows of a run, kept so that it can be laid out anew, and become files of rows. */
class RunRows {
  private keeps = true;
  private queries: OpenRows['queries'] = [];

  private isKept = false;

  constructor(
    private readonly work: Work,
    /** Those of the run before. */
    private readonly before: KeptRows | null,
  ) {}

  /** Called for each time that the report is laid out. */
  async open(): Promise<RowsOfRun> {
    const { plan, host, signal } = this.work;
    if (this.before) return { ...(await keptBefore(plan, host, this.before)), queries: [] };
    if (this.isKept) return { ...keptRows(plan, host), queries: this.queries };
    const opened = await open(this.work);
    this.queries = opened.queries;
    if (!this.keeps) return opened;
    return keepingRows(opened, plan, host, signal, (isWhole) => {
      this.isKept = isWhole;
      this.keeps = false;
    });
  }
}

const run = async (work: Work, task: Extract<ReportTask, { kind: 'run' }>): Promise<RunResult> => {
  const { plan, host } = work;
  const rows = new RunRows(work, task.again?.rows ?? null);
  if (!canTurn(plan)) return layOut(work, task, rows, undefined);
  const data = task.again?.rows ? await host.traceBefore() : null;
  const before = data && (JSON.parse(Buffer.from(data).toString()) as LayoutTrace);
  try {
    return await layOut(work, task, rows, { before });
  } catch (error) {
    // Nothing has left yet: a trace differs, if it does, before the first page that it tells to lay out.
    if (!(error instanceof TraceDiffers)) throw error;
    return layOut(work, task, rows, { before: null });
  }
};

const layOut = async (
  { job, plan, host, signal, started }: Work,
  { limits, form, again }: Extract<ReportTask, { kind: 'run' }>,
  rows: RunRows,
  tracing: { before: LayoutTrace | null } | undefined,
): Promise<RunResult> => {
  const planning = performance.now() - started;
  const pages = new Outbox(host, again?.at ?? null);
  const result = await runReport({
    plan,
    book: await (await equipment).book(),
    open: () => rows.open(),
    ...(again ? { folds: again.folds } : {}),
    ...(tracing ? { tracing } : {}),
    parameters: parametersOf({ plan, job }).values,
    host: job.host,
    runAt: new Moment(job.now),
    regions: true,
    form,
    signal,
    maxPages: limits.maxPages,
    maxSeconds: limits.maxSeconds,
    limits: limits.layout,
    onPrepared: (problems) => host.planned([...problems], hasFolds(plan)),
    onPage: (page) => pages.add(page),
    onPicture: (picture) => pages.show(picture),
    breathe: async (progress) => {
      await host.progress(progress.rows);
    },
  });
  await pages.flush();
  if (result.trace) await host.trace(Buffer.from(JSON.stringify(result.trace)));
  return {
    rows: result.rows,
    place: pages.place,
    problems: result.problems,
    late: result.late,
    queries: profilesOf(result.opened.queries),
    work: { ...result.work, planning: planning + result.preparing, opening: result.opening },
  };
};

const profilesOf = (queries: OpenRows['queries']): QueryProfile[] =>
  queries.map(({ report, level, query, rows, milliseconds }) => ({
    report,
    drawer: level.drawer.name,
    sql: query.text,
    rows,
    milliseconds,
  }));

/** Says where a value of a run comes from. */
const explain = async (work: Work, { asked, rows, folds, limits }: ExplainTask): Promise<TaskAnswers['explain']> => {
  const { job, plan, host, signal } = work;
  const kept = rows && !needsRows(plan, asked) ? rows : null;
  let queries: OpenRows['queries'] = [];
  const explanation = await explainReport(
    {
      plan,
      book: await (await equipment).book(),
      open: async (): Promise<RowsOfRun> => {
        if (kept) return { ...(await keptBefore(plan, host, kept)), queries: [] };
        const opened = await open(work);
        queries = opened.queries;
        return opened;
      },
      folds,
      parameters: parametersOf({ plan, job }).values,
      host: job.host,
      runAt: new Moment(job.now),
      signal,
      maxSeconds: limits.maxSeconds,
      limits: limits.layout,
      breathe: async () => {},
    },
    asked,
  );
  return explanation && { explanation, queries: profilesOf(queries) };
};

/** Writes what a report shows to a file, without pages in between. */
const list = async (work: Work, task: ListTask): Promise<TaskAnswers['list']> => {
  const { job, plan, host, signal } = work;
  const loaded = await equipment;
  const output = loaded.output(task.output);
  if (!output || output.takes === 'pages') throw new Error(`there is no output of rows ${task.output}`);
  const { rows: kept, limits, options, folds } = task;
  const answer: TaskAnswers['list'] = { rows: 0, complete: true, refused: null };
  const report = {
    plan,
    book: () => loaded.book(),
    options,
    open: async (): Promise<RowsOfRun> => (kept ? { ...keptRows(plan, host), queries: [] } : await open(work)),
    parameters: parametersOf({ plan, job }).values,
    host: job.host,
    runAt: new Moment(job.now),
    maxSeconds: limits.maxSeconds,
    limits: limits.layout,
    folds,
    breathe: (count: number) => host.progress(count),
  };
  answer.refused = await refusalOf(async () => {
    const result = await writeReport(output, report, fileSink(host.write), signal);
    if (result) Object.assign(answer, { rows: result.rows, complete: result.complete });
  });
  return answer;
};

/** Makes the files of many parts over rows that are read together. */
const partsOf = async (work: Work, task: PartsTask): Promise<TaskAnswers['parts']> => {
  const { job, context, host, signal } = work;
  return makeParts(task, {
    ...{ job, context, signal },
    equipment: await equipment,
    open: ({ all }) => open({ ...work, plan: all, job: { ...job, report: all.report, parameters: {} } }),
    part: (made) => host.part(made),
  });
};

const rowsOf = async (work: Work): Promise<Uint8Array> => {
  const opened = await open(work);
  try {
    const levels = [];
    for (const [level, key] of levelKeys(work.plan))
      levels.push({ key, ...(await readAll(level, opened.source(level))) });
    return Buffer.from(
      JSON.stringify({
        version: ROWS_VERSION,
        levels,
        nested: Object.fromEntries(work.job.nested),
        problems: withText(parametersOf(work).problems),
      }),
    );
  } finally {
    await opened.close();
  }
};

const readAll = async (level: Level, feed: AsyncIterable<WireRow[]>) => {
  const rows: WireRow[] = [];
  try {
    for await (const batch of feed) for (const row of batch) rows.push(row);
    return { rows, complete: true, problem: null };
  } catch (error) {
    if (!(error instanceof RowProblem)) throw error;
    if (error.code === 'too-many-rows') return { rows, complete: false, problem: null };
    return { rows, complete: false, problem: { code: error.code, data: { drawer: level.drawer.name, ...error.data } } };
  }
};
