import { mkdtempSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type CallContract, CONTRACT } from '@gaveta/core/contract';
import express from 'express';
import type { z } from 'zod';
import { type Session, signToken } from '../access/session.ts';
import type { Limits } from '../base/limits.ts';
import { embeddedConnection, pgliteConnection } from '../connection/pglite.ts';
import { openBlank } from '../embedded/blank.test-support.ts';
import { createGaveta } from '../gaveta.ts';
import type { RegisteredModel } from '../model/define.ts';
import { modelOf, number, table, text } from '../model/fields.test-support.ts';
import { fileSource } from '../sources/file-source.ts';
import { streamConnection } from '../sources/stream.ts';
import { openOutbox, openPrinterTray } from '../stand-ins/index.ts';

/** How many times as many random calls and definitions are tried: `GAVETA_LONGER=4 npm test` takes its time. */
export const LONGER = Number(process.env.GAVETA_LONGER ?? 1);

export const SECRET = 'a secret that only tests know, long enough';
export const EVERYTHING: Session = {
  user: 'Inês',
  rights: ['view', 'design', 'manage', 'deliver', 'data', 'sql', 'develop'],
  claims: { region: 1 },
};

/** Every call with the schema of its body, or none; those that follow a run or send a file are tried elsewhere. */
export const CALLS: Readonly<Record<string, z.ZodType | null>> = Object.fromEntries(
  Object.entries(CONTRACT as Record<string, CallContract>).flatMap(([name, { body, gives }]) =>
    gives === 'events' || name === 'POST /uploads' || name === 'GET /fonts/:file' ? [] : [[name, body ?? null]],
  ),
);

const model = (name: string, connection: string): RegisteredModel =>
  modelOf(name, connection, {
    hut: table(
      'Hut',
      { id: number, name: text, beds: number, secret: { ...text, hidden: true } },
      { scope: () => ({ keep: 'id > CLAIM("region")' }) },
    ),
  });

const TABLE = `create table hut (id int primary key, name text, beds int, secret text);
  insert into hut select i, 'Hut ' || i, i % 40, 'HIDDEN' || i from generate_series(1, 3000) i;`;

/** A report over the huts of a model. */
export const reportOver = (name: string, entity = 'hut'): object => ({
  gaveta: 2,
  name: `Huts of ${name}`,
  model: name,
  body: [
    {
      id: 'h',
      name: 'hut',
      rows: { entity },
      detail: { height: 5, items: [{ kind: 'field', id: 'f', x: 0, y: 0, width: 60, height: 5, formula: 'name' }] },
    },
  ],
});

export interface EveryRoute {
  base: string;
  server: Server;
  logged: unknown[];
  bearer: Record<string, string>;
  close(): Promise<void>;
}

/** Gaveta over a source of every kind. */
export const openEveryRoute = async (limits: Partial<Limits> = {}): Promise<EveryRoute> => {
  const folder = mkdtempSync(join(tmpdir(), 'gaveta-routes-'));
  const csv = join(folder, 'tariffs.csv');
  writeFileSync(csv, `name,beds\n${Array.from({ length: 5000 }, (_, i) => `Hut ${i},${i % 40}`).join('\n')}\n`);
  const own = await openBlank();
  await own.exec(TABLE);
  const thread = embeddedConnection({ data: null, prepare: TABLE });
  const file = await fileSource({ name: 'tariffs', label: 'Tariffs', format: 'csv', file: csv });
  const logged: unknown[] = [];
  const standIns = { outbox: await openOutbox(), tray: await openPrinterTray() };
  const gaveta = await createGaveta({
    store: await openBlank(),
    modules: [new URL('./belt.test-support.mjs', import.meta.url).href],
    models: [model('own', 'own'), model('thread', 'thread'), model('host', 'host'), file.model],
    connections: {
      own: pgliteConnection(own),
      thread,
      host: streamConnection({
        async *hut({ signal }) {
          for (let i = 1; i <= 3000; i++) {
            if (i % 200 === 0) await new Promise(setImmediate);
            signal.throwIfAborted();
            yield { id: i, name: `Hut ${i}`, beds: i % 40, secret: `HIDDEN${i}` };
          }
        },
      }),
      tariffs: file.connection,
    },
    deliveries: {
      mail: { server: standIns.outbox.address, from: 'Reports <reports@cumeeira.example>' },
      printers: { office: standIns.tray.address },
      standIns,
    },
    secret: SECRET,
    encryptionKey: 'a key that seals the secrets of these tests',
    log: (error) => logged.push(error),
    limits: { previewSeconds: 5, maxSeconds: 20, runsWaiting: 1000, runsEach: 4, ...limits },
  });
  const server = createServer(express().use(gaveta.router));
  // A busy machine is late with both its timers: a connection that is let go of just as it is used again is no answer.
  server.keepAliveTimeout = 120_000;
  await new Promise<void>((resolve) => server.listen(0, resolve));
  return {
    base: `http://localhost:${(server.address() as AddressInfo).port}/api`,
    server,
    logged,
    bearer: { Authorization: `Bearer ${await signToken(SECRET, EVERYTHING, 3600)}` },
    close: async () => {
      server.closeAllConnections();
      server.close();
      await gaveta.close();
      await thread.close?.();
      await own.close();
      await standIns.outbox.close();
      await standIns.tray.close();
    },
  };
};
