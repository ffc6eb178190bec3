import type { AnswerOf, BodyRead } from '@gaveta/core/contract';
import {
  AS_MADE,
  type AskedValue,
  type FoldState,
  type GivenParameters,
  inLanguage,
  languageOfRun,
  type PageForm,
  type Report,
  type RunState,
  readDefinition,
  readerColumns,
  readParameters,
} from '@gaveta/core/internal';
import { ApiError } from '../base/api-error.ts';
import { runLimits } from '../base/limits.ts';
import { withText } from '../base/problem-text.ts';
import type { Catalogue, Credentials } from '../catalogue/catalogue.ts';
import type { PlaceAsked } from '../pages/place-finder.ts';
import type { RunBook } from '../runs/run-book.ts';
import type { Run, RunRequest } from '../runs/runs.ts';
import type { GivenRows } from '../sources/given.ts';
import type { Workbench } from '../staging/workbench.ts';
import type { Store } from '../store/store.ts';
import type { ReportJob, ReportTask, TaskAnswers } from '../threads/job.ts';
import type { ReportRows } from '../threads/row-server.ts';
import { FileRefused, TookTooLong, TookTooMuch } from '../threads/thread-pool.ts';
import type { ActivityBook } from './activity.ts';
import { arrangedFor, arrangingOf } from './arranged-for.ts';
import { Caller, type Calls, Written } from './call.ts';
import type { DefinitionRights } from './definition-rights.ts';
import { type FileParts, FilesOfRuns } from './files-of-runs.ts';
import { foundIn, itemOn, rowsOn } from './found-on-pages.ts';
import type { Gate, WhichRevision } from './gate.ts';
import type { House } from './house.ts';
import { optionsSchema, withoutRows } from './run-answers.ts';
import { connectionsFor, withGiven } from './run-connections.ts';
import { RunNotes } from './run-notes.ts';
import { SameRuns } from './same-runs.ts';
import { definitionOf, NestedReports } from './stored-reports.ts';

type RunCalls =
  | 'POST /check'
  | 'POST /design-rows'
  | 'POST /runs'
  | 'GET /runs/:id'
  | 'DELETE /runs/:id'
  | 'POST /runs/:id/folds'
  | 'GET /runs/:id/pages'
  | 'GET /runs/:id/outline'
  | 'GET /runs/:id/found'
  | 'GET /runs/:id/anchor'
  | 'GET /runs/:id/arranging'
  | 'GET /runs/:id/rows'
  | 'GET /runs/:id/items'
  | 'POST /runs/:id/explain'
  | 'GET /runs/:id/profile'
  | 'GET /runs/:id/files'
  | 'GET /outputs';

export interface RunParts extends FileParts {
  store: Store;
  catalogue: Catalogue;
  workbench: () => Workbench;
  runs: RunBook;
  rights: DefinitionRights;
  gate: Gate;
  house: House;
  book: ActivityBook;
  /** Hears what the host’s code throws when it is told of something. */
  log: (error: unknown) => void;
}

/** Whose the runs are that are made for pictures. */
const UNSEEN = 'first pages';
/** Whose the runs are that are made for deliveries. */
const DELIVERED = 'deliveries';

/** Seconds past the limit of one statement that the rows of a whole report may take while it is designed. */
const ROOM = 40;

/** Most places of words that are given at once. */
const MOST_PLACES = 50;

/** Most pages that are given at once. */
const MOST_PAGES = 20;

/** What of a job is asked for. `language`: that of the report when left out. */
type AskedOfJob = Pick<ReportJob, 'parameters' | 'use' | 'maxRows' | 'seconds'> & { language?: string | undefined };

/** How a run is laid out anew. */
interface Turned {
  folds: FoldState;
  /** Null: as it was. */
  form: PageForm | null;
  at: PlaceAsked | null;
}

/** Reports being run, and what their designer asks about them: all of it in threads. */
export class RunService {
  /** What its runs become. */
  readonly files: FilesOfRuns;
  readonly notes: RunNotes;
  private readonly nested = new NestedReports();
  private readonly same = new SameRuns();

  constructor(private readonly parts: RunParts) {
    this.files = new FilesOfRuns(parts);
    this.notes = new RunNotes(parts);
  }

  readonly calls: Calls<RunCalls> = {
    'POST /check': async ({ caller, body, signal }) => {
      await this.parts.rights.check(caller, body.definition);
      await this.parts.gate.checkNested(caller, body.definition);
      const read = readDefinition(body.definition);
      const problems = read.ok
        ? await this.find(
            { kind: 'check' },
            await this.jobFor(read.report, caller, this.designed({}), this.findInner(caller)),
            signal,
          )
        : read.problems;
      return { problems: withText(problems) };
    },
    'POST /design-rows': async ({ caller, body: { definition, parameters, language }, signal }) => {
      await this.parts.rights.check(caller, definition);
      await this.parts.gate.checkNested(caller, definition);
      const job = await this.jobFor(
        definitionOf(definition),
        caller,
        { ...this.designed(parameters), language },
        this.findInner(caller),
      );
      const rows = await this.find({ kind: 'rows' }, job, signal);
      return new Written(Buffer.from(rows.buffer, rows.byteOffset, rows.byteLength));
    },
    'POST /runs': async ({ caller, body, signal }) => stateOf(await this.start(body, caller, signal)),
    'GET /runs/:id': ({ caller, params: { id } }) => stateOf(this.run(id, caller)),
    'DELETE /runs/:id': async ({ caller, params: { id } }) => {
      const run = this.run(id, caller);
      await this.cancel(run, caller);
      return stateOf(run);
    },
    'POST /runs/:id/folds': ({ caller, params: { id }, body: { folds, form, at } }) =>
      stateOf(this.turn(this.run(id, caller), { folds, form: form ?? null, at: at ?? null }, caller)),
    'GET /runs/:id/pages': async ({ caller, params: { id }, query: { from, count } }) => {
      const run = this.run(id, caller);
      const first = Math.max(1, from);
      const pages: Uint8Array[] = [];
      const letGo = run.hold();
      try {
        for (let number = first; number < first + Math.min(MOST_PAGES, Math.max(1, count)); number++) {
          const page = await run.page(number);
          if (page) pages.push(page);
        }
      } finally {
        letGo();
      }
      const comma = Buffer.from(',');
      const list = pages.flatMap((page, i) => (i === 0 ? [page] : [comma, page]));
      return new Written(Buffer.concat([Buffer.from('['), ...list, Buffer.from(']')]));
    },
    'GET /runs/:id/outline': ({ caller, params: { id } }) => this.run(id, caller).navigation.headings,
    'GET /runs/:id/found': ({ caller, params: { id }, query: { text, from, count } }) =>
      foundIn(this.run(id, caller), text, { from, count: Math.min(MOST_PLACES, count) }),
    'GET /runs/:id/anchor': ({ caller, params: { id }, query: { name } }) =>
      this.run(id, caller).navigation.anchor(name),
    'GET /runs/:id/arranging': ({ caller, params: { id } }) => {
      const { asMade } = this.run(id, caller).request;
      const may = arrangingOf(asMade, caller);
      return { may, columns: may === 'none' ? [] : readerColumns(asMade) };
    },
    'GET /runs/:id/rows': ({ caller, params: { id }, query: { name } }) => rowsOn(this.run(id, caller), name),
    'GET /runs/:id/items': ({ caller, params: { id }, query: { id: item } }) => itemOn(this.run(id, caller), item),
    'POST /runs/:id/explain': ({ caller, params: { id }, body, signal }) =>
      this.explain(this.run(id, caller), body, caller, signal),
    'GET /runs/:id/profile': ({ caller, params: { id } }) => this.run(id, caller).profile(caller.may('design')),
    'GET /runs/:id/files': ({ caller, params: { id } }) => this.run(id, caller).making,
    'GET /outputs': () =>
      this.parts.equipment.outputs.map(({ name, label, mime, extension, takes, options }) => {
        return { name, label, mime, extension, takes, options: optionsSchema(options) };
      }),
  };

  /** Starts a run, over rows that came with the call where there are any. Throws when it cannot be, or too many wait. */
  async start(asked: BodyRead<'POST /runs'>, caller: Caller, signal: AbortSignal, data?: GivenRows): Promise<Run> {
    const { runs, limits } = this.parts;
    const run = runs.start(await this.request(asked, caller, signal, { data }));
    if (!run) throw new ApiError('too-many-runs', { limit: limits.runsWaiting });
    await this.notes.started(run, 'report' in asked ? asked : null, caller);
    return run;
  }

  /** Runs a stored report for a picture of it, with the sample values of its parameters: nobody is told of it, and it takes nothing of what somebody may run. Throws as {@link start} does. */
  async startUnseen(
    what: { report: string; revision: WhichRevision } | { definition: Report },
    caller: Caller,
    signal: AbortSignal,
  ): Promise<Run> {
    const { runs, limits, gate } = this.parts;
    // Values for which it is designed stand in for those that somebody would give.
    const { parameters: asking } =
      'definition' in what ? what.definition : (await gate.stored(caller, 'run', what.report, what.revision)).report;
    const parameters = Object.fromEntries(
      asking.flatMap(({ name, sample, fromHost }) => (sample === undefined || fromHost ? [] : [[name, sample]])),
    );
    const asked = {
      ...(what as { report: string; revision: WhichRevision }),
      parameters,
      credentials: {},
      keep: true,
      form: 'pages',
    } as const;
    const request = await this.request(asked, caller, signal);
    const run = runs.start({ ...request, owner: UNSEEN, sameAs: null });
    if (!run) throw new ApiError('too-many-runs', { limit: limits.runsWaiting });
    return run;
  }

  /**
   * Runs a stored report to be sent, as if it were another moment (milliseconds since 1970). It takes nothing of what somebody may run
   * themselves. Throws as {@link start} does.
   */
  async startDelivered(
    asked: { report: string; parameters: GivenParameters },
    caller: Caller,
    now: number,
    signal: AbortSignal,
  ): Promise<Run> {
    const { runs, limits } = this.parts;
    const request = await this.requestDelivered(asked, caller, now, signal);
    const run = runs.start({ ...request, owner: DELIVERED, sameAs: null });
    if (!run) throw new ApiError('too-many-runs', { limit: limits.runsWaiting });
    await this.notes.started(run, null, caller);
    return run;
  }

  /** What a stored report is run with to be sent, as if it were another moment. Throws where it cannot be. */
  requestDelivered(
    { report, parameters: given }: { report: string; parameters: GivenParameters },
    caller: Caller,
    now: number,
    signal: AbortSignal,
  ): Promise<RunRequest> {
    const how = { revision: 'published', credentials: {}, keep: true, form: 'pages' } as const;
    const parameters = given as BodyRead<'POST /runs'>['parameters'];
    return this.request({ ...how, report, parameters }, caller, signal, { now });
  }

  /** Where a value on the pages of a run comes from; its SQL for those who design. Throws when no page has it. */
  private async explain(
    run: Run,
    asked: AskedValue,
    caller: Caller,
    signal: AbortSignal,
  ): Promise<AnswerOf<'POST /runs/:id/explain'>> {
    const { threads, limits } = this.parts;
    const { origins = 'rows' } = run.report.readers ?? {};
    const mayDesign = caller.may('design');
    if (origins === 'none' && !mayDesign) throw new ApiError('origins-hidden');
    const found = await waited(run.explain(asked, threads, runLimits(limits), signal));
    if (!found) throw new ApiError('unknown-value');
    const { explanation, queries } = found;
    const { report, drawers } = explanation;
    const own = queries.filter((one) => one.report === report && drawers.includes(one.drawer));
    return {
      ...(origins === 'rows' || mayDesign ? explanation : withoutRows(explanation)),
      queries: mayDesign ? own.flatMap(({ drawer, sql }) => (sql === null ? [] : [{ drawer, sql }])) : null,
    };
  }

  cancel(run: Run, caller: Caller): Promise<void> {
    return this.parts.runs.cancel(run, caller.owner);
  }

  /** Lays a run out anew, with other parts of it open and closed, or as pages of another form. Throws when its rows are gone, or too many wait. */
  turn(before: Run, { folds, form, at }: Turned, caller: Caller): Run {
    const { runs, limits } = this.parts;
    const { request, rows } = before.again();
    // Connections that were opened with somebody’s password are gone with the run.
    if (!rows && request.isSignedIn) throw new ApiError('rows-gone');
    const { job, report, keep, isSignedIn, user, stored, asMade } = request;
    const again = { folds, at, rows };
    const next = form ?? request.form;
    const run = runs.start(
      {
        ...{ job, report, rows: request.rows, owner: caller.owner, user, sameAs: null, keep, form: next },
        ...{ stored, asMade, isSignedIn, again },
      },
      // Pages of another form have nothing in common with those before.
      next === request.form ? before : null,
    );
    if (run) return run;
    void rows?.letGo().catch(() => {});
    throw new ApiError('too-many-runs', { limit: limits.runsWaiting });
  }

  /** A run of the caller’s. Throws when there is none. */
  run(id: string, caller: Caller): Run {
    const run = this.parts.runs.get(id, caller.owner);
    if (!run) throw new ApiError('unknown-run', { id });
    return run;
  }

  /** The file of a picture that runs of the caller show, or results that were kept. Throws when there is none. */
  async picture(hash: string, caller: Caller): Promise<Uint8Array> {
    const { runs, store, gate } = this.parts;
    const file =
      (await runs.picture(hash, caller.owner)) ?? (await store.keptResults.picture(gate.viewer(caller), hash));
    if (!file) throw new ApiError('unknown-picture', { hash });
    return file;
  }

  /** Reports inside one that is being designed: as they were saved last. */
  private findInner(caller: Caller): ReturnType<Gate['finder']> {
    return this.parts.gate.finder(caller, 'newest');
  }

  private designed(parameters: ReportJob['parameters']): AskedOfJob {
    const { designRows, previewSeconds } = this.parts.limits;
    return { parameters, use: 'design', maxRows: designRows, seconds: previewSeconds };
  }

  private async jobFor(
    report: Report,
    caller: Caller,
    asked: AskedOfJob,
    findInner: ReturnType<Gate['finder']>,
    now = Date.now(),
  ): Promise<ReportJob> {
    const { store, limits, house } = this.parts;
    const { session } = caller;
    const nested = new Map<string, Report>();
    for (const [id, inner] of await this.nested.of(report, findInner))
      nested.set(id, await house.withPictures(inner, caller));
    return {
      ...{ ...asked, language: asked.language ?? report.language },
      report: await house.withPictures(report, caller),
      nested,
      recipes: await store.data.recipes(),
      host: session.parameters ?? {},
      claims: session.claims,
      now,
      maxStaged: limits.maxRows,
    };
  }

  private rowsFrom(connections: ReportRows['connections']): ReportRows {
    const { catalogue, workbench } = this.parts;
    return { models: catalogue.models, modelsKey: catalogue.modelsKey, connections, workbench };
  }

  /** What a thread finds out about a report while somebody waits. */
  private find<T extends ReportTask>(task: T, job: ReportJob, signal: AbortSignal): Promise<TaskAnswers[T['kind']]> {
    const { catalogue, threads, limits } = this.parts;
    const rows = this.rowsFrom(catalogue.connections);
    return waited(threads.work(task, { job, rows, signal, seconds: limits.previewSeconds + ROOM }));
  }

  private async request(
    asked: BodyRead<'POST /runs'>,
    caller: Caller,
    signal: AbortSignal,
    { data, now }: { data?: GivenRows | undefined; now?: number } = {},
  ): Promise<RunRequest> {
    const { catalogue, limits, rights, gate } = this.parts;
    if ('definition' in asked) caller.needs('design');
    const { link } = caller.session;
    const which = 'definition' in asked ? 'newest' : asked.revision;
    const asMade =
      'definition' in asked
        ? definitionOf(asked.definition)
        : (await gate.stored(caller, 'run', asked.report, which)).report;
    if ('definition' in asked) {
      await rights.check(caller, asked.definition);
      await gate.checkNested(caller, asked.definition);
    }
    const report = arrangedFor(asMade, asked.arrangement ?? AS_MADE, caller);
    const changes = await gate.beforeRun({
      id: 'report' in asked ? asked.report : null,
      report,
      caller: caller.session,
      parameters: asked.parameters,
      isByCode: caller.isCode,
    });
    const host = { ...caller.session.parameters, ...changes.hostParameters };
    // Values of a link are those of whoever shared it.
    const parameters = { ...(link ? link.values : asked.parameters), ...changes.parameters };
    const { problems, values } = readParameters(report, parameters, { host, ...(now === undefined ? {} : { now }) });
    if (problems.length > 0) {
      const detailed = withText(problems);
      throw new ApiError('wrong-parameters', { detail: detailed.map((p) => p.text).join(' ') }, { problems: detailed });
    }
    const { maxRows, maxSeconds } = limits;
    const { credentials, keep, form } = asked;
    const session = { ...caller.session, parameters: host, claims: { ...caller.session.claims, ...changes.claims } };
    const language = languageOfRun(report, { values, reader: [asked.language ?? []].flat() });
    const how = { parameters, language, use: 'run', maxRows, seconds: maxSeconds } as const;
    const inner = gate.finder(caller, which);
    const job = await this.jobFor(report, new Caller(session, caller.isCode), how, inner, now);
    await this.checkCredentials(job, credentials, signal);
    const { connections: usual, close } = connectionsFor(catalogue, credentials);
    const connections = data ? withGiven(data, report, usual, catalogue) : usual;
    const isSignedIn = Object.keys(credentials).length > 0;
    const sameAs = isSignedIn || data ? null : this.same.keyOf(job, form);
    const { owner, user } = caller;
    const stored = 'report' in asked ? asked.report : null;
    const from = this.rowsFrom(connections);
    const spoken = (one: Report): Report => inLanguage(one, language, catalogue.plain);
    const shown = { report: spoken(job.report), asMade: spoken(asMade) };
    return { job, ...shown, rows: from, owner, user, sameAs, keep, form, stored, isSignedIn, close };
  }

  /** Connections that ask who runs a report must have been told, where its rows come from them. */
  private async checkCredentials(job: ReportJob, credentials: Credentials, signal: AbortSignal): Promise<void> {
    const { catalogue } = this.parts;
    const asking = catalogue.asking.filter((name) => !Object.hasOwn(credentials, name));
    if (asking.length === 0) return;
    const models = await this.find({ kind: 'models' }, job, signal);
    const used = new Set(models.map((model) => catalogue.models.get(model)?.connection ?? ''));
    const wanted = asking.filter((name) => used.has(name));
    if (wanted.length > 0) throw new ApiError('needs-sign-in', { names: wanted.join(', ') }, { connections: wanted });
  }
}

/** How far a run is, with the words of its problems. */
export const stateOf = (run: Run): RunState => ({ ...run.state, problems: withText(run.state.problems) });

/** What a thread gives; what it took too much of is said to whoever waits. */
export const waited = async <T>(work: Promise<T>): Promise<T> => {
  try {
    return await work;
  } catch (error) {
    if (error instanceof TookTooLong || error instanceof TookTooMuch)
      throw new ApiError('report-too-heavy', { detail: error.said });
    if (error instanceof FileRefused) throw new ApiError('file-refused', { detail: error.said });
    throw error;
  }
};
