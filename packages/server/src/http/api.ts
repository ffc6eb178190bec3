import { definitionJsonSchema } from '@gaveta/core';
import { SHIPPED_FONTS, shippedFontPath } from '@gaveta/output/fonts';
import { type Request, Router } from 'express';
import { z } from 'zod';
import { ownerOf, type Right, type Session } from '../access/session.ts';
import { withText } from '../base/problem-text.ts';
import { mayUseStatements } from '../recipes/known-statements.ts';
import { BODIES, createBody, saveBody } from './bodies.ts';
import { body } from './body.ts';
import { type ConnectionsApiParts, createConnectionsApi } from './connections-api.ts';
import { createDataApi, type DataApiParts } from './data-api.ts';
import { createDesigningApi } from './designing-api.ts';
import { ApiError } from './errors.ts';
import { callerOf, jsonBodies, keepNothing, knowCaller, plainAddress, sameOriginOnly } from './front.ts';
import { goneSignal } from './gone.ts';
import { createRunsApi, type RunsApiParts } from './runs-api.ts';
import { definitionOf, shownDefinition, storedReport } from './stored-reports.ts';

/** What only the calls themselves work out. */
type Made = 'allow' | 'checkSql' | 'reportOf';

export interface ApiParts extends Omit<RunsApiParts, Made>, Omit<DataApiParts, Made>, Omit<ConnectionsApiParts, Made> {
  session: (request: Request) => Promise<{ session: Session; byToken: boolean }>;
}

/** The JSON API. Every call needs a session; fonts and the published schema alone are open. */
export const createApi = (parts: ApiParts): Router => {
  const { store, catalogue, uploads, limits } = parts;
  const api = Router();

  const allow = (request: Request, right: Right): Session => {
    const caller = callerOf(request);
    if (!caller.rights.includes(right)) throw new ApiError('not-allowed', { right });
    return caller;
  };
  const checkSql: RunsApiParts['checkSql'] = async (caller, json) => {
    if (!(await mayUseStatements(store, caller, json))) throw new ApiError('not-allowed', { right: 'sql' });
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

  api.use(createConnectionsApi({ ...parts, allow }));
  api.use(createRunsApi({ ...parts, allow, checkSql }));

  api.use((request) => {
    throw new ApiError('unknown-address', { method: request.method, path: request.path });
  });
  return api;
};
