import { definitionJsonSchema, type Theme } from '@gaveta/core/internal';
import { type Request, Router } from 'express';
import type { PresenceBook } from '../access/presence.ts';
import type { CallerSession } from '../access/session.ts';
import { ApiError } from '../base/api-error.ts';
import type { Deliveries, DeliveryParts } from '../deliveries/deliveries.ts';
import { keptService } from '../deliveries/kept-service.ts';
import { deliveryService } from '../deliveries/service.ts';
import { standInService } from '../deliveries/stand-in-service.ts';
import { type ActivityBook, activityService } from '../services/activity.ts';
import type { Caller, Calls } from '../services/call.ts';
import { choiceService } from '../services/choices.ts';
import { type ConnectionParts, connectionService } from '../services/connections.ts';
import type { EmbeddingCall } from '../services/embedding.ts';
import type { FirstPages } from '../services/first-pages.ts';
import { folderFileService } from '../services/folder-files.ts';
import { libraryService } from '../services/library.ts';
import { type LinkParts, linkService } from '../services/links.ts';
import { recipeService } from '../services/recipes.ts';
import { reportService } from '../services/reports.ts';
import type { RunParts, RunService } from '../services/runs.ts';
import { sketchService } from '../services/sketches.ts';
import { statementService } from '../services/statements.ts';
import { valueSetService } from '../services/value-sets.ts';
import { apiPage } from './api-page.ts';
import { addDeliveryRoutes } from './delivery-routes.ts';
import { jsonBodies, keepNothing, knowCaller, plainAddress, sameOriginOnly } from './front.ts';
import type { FunctionModules } from './function-modules.ts';
import { goneSignal } from './gone.ts';
import { openApi } from './open-api.ts';
import { addCalls, addRoute } from './routes.ts';
import { addRunRoutes } from './run-routes.ts';

export interface ApiParts extends RunParts, ConnectionParts {
  presence: PresenceBook;
  functionModules: FunctionModules;
  themes: readonly Theme[];
  firstPages: FirstPages;
  links: LinkParts;
  book: ActivityBook;
  /** Runs reports; code of the host’s own asks it as well. */
  service: RunService;
  deliveries: Deliveries;
  deliveryParts: DeliveryParts;
  /** For the developer of the host. */
  embedding: Calls<EmbeddingCall>;
  /** Path at which browsers reach Gaveta; null: where it is mounted. */
  path: string | null;
  session: (request: Request) => Promise<{ session: CallerSession; byToken: boolean }>;
}

/** The JSON API, route by route from the contract. Every call needs a session; fonts and descriptions alone are open. */
export const createApi = (parts: ApiParts): Router => {
  const { store, catalogue, uploads, limits } = parts;
  const { fonts } = parts.equipment;
  const api = Router();

  api.use(plainAddress);
  api.get('/fonts', (_request, response) => {
    response.json(fonts.map(({ path: _, ...face }) => face));
  });
  api.get('/fonts/:file', (request, response) => {
    const font = fonts.find((f) => f.file === request.params.file);
    if (!font) throw new ApiError('unknown-address', { method: 'GET', path: request.path });
    response.set('Cache-Control', 'public, max-age=604800').type('font/ttf').sendFile(font.path);
  });
  api.get('/functions/:file', (request, response) => {
    const text = parts.functionModules.texts.get(request.params.file);
    if (text === undefined) throw new ApiError('unknown-address', { method: 'GET', path: request.path });
    response.set('Cache-Control', 'public, max-age=31536000, immutable').type('text/javascript').send(text);
  });
  // Both stay as they are for as long as the server runs, and take a moment to make.
  const schema = once(() => JSON.stringify(definitionJsonSchema()));
  api.get('/schema/report', (_request, response) => {
    response.type('json').send(schema());
  });
  const paths = once(() => JSON.stringify(openApi()));
  const page = once(() => apiPage(openApi()));
  api.get('/reference', (_request, response) => {
    response.type('html').send(page());
  });
  api.get('/openapi.json', (request, response) => {
    const servers = JSON.stringify([{ url: parts.path === null ? request.baseUrl : `${parts.path}/api` }]);
    response.type('json').send(`{"servers":${servers},${paths().slice(1)}`);
  });

  // From here on every call needs a session, which is known before a byte of the body is read.
  api.use(keepNothing, knowCaller(parts.session), sameOriginOnly);
  addRoute(api, 'POST /uploads', async (request, response, caller) => {
    response.status(201).json(await uploads.take(caller.owner, request, goneSignal(response)));
  });
  api.use(jsonBodies(limits));

  addCalls(api, { 'GET /session': ({ caller: { user, session } }) => ({ user, rights: [...session.rights] }) });
  // The language of names comes from the call’s own headers, where the address does not say it.
  addRoute(api, 'GET /models', async (request, response, caller) => {
    const language = request.query.language ?? request.acceptsLanguages()[0] ?? 'en';
    const hidden = await parts.rights.hidden(caller);
    response.json(catalogue.visible(String(language)).filter(({ name }) => !hidden.models.has(name)));
  });
  addCalls(api, {
    'GET /functions': () => [...parts.functionModules.functions],
    'GET /themes': async ({ caller }) => [...parts.themes, ...(await parts.house.themes(caller))],
  });
  const { rights, service: runs } = parts;
  const saved = (id: string, caller: Caller): void => parts.firstPages.makeOf(id, caller);
  addCalls(
    api,
    reportService(store, rights, parts.presence, parts.gate, saved, parts.book, () => parts.catalogue.plain),
  );
  addCalls(api, libraryService(parts));
  addCalls(api, folderFileService(parts));
  addCalls(api, linkService(parts.links));
  addCalls(api, activityService(store, parts.gate, parts.book));
  addCalls(api, valueSetService(store, parts.gate));
  addCalls(api, recipeService(parts));
  addCalls(api, sketchService(parts, saved, parts.book));
  addCalls(api, choiceService(parts));
  addCalls(api, statementService(parts));
  addCalls(api, connectionService(parts));
  addCalls(api, deliveryService(parts.deliveries, parts.deliveryParts));
  addCalls(api, keptService(store, parts.gate));
  addCalls(api, standInService(parts.deliveries.options));
  addDeliveryRoutes(api, { store, gate: parts.gate, deliveryOptions: parts.deliveries.options });
  addCalls(api, parts.embedding);
  addCalls(api, runs.calls);
  addRunRoutes(api, runs);

  api.use((request) => {
    throw new ApiError('unknown-address', { method: request.method, path: request.path });
  });
  return api;
};

/** Makes something when it is first asked for, and gives it again from then on. */
const once = <T>(make: () => T): (() => T) => {
  let made: { value: T } | null = null;
  return () => {
    made ??= { value: make() };
    return made.value;
  };
};
