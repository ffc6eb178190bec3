import {
  type Level,
  levelKeys,
  type Page,
  type PagePicture,
  type PlanContext,
  planReport,
  plansOf,
  type ReportPlan,
  ROWS_VERSION,
  RowProblem,
  readParameters,
  runReport,
  type WireRow,
} from '@gaveta/core/internal';
import { pictureFile } from '@gaveta/output/writer';
import { withText } from '../base/problem-text.ts';
import { navigationOf } from '../pages/navigation.ts';
import { type PageHeader, writePage } from '../pages/spool.ts';
import { type OpenRows, openRows } from '../rows/row-source.ts';
import { basesOf } from '../staging/bases.ts';
import { type Calls, joined } from './calls.ts';
import type {
  PlainModel,
  ReportJob,
  RowCalls,
  RunCalls,
  RunLimits,
  RunResult,
  TaskAnswers,
  ThreadTask,
  WrittenPicture,
} from './job.ts';
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
  const host = joined<RowCalls & RunCalls>(port, ours);
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
    };
    const started = performance.now();
    const plan = planReport(job.report, context);
    const work: Work = { job, plan, models, host, connections, signal: ended.signal, started };
    switch (task.kind) {
      case 'run':
        return await run(work, task.limits);
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
  host: Calls<RowCalls & RunCalls>;
  signal: AbortSignal;
  started: number;
}

const modelsOf = (plan: ReportPlan): string[] => [
  ...new Set([...plansOf(plan)].flatMap((nested) => [...basesOf(nested)].map((base) => base.model))),
];

const parametersOf = ({ report, parameters, host, use, now }: ReportJob): ReturnType<typeof readParameters> =>
  readParameters(report, parameters, { host, use, now });

const open = async ({ job, plan, models, host, connections, signal }: Work): Promise<OpenRows> => {
  const scopes = await host.scopes(modelsOf(plan));
  const { claims, maxRows, maxStaged, seconds } = job;
  return openRows(plan, {
    models: modelsOver(host, models, scopes),
    connections: connectionsOver(host, connections),
    claims,
    parameters: parametersOf(job).values,
    host: job.host,
    maxRows,
    maxStaged,
    workbench: () => benchOver(host),
    signal,
    seconds,
  });
};

const run = async (work: Work, limits: RunLimits): Promise<RunResult> => {
  const { job, plan, host, signal, started } = work;
  const planning = performance.now() - started;
  const pages = new Outbox(host);
  const result = await runReport({
    plan,
    book: await (await equipment).book(),
    open: () => open(work),
    parameters: parametersOf(job).values,
    host: job.host,
    regions: true,
    signal,
    maxPages: limits.maxPages,
    maxSeconds: limits.maxSeconds,
    limits: limits.layout,
    onPrepared: (problems) => host.planned([...problems]),
    onPage: (page) => pages.add(page),
    onPicture: (picture) => pages.show(picture),
    breathe: async (progress) => {
      await host.progress(progress.rows);
    },
  });
  await pages.flush();
  return {
    rows: result.rows,
    problems: result.problems,
    late: result.late,
    queries: result.opened.queries.map(({ report, level, query, rows, milliseconds }) => ({
      report,
      drawer: level.drawer.name,
      sql: query.text,
      rows,
      milliseconds,
    })),
    work: { ...result.work, planning: planning + result.preparing, opening: result.opening },
  };
};

/** Bytes of pages that leave together. */
const FULL = 256 * 1024;

/** Milliseconds that a page waits for others at most. */
const PATIENCE = 100;

/** Hands pages over, several at once; the first one by itself, since somebody waits for it. */
class Outbox {
  private data: Uint8Array[] = [];
  private pages: PageHeader[] = [];
  private pictures: WrittenPicture[] = [];
  private navigation: ReturnType<typeof navigationOf> = { headings: [], anchors: [] };
  private bytes = 0;
  private last = performance.now();
  private sent: Promise<void> = Promise.resolve();

  constructor(private readonly host: Calls<RunCalls>) {}

  /** A picture goes with the next page. */
  show(picture: PagePicture): void {
    const data = pictureFile(picture);
    this.pictures.push({ hash: picture.hash, data });
    this.bytes += data.length;
  }

  async add(page: Page): Promise<void> {
    const written = writePage(page);
    this.data.push(written);
    const { width, height, late = false } = page;
    this.pages.push({ length: written.length, width, height, late });
    const { headings, anchors } = navigationOf(page);
    this.navigation.headings.push(...headings);
    this.navigation.anchors.push(...anchors);
    this.bytes += written.length;
    if (page.number === 1 || this.bytes >= FULL || performance.now() - this.last > PATIENCE) await this.send();
  }

  /** One parcel is on its way while the next is being filled. */
  private async send(): Promise<void> {
    await this.sent;
    const { pages, pictures, navigation } = this;
    const parcel = { data: Buffer.concat(this.data), pages, pictures, navigation };
    this.data = [];
    this.pages = [];
    this.pictures = [];
    this.navigation = { headings: [], anchors: [] };
    this.bytes = 0;
    this.last = performance.now();
    this.sent = this.host.pages(parcel);
    // Heard when the next one is sent, or at the end.
    this.sent.catch(() => {});
  }

  async flush(): Promise<void> {
    if (this.pages.length > 0 || this.pictures.length > 0) await this.send();
    await this.sent;
  }
}

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
        problems: withText(parametersOf(work.job).problems),
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
