import { createHash } from 'node:crypto';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { type Report, readDefinition, readParameters } from '@gaveta/core';
import { OUTPUTS, type Output, type OutputFacts, outputNamed } from '@gaveta/output';
import { type Request, type Response, Router } from 'express';
import { ownerOf, type Right, type Session } from '../access/session.ts';
import type { Limits } from '../base/limits.ts';
import { withText } from '../base/problem-text.ts';
import type { Catalogue, Credentials } from '../catalogue/catalogue.ts';
import { ConnectionError } from '../connection/connection.ts';
import type { NamelessFile } from '../pages/nameless-file.ts';
import { left } from '../runs/run-file.ts';
import type { Run, RunRequest, Runs } from '../runs/runs.ts';
import type { Workbench } from '../staging/workbench.ts';
import type { Store } from '../store/store.ts';
import type { ReportJob, ReportTask, TaskAnswers } from '../threads/job.ts';
import type { ReportThreads } from '../threads/report-threads.ts';
import type { ReportRows } from '../threads/row-server.ts';
import { TookTooLong, TookTooMuch } from '../threads/thread-pool.ts';
import { checkBody, designBody, runBody } from './bodies.ts';
import { body, issuesOf } from './body.ts';
import { ApiError } from './errors.ts';
import { callerOf } from './front.ts';
import { goneSignal } from './gone.ts';
import { RunEvents } from './run-events.ts';
import { definitionOf, nestedReports, storedReport } from './stored-reports.ts';

export interface RunsApiParts {
  store: Store;
  catalogue: Catalogue;
  workbench: () => Workbench;
  limits: Limits;
  runs: Runs;
  threads: ReportThreads;
  allow: (request: Request, right: Right) => Session;
  /** Throws unless a caller may write the statements in some JSON, or somebody who may has saved them. */
  checkSql: (caller: Session, json: unknown) => Promise<void>;
}

/** Seconds past the limit of one statement that the rows of a whole report may take while it is designed. */
const ROOM = 40;

/** Reports being run, and what their designer asks about them: all of it in threads. */
export const createRunsApi = (parts: RunsApiParts): Router => {
  const { store, catalogue, runs, threads, limits, allow, checkSql, workbench } = parts;
  const api = Router();

  const jobFor = async (
    report: Report,
    caller: Session,
    asked: Pick<ReportJob, 'parameters' | 'use' | 'maxRows' | 'seconds'>,
  ): Promise<ReportJob> => ({
    ...asked,
    report,
    nested: await nestedReports(store, report),
    recipes: await store.data.recipes(),
    host: caller.parameters ?? {},
    claims: caller.claims,
    now: Date.now(),
    maxStaged: limits.maxRows,
  });
  const rowsFrom = (connections: ReportRows['connections']): ReportRows => ({
    models: catalogue.models,
    modelsKey: catalogue.modelsKey,
    connections,
    workbench,
  });
  /** What a thread finds out about a report while somebody waits. */
  const find = async <T extends ReportTask>(
    task: T,
    job: ReportJob,
    response: Response,
  ): Promise<TaskAnswers[T['kind']]> => {
    const rows = rowsFrom(catalogue.connections);
    const asked = { job, rows, signal: goneSignal(response), seconds: limits.previewSeconds + ROOM };
    return waited(threads.work(task, asked));
  };
  const designed = { use: 'design' as const, maxRows: limits.designRows, seconds: limits.previewSeconds };

  api.post('/check', async (request, response) => {
    const caller = allow(request, 'design');
    const read = readDefinition(body(checkBody, request).definition);
    const problems = read.ok
      ? await find({ kind: 'check' }, await jobFor(read.report, caller, { ...designed, parameters: {} }), response)
      : read.problems;
    response.json({ problems: withText(problems) });
  });

  api.post('/design-rows', async (request, response) => {
    const caller = allow(request, 'design');
    const { definition, parameters } = body(designBody, request);
    await checkSql(caller, definition);
    const job = await jobFor(definitionOf(definition), caller, { ...designed, parameters });
    const rows = await find({ kind: 'rows' }, job, response);
    response.type('json').send(Buffer.from(rows.buffer, rows.byteOffset, rows.byteLength));
  });

  const runRequest = async (request: Request, response: Response): Promise<RunRequest> => {
    const asked = body(runBody, request);
    const caller = allow(request, 'definition' in asked ? 'design' : 'view');
    const report =
      'definition' in asked ? definitionOf(asked.definition) : (await storedReport(store, asked.report)).report;
    if ('definition' in asked) await checkSql(caller, asked.definition);
    const host = caller.parameters ?? {};
    const { problems } = readParameters(report, asked.parameters, { host });
    if (problems.length > 0) {
      const detailed = withText(problems);
      throw new ApiError('wrong-parameters', { detail: detailed.map((p) => p.text).join(' ') }, { problems: detailed });
    }
    const { maxRows, maxSeconds } = limits;
    const { parameters, credentials, keep } = asked;
    const job = await jobFor(report, caller, { parameters, use: 'run', maxRows, seconds: maxSeconds });
    await checkCredentials(job, credentials, response);
    const { connections, close } = connectionsFor(catalogue, credentials);
    const sameAs = Object.keys(credentials).length > 0 ? null : sameAsKey(job);
    return { job, rows: rowsFrom(connections), owner: ownerOf(caller), sameAs, keep, close };
  };
  /** Connections that ask who runs a report must have been told, where its rows come from them. */
  const checkCredentials = async (job: ReportJob, credentials: Credentials, response: Response): Promise<void> => {
    const asking = catalogue.asking.filter((name) => !Object.hasOwn(credentials, name));
    if (asking.length === 0) return;
    const models = await find({ kind: 'models' }, job, response);
    const used = new Set(models.map((model) => catalogue.models.get(model)?.connection ?? ''));
    const wanted = asking.filter((name) => used.has(name));
    if (wanted.length > 0) throw new ApiError('needs-sign-in', { names: wanted.join(', ') }, { connections: wanted });
  };
  const findRun = (request: Request): Run => {
    const id = String(request.params.id);
    const run = runs.get(id, ownerOf(allow(request, 'view')));
    if (!run) throw new ApiError('unknown-run', { id });
    return run;
  };
  const stateOf = (run: Run): object => ({ ...run.state, problems: withText(run.state.problems) });
  const events = new RunEvents((run: Run) => JSON.stringify(stateOf(run)));

  api.post('/runs', async (request, response) => {
    const run = runs.start(await runRequest(request, response));
    if (!run) throw new ApiError('too-many-runs', { limit: limits.runsWaiting });
    response.status(201).json(stateOf(run));
  });
  api.get('/runs/:id', (request, response) => {
    response.json(stateOf(findRun(request)));
  });
  api.delete('/runs/:id', async (request, response) => {
    const run = findRun(request);
    await runs.cancel(run, ownerOf(callerOf(request)));
    response.json(stateOf(run));
  });
  api.get('/runs/:id/events', (request, response) => {
    events.follow(findRun(request), response);
  });
  api.get('/runs/:id/pages', async (request, response) => {
    const run = findRun(request);
    const from = Math.max(1, Math.floor(Number(request.query.from)) || 1);
    const count = Math.min(20, Math.max(1, Math.floor(Number(request.query.count)) || 1));
    const pages: Buffer[] = [];
    const letGo = run.hold();
    try {
      for (let number = from; number < from + count; number++) {
        const page = await run.page(number);
        if (page) pages.push(page);
      }
    } finally {
      letGo();
    }
    const comma = Buffer.from(',');
    const list = pages.flatMap((page, i) => (i === 0 ? [page] : [comma, page]));
    response.type('json').send(Buffer.concat([Buffer.from('['), ...list, Buffer.from(']')]));
  });
  api.get('/pictures/:hash', async (request, response) => {
    const { hash } = request.params;
    const file = await runs.picture(hash, ownerOf(allow(request, 'view')));
    if (!file) throw new ApiError('unknown-picture', { hash });
    // The hash is that of its bytes, so it never changes: a browser asks for it once.
    response
      .set('Cache-Control', 'private, max-age=31536000, immutable')
      .type(file[0] === 0x89 ? 'png' : 'jpeg')
      .send(file);
  });
  api.get('/runs/:id/outline', (request, response) => {
    response.json(findRun(request).navigation.headings);
  });
  api.get('/runs/:id/anchor', (request, response) => {
    const place = findRun(request).navigation.anchor(String(request.query.name ?? ''));
    response.json(place);
  });
  api.get('/runs/:id/profile', (request, response) => {
    response.json(findRun(request).profile(callerOf(request).rights.includes('design')));
  });
  api.get('/outputs', (request, response) => {
    allow(request, 'view');
    response.json(OUTPUTS.map(({ name, label, mime, extension }) => ({ name, label, mime, extension })));
  });
  api.get('/runs/:id/files/:output', async (request, response) => {
    const run = findRun(request);
    const output = outputNamed(request.params.output);
    if (!output) throw new ApiError('unknown-output', { name: request.params.output, names: OUTPUT_NAMES });
    const { problems: asIs, ...options } = request.query;
    checkOptions(output, options);
    const gone = goneSignal(response);
    const letGo = run.hold();
    try {
      const state = await Promise.race([run.finished(), left(gone)]);
      if (state === null) return;
      if (state.status === 'cancelled') throw new ApiError('run-cancelled');
      if (state.status === 'failed') throw new ApiError('run-failed', { detail: state.detail ?? '' });
      const errors = state.problems.filter((p) => p.severity === 'error');
      if (errors.length > 0 && asIs !== 'allow')
        throw new ApiError('run-incomplete', {}, { problems: withText(errors) });
      const made = run.file({ output: output.name, options }, threads, limits.maxSeconds);
      const letFileGo = made.hold();
      try {
        const file = await waited(made.whole(gone));
        if (!file) return;
        response.set('Gaveta-Problems', String(errors.length));
        await sendFile(file, output, run.report.name, response);
      } finally {
        letFileGo();
      }
    } finally {
      letGo();
    }
  });
  return api;
};

const OUTPUT_NAMES = OUTPUTS.map(({ name }) => name).join(', ');

/** Throws when an output cannot be made with the options that an address gives. */
const checkOptions = ({ options }: Output, given: unknown): void => {
  const read = options.safeParse(given);
  if (!read.success) throw new ApiError('wrong-body', { detail: issuesOf(read.error) });
};

/** JSON of definitions that stay as they are, worked out once. */
const written = new WeakMap<object, string>();
const textOf = (part: object): string => {
  const text = written.get(part) ?? JSON.stringify(part);
  written.set(part, text);
  return text;
};

/** Equal for runs that give the same pages: the same definitions, values and rights. */
const sameAsKey = ({ report, nested, recipes, parameters, claims, host }: ReportJob): string => {
  const hash = createHash('sha256').update(textOf(report)).update(textOf(recipes));
  for (const [id, definition] of nested) hash.update(JSON.stringify(id)).update(textOf(definition));
  return hash.update(JSON.stringify([parameters, Object.entries(claims).sort(), host])).digest('base64');
};

/** What a thread gives; what it took too much of is said to whoever waits. */
const waited = async <T>(work: Promise<T>): Promise<T> => {
  try {
    return await work;
  } catch (error) {
    if (error instanceof TookTooLong || error instanceof TookTooMuch)
      throw new ApiError('report-too-heavy', { detail: error.message });
    throw error;
  }
};

const connectionsFor = (catalogue: Catalogue, credentials: Credentials): ReturnType<Catalogue['connectionsFor']> => {
  try {
    return catalogue.connectionsFor(credentials);
  } catch (error) {
    if (error instanceof ConnectionError) throw new ApiError('connection-not-usable', { detail: error.message });
    throw error;
  }
};

/** Sends a file. One that cannot be completed is cut off, so that nobody takes it for whole. */
const sendFile = async (file: NamelessFile, output: OutputFacts, name: string, response: Response): Promise<void> => {
  const safe = name.replace(/[^\p{L}\p{N} ._-]/gu, '_');
  response.set({
    'Content-Type': output.mime,
    'Content-Length': String(file.size),
    'Content-Disposition': `attachment; filename="report.${output.extension}"; filename*=UTF-8''${encodeURIComponent(safe)}.${output.extension}`,
  });
  // Whoever goes away while it is sent has gone, and nothing is wrong.
  await pipeline(Readable.from(file.chunks(), { objectMode: true }), response).catch((error: unknown) => {
    if (!response.destroyed) throw error;
  });
};
