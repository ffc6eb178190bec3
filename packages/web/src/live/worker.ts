import {
  decodeRows,
  FontBook,
  LayoutCancelled,
  layoutReport,
  type Model,
  type Page,
  type PlanContext,
  pageToSvg,
  planReport,
  plansOf,
  prepareReport,
  problem,
  problemText,
  type Recipe,
  type Report,
  type Row,
  readParameters,
  rowsSignature,
} from '@gaveta/core';
import type { DesignRows } from '../api/client.ts';
import type { FromWorker, ToWorker } from './messages.ts';

/** Pages that the live page shows at most, and those that it shows before the others are laid out. */
const MOST_SHOWN = 20;
const FIRST = 2;
/** Pages after which counting them is given up. */
const MOST_COUNTED = 5000;

let book: FontBook | null = null;
let models: Model[] = [];
let recipes: Recipe[] = [];
/** Stays the same, so that stretches of time that end now do not ask for other rows at every edit. */
const now = Date.now();
let held: { signature: string; rows: DesignRows; decoded: Row[][] | null } | null = null;
let waiting: { job: number; report: Report; nested: Record<string, Report> } | null = null;
let abort = new AbortController();

const say = (message: FromWorker): void => postMessage(message);

addEventListener('message', (event: MessageEvent<ToWorker>) => {
  const message = event.data;
  switch (message.kind) {
    case 'start':
      book = new FontBook(message.fonts.map((f) => ({ ...f, data: new Uint8Array(f.data) })));
      models = message.models;
      recipes = message.recipes;
      return;
    case 'layout':
      waiting = message;
      break;
    case 'rows':
      held = { signature: message.signature, rows: message.rows, decoded: null };
      if (waiting) waiting = { ...waiting, nested: message.rows.nested };
      break;
    default:
      message satisfies never;
  }
  if (waiting) void work(waiting);
});

const work = async ({ job, report, nested }: NonNullable<typeof waiting>): Promise<void> => {
  if (!book) return;
  abort.abort();
  abort = new AbortController();
  const { signal } = abort;
  const started = performance.now();
  try {
    const known = { ...held?.rows.nested, ...nested };
    const context: PlanContext = {
      models,
      report: (id) => known[id] ?? null,
      recipe: (id) => recipes.find((r) => r.id === id) ?? null,
      rowsFromDatabase: true,
    };
    const plan = planReport(report, context);
    const prepared = prepareReport(plan, book);
    const given = readParameters(report, {}, { use: 'design', now });
    const signature = rowsSignature(plan, given.values);
    if (held?.signature !== signature) {
      say({ kind: 'need-rows', job, signature });
      return;
    }
    const { levels } = held.rows;
    const planned = [...plansOf(plan)].flatMap((p) => p.levels);
    held.decoded ??= planned.map((level, i) => decodeRows(level, levels[i]?.rows ?? []));
    const rows = new Map(planned.map((level, i) => [level, held!.decoded![i]!]));
    const pages: Page[] = [];
    let breath = performance.now();
    const result = await layoutReport(prepared, {
      parameters: given.values,
      source: (level) => rows.get(level) ?? [],
      maxPages: MOST_COUNTED,
      regions: true,
      signal,
      onPage: async (page) => {
        if (pages.length < MOST_SHOWN) pages.push(page);
        // The first pages are shown before the rest is laid out; after that, newer jobs may cut in at any page.
        if (page.number === FIRST) show(job, pages, started, null);
        if (performance.now() - breath < 15) return;
        await breathe();
        breath = performance.now();
      },
    });
    if (signal.aborted) return;
    const laid = Math.round(performance.now() - started);
    for (const { page, marks } of result.late) {
      if (page > pages.length) break;
      pages[page - 1]!.marks.push(...marks);
    }
    const failures = levels.flatMap((l) => (l.problem ? [problem(l.problem.code as never, {}, l.problem.data)] : []));
    const problems = [...plan.problems, ...prepared.problems, ...given.problems, ...failures, ...result.problems];
    say({ kind: 'problems', job, problems: problems.map((p) => ({ ...p, text: problemText(p) })) });
    const part = levels.some((l) => !l.complete && !l.problem) ? Math.max(...levels.map((l) => l.rows.length)) : null;
    show(job, pages, started, { count: result.pages, partRows: part, laid });
  } catch (error) {
    if (!(error instanceof LayoutCancelled))
      say({ kind: 'failed', job, detail: error instanceof Error ? error.message : String(error) });
  }
};

/** Laid out before the first message; their time is what the maker waits. */
let firstShown = 0;

const show = (
  job: number,
  pages: readonly Page[],
  started: number,
  end: { count: number; partRows: number | null; laid: number } | null,
): void => {
  const now = Math.round(performance.now() - started);
  if (!end || pages.length < FIRST) firstShown = now;
  say({
    kind: 'pages',
    job,
    pages: pages.map(pageToSvg),
    count: end?.count ?? null,
    milliseconds: firstShown,
    whole: end?.laid ?? null,
    partRows: end?.partRows ?? null,
  });
};

const channel = new MessageChannel();

/** Lets messages in; a timer would wait for four milliseconds each time. */
const breathe = (): Promise<void> =>
  new Promise((resolve) => {
    channel.port1.onmessage = () => resolve();
    channel.port2.postMessage(null);
  });
