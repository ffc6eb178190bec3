import '../api/no-eval.ts';
import {
  decodeRows,
  designChecks,
  FontBook,
  type FunctionTable,
  LayoutCancelled,
  levelKeys,
  libraryPicturesIn,
  type Model,
  overlapsOn,
  type Page,
  type PagePicture,
  type PlanContext,
  pageToMarks,
  planReport,
  probeProblems,
  probeReport,
  probeValues,
  problem,
  type Recipe,
  type Report,
  type ReportPlan,
  ROWS_VERSION,
  type Row,
  type RowFeed,
  RowProblem,
  readParameters,
  rowsSignature,
  runReport,
  slowFormulas,
  withLibraryPictures,
} from '@gaveta/core/internal';
import type { DesignRows } from '../api/client.ts';
import { loadFunctions } from './load-functions.ts';
import type { FromWorker, ToWorker } from './messages.ts';
import { packPage } from './packed-page.ts';

/** Pages that the live page shows at most, and those that it shows before the others are laid out. */
const MOST_SHOWN = 20;
const FIRST = 2;
/** How long the others wait meanwhile, in milliseconds: two threads at work hold each other up, and the next edit may come first. */
const SHOWING = 30;
/** Pages after which counting them is given up. */
const MOST_COUNTED = 5000;
/** Sets of rows that are kept, so that going back and forth fetches nothing again. */
const MOST_KEPT = 5;

interface Kept {
  rows: DesignRows;
  /** By the key of their level. */
  decoded: Map<string, Row[]> | null;
}

let models: Model[] = [];
let recipes: Recipe[] = [];
let functions: FunctionTable = {};
/** Fonts to measure with, once they and the host’s own functions are there; null before the first message. */
let starting: Promise<FontBook | null> = Promise.resolve(null);
/** Stays the same, so that stretches of time that end now do not ask for other rows at every edit. */
const now = Date.now();
/** By signature, the ones used last at the end. */
const kept = new Map<string, Kept>();
const awaited = new Map<string, ((rows: Kept | null) => void)[]>();
const nested: Record<string, Report> = {};
/** Pictures of the library by their ids; null for those that are not there. */
const libraryPictures = new Map<string, string | null>();
const awaitedPictures = new Map<string, (() => void)[]>();
let abort = new AbortController();
let working: Promise<void> = Promise.resolve();

const begin = async (message: ToWorker & { kind: 'start' }): Promise<FontBook> => {
  const files = message.fonts.map((f) => ({ ...f, data: new Uint8Array(f.data) }));
  const [book, loaded] = await Promise.all([FontBook.of(files), loadFunctions(message.functions)]);
  functions = loaded;
  return book;
};

const say = (message: FromWorker): void => postMessage(message);

addEventListener('message', (event: MessageEvent<ToWorker>) => {
  const message = event.data;
  switch (message.kind) {
    case 'start':
      models = message.models;
      recipes = message.recipes;
      starting = begin(message);
      // Whoever lays out next says what went wrong.
      starting.catch(() => {});
      return;
    case 'layout':
      abort.abort();
      abort = new AbortController();
      working = work(message, abort.signal);
      return;
    case 'probe':
      void probe(message);
      return;
    case 'rows': {
      const { signature, rows } = message;
      const found = rows && { rows, decoded: null };
      if (found) {
        keep(signature, found);
        Object.assign(nested, found.rows.nested);
      }
      const waiting = awaited.get(signature) ?? [];
      awaited.delete(signature);
      for (const tell of waiting) tell(found);
      return;
    }
    case 'pictures':
      for (const [id, source] of Object.entries(message.sources)) {
        libraryPictures.set(id, source);
        for (const tell of awaitedPictures.get(id) ?? []) tell();
        awaitedPictures.delete(id);
      }
      return;
    default:
      message satisfies never;
  }
});

const keep = (signature: string, rows: Kept): void => {
  kept.delete(signature);
  kept.set(signature, rows);
  for (const old of kept.keys()) {
    if (kept.size <= MOST_KEPT) return;
    kept.delete(old);
  }
};

/** Rows by their signature, fetched when they are not there; null when they could not be fetched. */
const rowsFor = (
  signature: string,
  report: Report,
  language: string | null,
  job: number | null,
): Promise<Kept | null> => {
  const found = kept.get(signature);
  if (found) {
    keep(signature, found);
    return Promise.resolve(found);
  }
  return new Promise((resolve) => {
    const waiting = awaited.get(signature);
    // On their way already: asking again would give up the first request.
    if (waiting) waiting.push(resolve);
    else {
      awaited.set(signature, [resolve]);
      say({ kind: 'need-rows', signature, report, language, job });
    }
  });
};

/** A report with the pictures of the library that it shows, fetched when they are not here. */
const withPictures = async (report: Report): Promise<Report> => {
  const missing = libraryPicturesIn(report).filter((id) => !libraryPictures.has(id));
  if (missing.length > 0) {
    const asked = missing.filter((id) => !awaitedPictures.has(id));
    const come = missing.map(
      (id) => new Promise<void>((tell) => awaitedPictures.set(id, [...(awaitedPictures.get(id) ?? []), tell])),
    );
    if (asked.length > 0) say({ kind: 'need-pictures', ids: asked });
    await Promise.all(come);
  }
  return withLibraryPictures(report, (id) => libraryPictures.get(id) ?? null);
};

/** The server sends rows of other columns than this page knows of: it was updated since the page was opened. */
class Outdated extends Error {}

interface Ready {
  plan: ReportPlan;
  given: ReturnType<typeof readParameters>;
  levels: DesignRows['levels'];
  source: (level: ReportPlan['levels'][number]) => Row[] | RowFeed;
  /** How many rows a level has. */
  count: (level: ReportPlan['levels'][number]) => number;
  /** Whether rows had to be fetched. */
  waited: boolean;
}

/** Plans a report and gets its rows, which are asked for as it was made; null when they could not be fetched. */
const ready = async (asMade: Report, language: string | null, job: number | null): Promise<Ready | null> => {
  const report = await withPictures(asMade);
  let waited = false;
  let isAgain = false;
  for (;;) {
    const context: PlanContext = {
      models,
      report: (id) => nested[id] ?? null,
      recipe: (id) => recipes.find((r) => r.id === id) ?? null,
      functions,
      rowsFromDatabase: true,
      rowKeys: true,
      ...(language === null ? {} : { language }),
    };
    const plan = planReport(report, context);
    const given = readParameters(plan.report, {}, { use: 'design', now });
    const before = Object.keys(nested).length;
    const signature = rowsSignature(plan, given.values);
    waited ||= !kept.has(signature);
    const found = await rowsFor(signature, asMade, language, job);
    if (!found) return null;
    // Nested reports came with the rows: what they need is known only now.
    if (Object.keys(nested).length > before) continue;
    const sent = new Map(found.rows.levels.map((level) => [level.key, level]));
    const keys = levelKeys(plan);
    if (found.rows.version !== ROWS_VERSION || [...keys.values()].some((key) => !sent.has(key))) {
      // A nested report may have been changed since the rows were fetched; if not, the server speaks another language.
      kept.delete(signature);
      if (isAgain) throw new Outdated();
      isAgain = true;
      continue;
    }
    found.decoded ??= new Map([...keys].map(([level, key]) => [key, decodeRows(level, sent.get(key)!.rows)]));
    const rows = new Map([...keys].map(([level, key]) => [level, found.decoded!.get(key)!]));
    const failed = new Map([...keys].map(([level, key]) => [level, sent.get(key)!.problem]));
    return {
      plan,
      given,
      levels: found.rows.levels,
      source: (level) => {
        const problem = failed.get(level);
        return problem ? failedFeed(problem) : (rows.get(level) ?? []);
      },
      count: (level) => rows.get(level)?.length ?? 0,
      waited,
    };
  }
};

/** Rows that the server could not read: the layout says so in their place, and gives no totals of them. */
async function* failedFeed({ code, data }: NonNullable<DesignRows['levels'][number]['problem']>): RowFeed {
  yield [];
  throw new RowProblem(code as RowProblem['code'], data);
}

const work = async (
  { job, report, folds, sketch, language }: ToWorker & { kind: 'layout' },
  signal: AbortSignal,
): Promise<void> => {
  const started = performance.now();
  try {
    const book = await starting;
    if (!book) return;
    const made = await ready(report, language, job);
    if (!made || signal.aborted) return;
    const { plan, given, levels, source, count } = made;
    // Waiting for rows is told by the notice that they are being fetched.
    const begun = made.waited ? performance.now() : started;
    const pages: Page[] = [];
    const kinds: Kinds = {};
    /** Pages that were sent already, as they are. */
    let sent = 0;
    let paused = 0;
    let breath = performance.now();
    const result = await runReport({
      plan,
      book,
      parameters: given.values,
      folds,
      open: () => ({ source }),
      maxPages: MOST_COUNTED,
      regions: 'places',
      onPicture: (picture) => {
        if (pages.length < MOST_SHOWN) keepPicture(picture);
      },
      sketch:
        sketch === null
          ? undefined
          : {
              item: sketch,
              found: (found) => {
                kinds[sketch] = found;
              },
            },
      signal,
      onPage: async (page) => {
        if (pages.length < MOST_SHOWN) pages.push(page);
        // The first pages are shown before the rest is laid out; after that, newer jobs may cut in at any page.
        if (page.number === FIRST) {
          show(job, pages, 0, kinds, begun, null);
          sent = FIRST;
          await new Promise((resume) => setTimeout(resume, SHOWING));
          paused = SHOWING;
        }
        if (performance.now() - breath < 15) return;
        await breathe();
        breath = performance.now();
      },
    });
    if (signal.aborted) return;
    const laid = Math.round(performance.now() - begun - paused);
    for (const { page, marks } of result.late) {
      if (page > pages.length) break;
      pages[page - 1]!.marks.push(...marks);
      sent = Math.min(sent, page - 1);
    }
    const rows = Object.fromEntries(plan.levels.map((level) => [level.drawer.id, count(level)]));
    const cut = [...result.prepared.cutOff].map((item) => problem('text-cut-off', { item }, {}, 'warning'));
    const slips = [...cut, ...overlapsOn(pages), ...designChecks(report, { rows }), ...slowFormulas(plan, rows)];
    const problems = [...given.problems, ...result.allProblems];
    say({ kind: 'problems', job, problems: [...problems, ...slips] });
    const part = levels.some((l) => !l.complete && !l.problem) ? Math.max(...levels.map((l) => l.rows.length)) : null;
    show(job, pages, sent, kinds, begun, { count: result.pages, partRows: part, laid, rows });
  } catch (error) {
    if (error instanceof LayoutCancelled) return;
    const detail = error instanceof Error ? error.message : String(error);
    say({ kind: 'failed', job, detail, isOutdated: error instanceof Outdated });
  }
};

/** Works formulas out for each time that a band comes, after the layout that is under way. */
const probe = async ({ id, report, address, probes, first }: ToWorker & { kind: 'probe' }): Promise<void> => {
  await working;
  const failed = (): void => say({ kind: 'probed', id, values: probes.map(() => []), problems: [] });
  try {
    const book = await starting;
    if (!book) return failed();
    const asked = probeReport(report, address, probes);
    const made = await ready(asked, null, null);
    if (!made) return failed();
    const pages: Page[] = [];
    const enough = new AbortController();
    let breath = performance.now();
    const laying = runReport({
      plan: made.plan,
      book,
      parameters: made.given.values,
      open: () => made,
      maxPages: MOST_COUNTED,
      signal: enough.signal,
      onPage: async (page) => {
        pages.push(page);
        if (first && probeValues([page], [], probes.length)[0]?.some((value) => value !== '')) enough.abort();
        if (performance.now() - breath < 15) return;
        await breathe();
        breath = performance.now();
      },
    });
    const late = await laying.then(
      (result) => result.late,
      (error: unknown) => {
        if (!enough.signal.aborted) throw error;
        return [];
      },
    );
    const problems = probeProblems(made.plan.problems);
    say({ kind: 'probed', id, values: probeValues(pages, late, probes.length), problems });
  } catch {
    failed();
  }
};

/** Laid out before the first message; their time is what the maker waits. */
let firstShown = 0;

/** Pictures as files of the browser's own, by hash, so that a page that shows one names it and does not hold it. */
const pictures = new Map<string, string>();
const keepPicture = ({ hash, source }: PagePicture): void => {
  if (pictures.has(hash)) return;
  const comma = source.indexOf(',');
  const bytes = Uint8Array.from(atob(source.slice(comma + 1)), (c) => c.charCodeAt(0));
  const type = source.slice('data:'.length, source.indexOf(';'));
  pictures.set(hash, URL.createObjectURL(new Blob([bytes], { type })));
};
const addressOf = (hash: string): string => pictures.get(hash) ?? 'data:,';

type Kinds = (FromWorker & { kind: 'pages' })['kinds'];

const show = (
  job: number,
  pages: readonly Page[],
  from: number,
  kinds: Kinds,
  started: number,
  end: { count: number; partRows: number | null; laid: number; rows: Record<string, number> } | null,
): void => {
  const elapsed = Math.round(performance.now() - started);
  if (!end || pages.length < FIRST) firstShown = elapsed;
  say({
    kind: 'pages',
    job,
    from,
    pages: pages.slice(from).map((page) => packPage(pageToMarks(page, addressOf))),
    kinds,
    count: end?.count ?? null,
    milliseconds: firstShown,
    whole: end?.laid ?? null,
    partRows: end?.partRows ?? null,
    rows: end?.rows ?? null,
  });
};

const channel = new MessageChannel();
const breaths: (() => void)[] = [];
channel.port1.onmessage = () => breaths.shift()?.();

/** Lets messages in; a timer would wait for four milliseconds each time. */
const breathe = (): Promise<void> =>
  new Promise((resolve) => {
    breaths.push(resolve);
    channel.port2.postMessage(null);
  });
