import {
  definitionJsonSchema,
  type FontBook,
  type Level,
  type PlanContext,
  planReport,
  plansOf,
  type Report,
  RowProblem,
  readDefinition,
  readParameters,
  type WireRow,
} from '@gaveta/core';
import { createPdfWriter, SHIPPED_FONTS, shippedFontPath } from '@gaveta/output';
import express, { type Request, type Response, Router } from 'express';
import { z } from 'zod';
import type { Right, Session } from '../access/session.ts';
import type { Catalogue } from '../catalogue.ts';
import { sqlTexts } from '../recipes/users.ts';
import type { Run, RunRequest, Runs } from '../runs/runs.ts';
import { openRows } from '../sql/row-source.ts';
import { basesOf } from '../staging/bases.ts';
import type { Workbench } from '../staging/workbench.ts';
import type { Store } from '../store/store.ts';
import { BODIES, checkBody, createBody, designBody, runBody, saveBody } from './bodies.ts';
import { body } from './body.ts';
import { createDataApi, goneSignal } from './data-api.ts';
import { createDesigningApi } from './designing-api.ts';
import { ApiError, withText } from './errors.ts';

export interface ApiParts {
  store: Store;
  catalogue: Catalogue;
  workbench: () => Workbench;
  /** Starts of addresses that files and services may be asked at. */
  allowedAddresses: readonly string[];
  /** Seconds that looking at rows may take. */
  previewSeconds: number;
  hasKey: boolean;
  runs: Runs;
  book: FontBook;
  maxRows: number;
  /** Rows of each drawer that the live page gets. */
  designRows: number;
  session: (request: Request) => Promise<Session>;
}

/** The JSON API. Every call needs a session; fonts and the published schema alone are open. */
export const createApi = (parts: ApiParts): Router => {
  const { store, catalogue, runs, session, workbench } = parts;
  const api = Router();

  const allow = async (request: Request, right: Right): Promise<Session> => {
    const caller = await session(request);
    if (!caller.rights.includes(right)) throw new ApiError('not-allowed', { right });
    return caller;
  };

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

  api.use(express.json({ limit: '96mb' }));

  api.get('/session', async (request, response) => {
    const { user, rights } = await session(request);
    response.json({ user, rights });
  });
  api.get('/models', async (request, response) => {
    await session(request);
    const language = request.query.language ?? request.acceptsLanguages()[0] ?? 'en';
    response.json(catalogue.visible(String(language)));
  });

  api.get('/reports', async (request, response) => {
    await allow(request, 'view');
    response.json(await store.list());
  });
  api.post('/reports', async (request, response) => {
    const caller = await allow(request, 'design');
    const { user } = caller;
    const { definition } = body(createBody, request);
    await checkSql(caller, definition);
    response.status(201).json(await store.create(definitionOf(definition), user));
  });
  api.get('/reports/:id', async (request, response) => {
    await allow(request, 'view');
    const { stored, report } = await storedReport(store, request.params.id);
    response.json({ ...stored, definition: report });
  });
  api.put('/reports/:id', async (request, response) => {
    const caller = await allow(request, 'design');
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
    await allow(request, 'view');
    response.json(await store.revisions(request.params.id));
  });
  api.get('/reports/:id/revisions/:number', async (request, response) => {
    await allow(request, 'view');
    const { id, number } = request.params;
    const read = await store.revision(id, Number(number) || 0);
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
    await allow(request, 'design');
    const read = readDefinition(body(checkBody, request).definition);
    const problems = read.ok ? planReport(read.report, await plansFor(read.report)).problems : read.problems;
    response.json({ problems: withText(problems) });
  });

  api.post('/design-rows', async (request, response) => {
    const caller = await allow(request, 'design');
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
      maxRows: parts.designRows,
      maxStaged: parts.maxRows,
      workbench,
      signal: goneSignal(response),
      seconds: parts.previewSeconds,
    });
    try {
      const levels = [];
      for (const nested of plansOf(plan))
        for (const level of nested.levels) levels.push(await readAll(level, opened.source(level)));
      response.json({ levels, nested: Object.fromEntries(context.nested), problems: withText(given.problems) });
    } finally {
      await opened.close();
    }
  });

  const runRequest = async (request: Request): Promise<RunRequest> => {
    const asked = body(runBody, request);
    const caller = await allow(request, 'definition' in asked ? 'design' : 'view');
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
    const wanted = connectionsAsked(report, plans, catalogue).filter((name) => !asked.credentials[name]);
    if (wanted.length > 0) throw new ApiError('needs-sign-in', { names: wanted.join(', ') }, { connections: wanted });
    const { connections, close } = catalogue.connectionsFor(asked.credentials);
    const rows = {
      models: catalogue.models,
      connections,
      claims,
      maxRows: parts.maxRows,
      maxStaged: parts.maxRows,
      workbench,
    };
    return { report, parameters: values, problems, owner: ownerOf(caller), plans, rows, close };
  };
  const findRun = async (request: Request): Promise<Run> => {
    const id = String(request.params.id);
    const run = runs.get(id, ownerOf(await allow(request, 'view')));
    if (!run) throw new ApiError('unknown-run', { id });
    return run;
  };
  const stateOf = (run: Run): object => ({ ...run.state, problems: withText(run.state.problems) });

  api.post('/runs', async (request, response) => {
    const run = await runs.start(await runRequest(request));
    response.status(201).json(stateOf(run));
  });
  api.get('/runs/:id', async (request, response) => {
    response.json(stateOf(await findRun(request)));
  });
  api.delete('/runs/:id', async (request, response) => {
    const run = await findRun(request);
    run.cancel();
    await run.finished();
    response.json(stateOf(run));
  });
  api.get('/runs/:id/events', async (request, response) => {
    const run = await findRun(request);
    response.set({ 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-cache', Connection: 'keep-alive' });
    const send = (): void => {
      response.write(`data: ${JSON.stringify(stateOf(run))}\n\n`);
      if (run.state.status !== 'running') response.end();
    };
    run.changes.on('change', send);
    response.on('close', () => run.changes.off('change', send));
    send();
  });
  api.get('/runs/:id/pages', async (request, response) => {
    const run = await findRun(request);
    const from = Math.max(1, Math.floor(Number(request.query.from)) || 1);
    const count = Math.min(20, Math.max(1, Math.floor(Number(request.query.count)) || 1));
    const pages = [];
    for (let number = from; number < from + count; number++) {
      const page = await run.spool.page(number);
      if (page) pages.push(page);
    }
    response.json(pages);
  });
  api.get('/runs/:id/outline', async (request, response) => {
    response.json((await findRun(request)).navigation.headings);
  });
  api.get('/runs/:id/anchor', async (request, response) => {
    const place = (await findRun(request)).navigation.anchor(String(request.query.name ?? ''));
    response.json(place);
  });
  api.get('/runs/:id/profile', async (request, response) => {
    const { rights } = await session(request);
    response.json((await findRun(request)).profile(rights.includes('design')));
  });
  api.get('/runs/:id/pdf', async (request, response) => {
    const run = await findRun(request);
    const state = await run.finished();
    if (state.status === 'cancelled') throw new ApiError('run-cancelled');
    if (state.status === 'failed') throw new ApiError('run-failed', { detail: state.detail ?? '' });
    await sendPdf(run, parts.book, response);
  });

  api.use((request) => {
    throw new ApiError('unknown-address', { method: request.method, path: request.path });
  });
  return api;
};

const ownerOf = (session: Session): string => JSON.stringify([session.user, session.claims]);

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

const sendPdf = async (run: Run, book: FontBook, response: Response): Promise<void> => {
  const { name } = run.report;
  const safe = name.replace(/[^\p{L}\p{N} ._-]/gu, '_');
  response.set({
    'Content-Type': 'application/pdf',
    'Content-Disposition': `attachment; filename="report.pdf"; filename*=UTF-8''${encodeURIComponent(safe)}.pdf`,
  });
  const writer = createPdfWriter(response, book, { title: name });
  for (let number = 1; number <= run.spool.count; number++) {
    const page = await run.spool.page(number);
    const { late: _, ...whole } = page!;
    await writer.page(whole);
    if (number % 50 === 0) await new Promise(setImmediate);
  }
  await writer.end([]);
};
