import { randomUUID } from 'node:crypto';
import { createServer, type IncomingMessage, type Server } from 'node:http';
import { join } from 'node:path';
import { readDefinition } from '@gaveta/core';
import { createGaveta, type Gaveta, type Limits, type RegisteredModel, type Session } from '@gaveta/server';
import express from 'express';
import { houseTheme } from './house.ts';
import { demoRecipes, demoReports } from './reports.ts';
import { bulletinService } from './service.ts';
import { openDemoSources } from './sources.ts';

export interface DemoOptions {
  /** Folder for the packed data set and the stored reports. */
  data: string;
  secret: string;
  hosts: string[];
  scale?: number;
  /** Where reports are kept; left out: a folder inside `data`. */
  store?: string;
  limits?: Partial<Limits>;
  /** Further models, over the connections of the demo. */
  models?: readonly RegisteredModel[];
  say?: (step: string) => void;
}

export interface Demo {
  gaveta: Gaveta;
  server: Server;
  close(): Promise<void>;
}

/** Who may open the demo without a host: everybody who passes by its sign-in address. */
const OFFICE: Session = {
  user: 'Inês (office)',
  rights: ['view', 'design', 'data', 'sql', 'develop'],
  claims: { role: 'office' },
};

/** Reads what is stored, and changes nothing. */
const AUDITOR: Session = { user: 'Duarte (auditor)', rights: ['view'], claims: { role: 'office' } };

/** Gaveta over the demo's database, as an application of its own. */
export const startDemo = async ({
  data,
  secret,
  hosts,
  scale,
  store,
  limits,
  models = [],
  say = () => {},
}: DemoOptions): Promise<Demo> => {
  say('Opening the demo database');
  const sources = await openDemoSources(data, scale);
  say('Opening the stored reports');
  const sessions = new Map<string, Session>();
  const allowedAddresses: string[] = [];
  const gaveta = await createGaveta({
    store: store ?? join(data, 'store'),
    models: [...sources.models, ...models],
    connections: sources.connections,
    secret,
    // Of a host of one's own: a key out of its configuration, the same at each start.
    encryptionKey: 'the demo keeps its secrets under this key',
    allowedAddresses,
    modules: [new URL('./own-functions.mjs', import.meta.url).href],
    themes: [houseTheme],
    ...(limits ? { limits } : {}),
    hosts,
    authenticate: (request) => sessions.get(cookie(request, 'gaveta_demo')) ?? null,
  });
  await addMissing(gaveta);
  const app = express();
  app.use('/demo/service', bulletinService());
  app.get('/demo/sign-in', (request, response) => {
    const id = randomUUID();
    sessions.set(id, request.query.as === 'auditor' ? AUDITOR : OFFICE);
    response.cookie('gaveta_demo', id, { httpOnly: true, sameSite: 'strict' }).redirect('/');
  });
  app.use(gaveta.router);
  const server = createServer(app);
  server.on('listening', () => allowedAddresses.push(`${addressOf(server)}/demo/service/`));
  return {
    gaveta,
    server,
    close: async () => {
      server.closeAllConnections();
      server.close();
      await gaveta.close();
      await sources.close();
    },
  };
};

const cookie = (request: IncomingMessage, name: string): string =>
  (request.headers.cookie ?? '')
    .split('; ')
    .find((part) => part.startsWith(`${name}=`))
    ?.slice(name.length + 1) ?? '';

const addMissing = async (gaveta: Gaveta): Promise<void> => {
  const recipes = new Set((await gaveta.store.data.recipes()).map((r) => r.id));
  for (const { id, ...recipe } of demoRecipes) {
    if (!recipes.has(id)) await gaveta.store.data.createRecipe(recipe, 'Cumeeira', id);
  }
  const there = new Set((await gaveta.store.list()).map((r) => r.id));
  for (const { id, definition } of await demoReports()) {
    if (there.has(id)) continue;
    const read = readDefinition(definition);
    if (!read.ok) throw new Error(`The demo report ${id} is wrong: ${JSON.stringify(read.problems)}`);
    await gaveta.store.create(read.report, 'Cumeeira', id);
  }
};

const addressOf = (server: Server): string => {
  const address = server.address();
  return `http://localhost:${typeof address === 'object' && address ? address.port : 0}`;
};

/** Listens on `port`, or on a free one when it is taken; gives the address. */
export const listen = (server: Server, port: number): Promise<string> =>
  new Promise((resolve, reject) => {
    server.once('error', (error: NodeJS.ErrnoException) => {
      if (error.code === 'EADDRINUSE' && port !== 0) resolve(listen(server, 0));
      else reject(error);
    });
    server.listen(port, 'localhost', () => resolve(addressOf(server)));
  });
