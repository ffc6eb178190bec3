import { createHash } from 'node:crypto';
import {
  definitionJsonSchema,
  type FontBook,
  type Level,
  levelKeys,
  type PlanContext,
  planReport,
  plansOf,
  type Report,
  ROWS_VERSION,
  RowProblem,
  readDefinition,
  readParameters,
  type WireRow,
} from '@gaveta/core';
import { createPdfWriter, type PictureThreads, SHIPPED_FONTS, shippedFontPath, TargetGone } from '@gaveta/output';
import { type Request, type Response, Router } from 'express';
import { z } from 'zod';
import { ownerOf, type Right, type Session } from '../access/session.ts';
import type { Catalogue, Credentials } from '../catalogue.ts';
import { ConnectionError } from '../connection/connection.ts';
import type { Limits } from '../limits.ts';
import { sqlTexts } from '../recipes/users.ts';
import type { Run, RunRequest, Runs } from '../runs/runs.ts';
import { openRows } from '../sql/row-source.ts';
import { basesOf } from '../staging/bases.ts';
import type { Workbench } from '../staging/workbench.ts';
import type { Store } from '../store/store.ts';
import { BODIES, checkBody, createBody, designBody, runBody, saveBody } from './bodies.ts';
import { body } from './body.ts';
import { createDataApi } from './data-api.ts';
import { createDesigningApi } from './designing-api.ts';
import { ApiError, withText } from './errors.ts';
import { callerOf, jsonBodies, keepNothing, knowCaller, plainAddress, sameOriginOnly } from './front.ts';
import { goneSignal } from './gone.ts';
import type { Uploads } from './uploads.ts';

export interface ApiParts {
  store: Store;
  catalogue: Catalogue;
  workbench: () => Workbench;
  /** Starts of addresses that files and services may be asked at. */
  allowedAddresses: readonly string[];
  limits: Limits;
  hasKey: boolean;
  runs: Runs;
  uploads: Uploads;
  book: FontBook;
  pictures: PictureThreads;
  session: (request: Request) => Promise<{ session: Session; byToken: boolean }>;
}

/** The JSON API. Every call needs a session; fonts and the published schema alone are open. */
export const createApi = (parts: ApiParts): Router => {
  const { store, catalogue, runs, workbench, uploads, limits } = parts;
  const api = Router();

  const allow = (request: Request, right: Right): Session => {
    const caller = callerOf(request);
    if (!caller.rights.includes(right)) throw new ApiError('not-allowed', { right });
    return caller;
  };

  api.use(plainAddress);
  api.get('/fonts', (_request, response) => {
    response.json(SHIPPED_FONTS.map(({ family, weight, italic, file }) => ({ family, weight, italic, file })));
  });
  api.get('/fonts/:file', (request, response) => {
    const font = SHIPPED_FONTS.find((f) => f.file === request.params.file);
    if (!font) throw new ApiError('unknown-address', { method: 'GET', path: request.path });
    response.set('Cache-Control', 'public, max-age=604800').type('font/ttf').sendFile(shippedFontPath(font));
  });
  api.get('/schema/report', (_request, response) => {
    response.json(definitionJsonSchema());
  });
  api.get('/schema/calls', (_request, response) => {
    response.json(
      Object.fromEntries(
        Object.entries(BODIES).map(([call, schema]) => [call, z.toJSONSchema(schema, { io: 'input' })]),
      ),
    );
  });

  // From here on every call needs a session, which is known before a byte of the body is read.
  api.use(keepNothing, knowCaller(parts.session), sameOriginOnly);
  api.post('/uploads', async (request, response) => {
    const caller = allow(request, 'data');
    response.status(201).json(await uploads.take(ownerOf(caller), request, goneSignal(response)));
  });
  api.use(jsonBodies(limits));

  api.get('/session', (request, response) => {
    const { user, rights } = callerOf(request);
    response.json({ user, rights });
  });
  api.get('/models', (request, response) => {
    allow(request, 'view');
    const language = request.query.language ?? request.acceptsLanguages()[0] ?? 'en';
    response.json(catalogue.visible(String(language)));
  });

  api.get('/reports', async (request, response) => {
    allow(request, 'view');
    response.json(await store.list());
  });
  api.post('/reports', async (request, response) => {
    const caller = allow(request, 'design');
    const { user } = caller;
    const { definition } = body(createBody, request);
    await checkSql(caller, definition);
    response.status(201).json(await store.create(definitionOf(definition), user));
  });
  api.get('/reports/:id', async (request, response) => {
    allow(request, 'view');
    const { stored, report } = await storedReport(store, request.params.id);
    const mayRead = callerOf(request).rights.includes('design');
    response.json({ ...stored, definition: mayRead ? report : shownDefinition(report) });
  });
  api.put('/reports/:id', async (request, response) => {
    const caller = allow(request, 'design');
    const { user } = caller;
    const { definition, base, note } = body(saveBody, request);
    await checkSql(caller, definition);
    const saved = await store.save(request.params.id, definitionOf(definition), base, user, note);
    if (saved.ok) response.json(saved.stored);
    else if (saved.reason === 'missing') throw new ApiError('unknown-report', { id: request.params.id });
    else {
      const { current } = saved;
      throw new ApiError('conflict', { author: current.changedBy, revision: current.revision }, { current });
    }
  });
  api.get('/reports/:id/revisions', async (request, response) => {
    allow(request, 'design');
    response.json(await store.revisions(request.params.id));
  });
  api.get('/reports/:id/revisions/:number', async (request, response) => {
    allow(request, 'design');
    const { id, number } = request.params;
    const read = /^\d{1,9}$/.test(number) ? await store.revision(id, Number(number)) : null;
    if (!read) throw new ApiError('unknown-revision', { id, number });
    if (!read.ok) throw new ApiError('wrong-definition', {}, { problems: withText(read.problems) });
    response.json(read.report);
  });

  const plansFor = async (report: Report): Promise<PlanContext & { nested: Map<string, Report> }> => {
    const nested = await nestedReports(store, report);
    const recipes = new Map((await store.data.recipes()).map((r) => [r.id, r]));
    return {
      models: [...catalogue.models.values()].map((m) => m.model),
      report: (id) => nested.get(id) ?? null,
      recipe: (id) => recipes.get(id) ?? null,
      rowsFromDatabase: true,
      nested,
    };
  };
  /** Statements that a caller may not write must stand in a stored report or recipe already. */
  const checkSql = async (caller: Session, definition: unknown): Promise<void> => {
    const texts = sqlTexts(definition);
    if (texts.length === 0 || caller.rights.includes('sql')) return;
    const known = new Set((await store.data.recipes()).flatMap((r) => sqlTexts(r.steps)));
    for (const { id } of await store.list()) {
      const stored = await store.get(id);
      if (stored?.read.ok) for (const text of sqlTexts(stored.read.report)) known.add(text);
    }
    if (texts.some((text) => !known.has(text))) throw new ApiError('not-allowed', { right: 'sql' });
  };
  api.use(createDesigningApi({ store, allow, checkSql }));
  api.use(
    createDataApi({
      ...parts,
      allow,
      checkSql,
      reportOf: async ({ report, definition }) =>
        definition ? definitionOf(definition) : (await storedReport(store, report ?? '')).report,
    }),
  );

  api.post('/check', async (request, response) => {
    allow(request, 'design');
    const read = readDefinition(body(checkBody, request).definition);
    const problems = read.ok ? planReport(read.report, await plansFor(read.report)).problems : read.problems;
    response.json({ problems: withText(problems) });
  });

  api.post('/design-rows', async (request, response) => {
    const caller = allow(request, 'design');
    const { definition, parameters } = body(designBody, request);
    await checkSql(caller, definition);
    const report = definitionOf(definition);
    const context = await plansFor(report);
    const plan = planReport(report, context);
    const given = readParameters(report, parameters, { use: 'design', host: caller.parameters ?? {} });
    const opened = await openRows(plan, {
      models: catalogue.models,
      connections: catalogue.connections,
      claims: caller.claims,
      parameters: given.values,
      host: caller.parameters ?? {},
      maxRows: limits.designRows,
      maxStaged: limits.maxRows,
      workbench,
      signal: goneSignal(response),
      seconds: limits.previewSeconds,
    });
    try {
      const levels = [];
      for (const [level, key] of levelKeys(plan)) levels.push({ key, ...(await readAll(level, opened.source(level))) });
      response.json({
        version: ROWS_VERSION,
        levels,
        nested: Object.fromEntries(context.nested),
        problems: withText(given.problems),
      });
    } finally {
      await opened.close();
    }
  });

  const runRequest = async (request: Request): Promise<RunRequest> => {
    const asked = body(runBody, request);
    const caller = allow(request, 'definition' in asked ? 'design' : 'view');
    const report =
      'definition' in asked ? definitionOf(asked.definition) : (await storedReport(store, asked.report)).report;
    if ('definition' in asked) await checkSql(caller, asked.definition);
    const { values, problems } = readParameters(report, asked.parameters, { host: caller.parameters ?? {} });
    if (problems.length > 0) {
      const detailed = withText(problems);
      throw new ApiError('wrong-parameters', { detail: detailed.map((p) => p.text).join(' ') }, { problems: detailed });
    }
    const { claims } = caller;
    const plans = await plansFor(report);
    const wanted = connectionsAsked(report, plans, catalogue).filter((name) => !Object.hasOwn(asked.credentials, name));
    if (wanted.length > 0) throw new ApiError('needs-sign-in', { names: wanted.join(', ') }, { connections: wanted });
    const { connections, close } = connectionsFor(catalogue, asked.credentials);
    const { maxRows } = limits;
    const host = caller.parameters ?? {};
    const rows = { models: catalogue.models, connections, claims, host, maxRows, maxStaged: maxRows, workbench };
    const sameAs =
      Object.keys(asked.credentials).length > 0
        ? null
        : createHash('sha256')
            .update(JSON.stringify([report, asked.parameters, Object.entries(claims).sort(), caller.parameters ?? {}]))
            .digest('base64');
    const { keep } = asked;
    return { report, parameters: values, problems, owner: ownerOf(caller), sameAs, keep, plans, rows, close };
  };
  const findRun = (request: Request): Run => {
    const id = String(request.params.id);
    const run = runs.get(id, ownerOf(allow(request, 'view')));
    if (!run) throw new ApiError('unknown-run', { id });
    return run;
  };
  const stateOf = (run: Run): object => ({ ...run.state, problems: withText(run.state.problems) });

  api.post('/runs', async (request, response) => {
    const run = runs.start(await runRequest(request));
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
    const run = findRun(request);
    const letGo = run.hold();
    response.set({ 'Content-Type': 'text/event-stream', Connection: 'keep-alive' });
    const stop = (): void => {
      run.changes.off('change', send);
      letGo();
    };
    const send = (): void => {
      if (response.writableEnded || response.destroyed) return;
      // Whoever reads slowly gets the newest state later, not all of them.
      if (response.writableNeedDrain && !run.hasEnded) return;
      response.write(`data: ${JSON.stringify(stateOf(run))}\n\n`);
      if (run.hasEnded) {
        stop();
        response.end();
      }
    };
    response.on('close', stop);
    response.on('error', stop);
    run.changes.on('change', send);
    send();
  });
  api.get('/runs/:id/pages', async (request, response) => {
    const run = findRun(request);
    const from = Math.max(1, Math.floor(Number(request.query.from)) || 1);
    const count = Math.min(20, Math.max(1, Math.floor(Number(request.query.count)) || 1));
    const pages = [];
    const letGo = run.hold();
    try {
      for (let number = from; number < from + count; number++) {
        const page = await run.page(number);
        if (page) pages.push(page);
      }
    } finally {
      letGo();
    }
    response.json(pages);
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
  api.get('/runs/:id/pdf', async (request, response) => {
    const run = findRun(request);
    const gone = goneSignal(response);
    const letGo = run.hold();
    try {
      const state = await Promise.race([run.finished(), aborted(gone)]);
      if (state === null) return;
      if (state.status === 'cancelled') throw new ApiError('run-cancelled');
      if (state.status === 'failed') throw new ApiError('run-failed', { detail: state.detail ?? '' });
      const errors = state.problems.filter((p) => p.severity === 'error');
      if (errors.length > 0 && request.query.problems !== 'allow')
        throw new ApiError('run-incomplete', {}, { problems: withText(errors) });
      response.set('Gaveta-Problems', String(errors.length));
      await sendPdf(run, parts, response);
    } finally {
      letGo();
    }
  });

  api.use((request) => {
    throw new ApiError('unknown-address', { method: request.method, path: request.path });
  });
  return api;
};

/** Null once a caller has gone. */
const aborted = (signal: AbortSignal): Promise<null> =>
  new Promise((resolve) => {
    if (signal.aborted) resolve(null);
    else signal.addEventListener('abort', () => resolve(null), { once: true });
  });

/** What a reader needs of a definition: its name, paper and parameters, without what they are made of. */
const shownDefinition = ({ gaveta, name, description, language, timeZone, page, parameters }: Report): object => ({
  gaveta,
  name,
  ...(description === undefined ? {} : { description }),
  language,
  timeZone,
  page,
  parameters: parameters
    .filter((p) => !p.fromHost)
    .map(({ defaultFormula: _, defaultUntil: __, sample: ___, asOf: ____, choicesFrom, windows, ...shown }) => ({
      ...shown,
      // That there are choices out of rows is known; where they come from is not.
      ...(choicesFrom ? { choicesFrom: { rows: 'rows', value: '' } } : {}),
      ...(windows ? { windows: windows.map(({ value, label }) => ({ value, label, from: '' })) } : {}),
    })),
});

const connectionsFor = (catalogue: Catalogue, credentials: Credentials): ReturnType<Catalogue['connectionsFor']> => {
  try {
    return catalogue.connectionsFor(credentials);
  } catch (error) {
    if (error instanceof ConnectionError) throw new ApiError('connection-not-usable', { detail: error.message });
    throw error;
  }
};

/** Connections of a report's rows that ask who runs it. */
const connectionsAsked = (report: Report, plans: PlanContext, catalogue: Catalogue): string[] => {
  const { asking } = catalogue;
  if (asking.length === 0) return [];
  const used = new Set<string>();
  for (const plan of plansOf(planReport(report, plans))) {
    for (const base of basesOf(plan)) used.add(catalogue.models.get(base.model)?.connection ?? '');
  }
  return asking.filter((name) => used.has(name));
};

const definitionOf = (json: unknown): Report => {
  const read = readDefinition(json);
  if (!read.ok) throw new ApiError('wrong-definition', {}, { problems: withText(read.problems) });
  return read.report;
};

const storedReport = async (store: Store, id: string) => {
  const found = await store.get(id);
  if (!found) throw new ApiError('unknown-report', { id });
  if (!found.read.ok) throw new ApiError('wrong-definition', {}, { problems: withText(found.read.problems) });
  return { stored: found.stored, report: found.read.report };
};

/** Every stored report that this one nests, at any depth, by id. */
const nestedReports = async (store: Store, report: Report): Promise<Map<string, Report>> => {
  const found = new Map<string, Report>();
  const missing = new Set<string>();
  const queue = [report];
  for (let next = queue.pop(); next; next = queue.pop()) {
    for (const id of subreportIds(next)) {
      if (found.has(id) || missing.has(id)) continue;
      const stored = await store.get(id);
      if (stored?.read.ok) {
        found.set(id, stored.read.report);
        queue.push(stored.read.report);
      } else missing.add(id);
    }
  }
  return found;
};

const subreportIds = (report: Report): string[] => {
  const ids: string[] = [];
  JSON.stringify(report, (_, value: unknown) => {
    if (
      typeof value === 'object' &&
      value !== null &&
      'kind' in value &&
      value.kind === 'subreport' &&
      'report' in value
    ) {
      ids.push(String(value.report));
    }
    return value;
  });
  return ids;
};

const readAll = async (level: Level, feed: AsyncIterable<WireRow[]>) => {
  const rows: WireRow[] = [];
  try {
    for await (const batch of feed) rows.push(...batch);
    return { rows, complete: true, problem: null };
  } catch (error) {
    if (!(error instanceof RowProblem)) throw error;
    if (error.code === 'too-many-rows') return { rows, complete: false, problem: null };
    return { rows, complete: false, problem: { code: error.code, data: { drawer: level.drawer.name, ...error.data } } };
  }
};

/** Writes a run's pages as a PDF. A file that cannot be completed is cut off, so that nobody takes it for whole. */
const sendPdf = async (run: Run, { book, pictures }: ApiParts, response: Response): Promise<void> => {
  const { name } = run.report;
  const safe = name.replace(/[^\p{L}\p{N} ._-]/gu, '_');
  response.set({
    'Content-Type': 'application/pdf',
    'Content-Disposition': `attachment; filename="report.pdf"; filename*=UTF-8''${encodeURIComponent(safe)}.pdf`,
  });
  const writer = createPdfWriter(response, book, { title: name, pictures });
  try {
    for (let number = 1; number <= run.pageCount; number++) {
      const page = await run.page(number);
      if (!page) throw new Error(`page ${number} of the run is gone`);
      const { late: _, ...whole } = page;
      await writer.page(whole);
      if (number % 50 === 0) await new Promise(setImmediate);
    }
    await writer.end([]);
  } catch (error) {
    response.destroy();
    if (!(error instanceof TargetGone)) throw error;
  } finally {
    await writer.close();
  }
};
