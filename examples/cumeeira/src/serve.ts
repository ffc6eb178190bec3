import { randomUUID } from 'node:crypto';
import { createServer, type IncomingMessage, type Server } from 'node:http';
import { join } from 'node:path';
import { readDefinition } from '@gaveta/core';
import {
  createGaveta,
  type DeliveryOptions,
  type Gaveta,
  type Limits,
  type RegisteredModel,
  type Session,
} from '@gaveta/server';
import { type Outbox, openOutbox, openPrinterTray, type PrinterTray } from '@gaveta/server/stand-ins';
import express from 'express';
import { houseTheme, lettersTheme } from './house.ts';
import { drawHut } from './photo.ts';
import { seededRandom } from './random.ts';
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
  /** Whether the library shows pictures of first pages; it does when left out. */
  firstPages?: boolean;
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
  groups: ['office'],
  rights: ['view', 'design', 'manage', 'deliver', 'data', 'sql', 'develop'],
  claims: { role: 'office' },
};

/** Further people, by the name under which they sign in. */
const PEOPLE: Readonly<Record<string, Session>> = {
  /** Reads what is stored, and changes nothing. */
  auditor: { user: 'Duarte (auditor)', groups: ['auditors'], rights: ['view'], claims: { role: 'office' } },
  /** Leads a region: makes reports, and publishes none of the office’s. */
  lead: {
    user: 'Teresa (regional lead)',
    groups: ['regional leads'],
    rights: ['view', 'design', 'deliver'],
    claims: { role: 'lead', region: 1 },
  },
  /** Reads about the huts of one region. */
  warden: { user: 'Rui (warden)', groups: ['wardens'], rights: ['view'], claims: { role: 'warden', region: 2 } },
};

/** Gaveta over the demo's database, as an application of its own. */
export const startDemo = async ({
  data,
  secret,
  hosts,
  scale,
  store,
  limits,
  firstPages = true,
  models = [],
  say = () => {},
}: DemoOptions): Promise<Demo> => {
  say('Opening the demo database');
  const sources = await openDemoSources(data, scale);
  say('Opening the outbox and the printer’s tray');
  const standIns = { outbox: await openOutbox(), tray: await openPrinterTray({ name: 'Office tray' }) };
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
    firstPages,
    deliveries: deliveriesOf(standIns, data),
    ...(limits ? { limits } : {}),
    hosts,
    authenticate: (request) => sessions.get(cookie(request, 'gaveta_demo')) ?? null,
  });
  await addMissing(gaveta);
  await fillLibrary(gaveta);
  const app = express();
  app.use('/demo/service', bulletinService());
  app.get('/demo/sign-in', (request, response) => {
    const id = randomUUID();
    sessions.set(id, PEOPLE[String(request.query.as)] ?? OFFICE);
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
      await standIns.outbox.close();
      await standIns.tray.close();
    },
  };
};

/** Deliveries go to an outbox and a printer’s tray of this machine, and to a folder beside the demo’s data. */
const deliveriesOf = (standIns: { outbox: Outbox; tray: PrinterTray }, data: string): DeliveryOptions => ({
  mail: { server: standIns.outbox.address, from: 'Cumeeira reports <reports@cumeeira.example>' },
  printers: { Office: standIns.tray.address },
  folders: { Archive: join(data, 'archive') },
  people: {
    person: (user) => {
      const region = regionLed(user);
      if (region !== null) return leaderOf(region);
      const known = [OFFICE, ...Object.values(PEOPLE)].find((one) => one.user === user);
      return known ? { user, mail: mailOf(user), session: known } : null;
    },
    members: (group) => (group === 'regional leads' ? [1, 2, 3, 4].map(leaderOf) : []),
  },
  zone: 'Europe/Lisbon',
  daysOff: ['01-01', '12-25'],
  standIns,
});

/** `Inês (office)` has `ines@…`. */
const mailOf = (user: string): string => {
  const [first = ''] = user.toLowerCase().normalize('NFD').split(' ');
  return `${first.replace(/[^a-z]/g, '')}@cumeeira.example`;
};

/** Those who lead a region, each of whom sees the rows of it alone. */
const leaderOf = (region: number) => ({
  user: `Lead of region ${region}`,
  mail: `lead${region}@cumeeira.example`,
  session: {
    user: `Lead of region ${region}`,
    groups: ['regional leads'],
    rights: ['view', 'deliver'],
    claims: { role: 'lead', region },
  } satisfies Session,
});

const regionLed = (user: string): number | null => {
  const region = Number(/^Lead of region ([1-4])$/.exec(user)?.[1] ?? 0);
  return region > 0 ? region : null;
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

/** Folders of the library, with the reports that stand in them. */
const FOLDERS = {
  season: {
    name: 'Season',
    reports: ['season-ledger', 'stay-folio', 'folio-payments', 'nights-matrix', 'tariff-check'],
  },
  huts: { name: 'Huts', reports: ['hut-handbook', 'bunk-tags', 'board-day'] },
  safety: { name: 'Safety', reports: ['inspection-watchlist', 'ridge-weather', 'radio-calls'] },
  wardens: { name: 'Wardens', reports: ['warden-roster', 'roster-wardens', 'roster-flights'] },
  house: { name: 'House style', reports: [] },
} as const;

/** Sets the library up once: everybody reads it, the office makes it, and regional leads make what is about wardens. */
const fillLibrary = async ({ library, store }: Gaveta): Promise<void> => {
  const there = new Set((await library.folders()).map(({ id }) => id));
  if (Object.keys(FOLDERS).every((id) => there.has(id))) return;
  const root = { folder: 'root' };
  await library.grant(root, 'everybody', 'see');
  await library.grant(root, 'group:office', 'publish');
  const stored = new Set((await store.list()).map(({ id }) => id));
  for (const [id, { name, reports }] of Object.entries(FOLDERS)) {
    await library.putFolder(id, { name });
    for (const report of reports) if (stored.has(report)) await library.move(report, id);
  }
  await library.grant({ folder: 'wardens' }, 'group:regional leads', 'change');
  await library.putPicture('mark', { name: 'Mark', data: drawHut(seededRandom(7)), folder: 'house' });
  await library.putTheme('letters', lettersTheme, 'house');
  await library.template('stay-folio', true);
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
