import type { Server } from 'node:http';
import type { PGlite } from '@electric-sql/pglite';
import {
  bulletinService,
  type DemoSources,
  demoRecipes,
  demoReports,
  listen,
  openDemoSources,
} from '@gaveta-examples/cumeeira';
import express from 'express';
import supertest from 'supertest';
import { type Session, signToken } from '../access/session.ts';
import { openBlank } from '../embedded/blank.test-support.ts';
import { createGaveta, type Gaveta } from '../gaveta.ts';

export const SECRET = 'a secret that only tests know, long enough';
export const OFFICE: Session = { user: 'Inês', rights: ['view', 'design', 'data', 'sql'], claims: { role: 'office' } };
export const MAKER: Session = { ...OFFICE, rights: ['view', 'design'] };
export const WARDEN: Session = { user: 'Rui', rights: ['view'], claims: { role: 'warden', region: 2 } };

let sources: DemoSources;
export let store: PGlite;
let gaveta: Gaveta;
export let server: Server;
/** Address of the server. */
export let base: string;
export const allowedAddresses: string[] = [];
/** Everything that was answered. */
export const answers: string[] = [];
/** A file that a service gives out, which may change. */
export const service = { depths: 'hut,depth\nPedra Longa,140\n' };

/** Gaveta over the demo's data with connections of its own, asked by HTTP, for as long as the tests of a file run. */
export const openData = async (): Promise<void> => {
  sources = await openDemoSources('.data');
  store = await openBlank();
  gaveta = await createGaveta({
    // Pictures run reports in the background, which others count.
    firstPages: false,
    ...sources,
    store,
    secret: SECRET,
    encryptionKey: 'a key that seals the secrets of these tests',
    allowedAddresses,
    allowedDatabases: ['localhost:1'],
    log: () => {},
    limits: { previewSeconds: 4 },
  });
  for (const { id, ...recipe } of demoRecipes) await gaveta.store.data.createRecipe(recipe, 'test', id);
  for (const { id, definition } of await demoReports()) await gaveta.store.create(definition as never, 'test', id);
  const app = express()
    .get('/service/depths.csv', (_, response) => void response.type('csv').send(service.depths))
    .use('/service', bulletinService())
    .use(gaveta.router);
  const http = await import('node:http');
  server = http.createServer(app);
  base = await listen(server, 0);
  allowedAddresses.push(`${base}/service/`);
};
export const closeData = async (): Promise<void> => {
  server.close();
  await gaveta.close();
  await sources.close();
};

export const call = async (
  session: Session,
  method: 'get' | 'post' | 'put' | 'delete',
  path: string,
  body?: object,
) => {
  const request = supertest(server)
    [method](`/api${path}`)
    .set('Authorization', `Bearer ${await signToken(SECRET, session)}`);
  const answer = await (body ? request.send(body) : request);
  answers.push(JSON.stringify(answer.body) + JSON.stringify(answer.headers));
  return answer;
};
