import type { PGlite } from '@electric-sql/pglite';
import type { RunState } from '@gaveta/core/internal';
import { cumeeiraModel } from '@gaveta-examples/cumeeira';
import express, { type Express } from 'express';
import supertest, { type Response } from 'supertest';
import { type Session, signToken } from '../access/session.ts';
import { pgliteConnection } from '../connection/pglite.ts';
import { openBlank } from '../embedded/blank.test-support.ts';
import { createGaveta } from '../gaveta.ts';
import type { GavetaOptions } from '../options.ts';
import { demoDatabase } from '../services/huts.test-support.ts';

const SECRET = 'a secret that only tests know, long enough';

export interface AskedDemo {
  app: Express;
  database: PGlite;
  /** How often the database was asked for rows of a run so far. */
  opened: () => number;
  /** The header by which a request is somebody’s. */
  bearer: (session: Session) => Promise<string>;
  /** A call of the API, as somebody. */
  call: (session: Session, method: 'get' | 'post' | 'delete', path: string, body?: object) => Promise<Response>;
  /** What a run is once it has ended. */
  ended: (session: Session, id: string) => Promise<RunState>;
  close: () => Promise<void>;
}

/** Gaveta over the database of the demo, asked by its API. */
export const askDemo = async (options: Partial<GavetaOptions> = {}): Promise<AskedDemo> => {
  const database = await demoDatabase();
  const connection = pgliteConnection(database);
  const open = connection.open.bind(connection);
  let opened = 0;
  connection.open = (...asked) => {
    opened++;
    return open(...asked);
  };
  const gaveta = await createGaveta({
    // Pictures run reports in the background, which others count.
    firstPages: false,
    store: await openBlank(),
    models: [cumeeiraModel],
    connections: { cumeeira: connection },
    secret: SECRET,
    log: () => {},
    ...options,
  });
  const app = express().use('/gaveta', gaveta.router);
  const bearer = async (session: Session): Promise<string> => `Bearer ${await signToken(SECRET, session)}`;
  const call: AskedDemo['call'] = async (session, method, path, body) => {
    const request = supertest(app)[method](`/gaveta/api${path}`);
    request.set('Authorization', await bearer(session));
    return body ? request.send(body) : request;
  };
  const ended: AskedDemo['ended'] = async (session, id) => {
    const { text } = await call(session, 'get', `/runs/${id}/events`);
    return JSON.parse(text.trim().split('\n\n').at(-1)!.replace('data: ', ''));
  };
  return { app, database, opened: () => opened, bearer, call, ended, close: () => gaveta.close() };
};
