import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type IncomingHttpHeaders, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import express, { type Express } from 'express';
import { afterAll, beforeAll, beforeEach } from 'vitest';
import type { Session } from '../access/session.ts';
import type { DeliveryOptions, Person } from '../deliveries/options.ts';
import type { Gaveta } from '../gaveta.ts';
import { demoDatabase, gavetaOver } from '../services/huts.test-support.ts';
import { type Outbox, openOutbox, openPrinterTray, type PrinterTray } from '../stand-ins/index.ts';
import { askingAs } from './asking-as.test-support.ts';

export const OFFICE: Session = {
  user: 'Inês',
  groups: ['office'],
  rights: ['view', 'design', 'manage', 'deliver'],
  claims: { role: 'office' },
};
export const LEAD: Session = {
  user: 'Teresa',
  groups: ['leads'],
  rights: ['view', 'deliver'],
  claims: { role: 'warden', region: 1 },
};
export const READER: Session = { user: 'Duarte', rights: ['view'], claims: { role: 'office' } };

const warden = (region: number, name: string): Person => ({
  user: `Warden of ${name}`,
  mail: `warden${region}@cumeeira.example`,
  session: { user: `Warden of ${name}`, rights: ['view'], claims: { role: 'warden', region } },
});

/** The regions with their huts, of one of them where one is asked for. */
export const REGIONS = {
  gaveta: 2,
  name: 'Huts of a region',
  model: 'cumeeira',
  parameters: [{ name: 'region', label: 'Region', type: 'text', default: '' }],
  body: [
    {
      id: 'regions',
      name: 'region',
      rows: { entity: 'region' },
      filter: 'OR(ISBLANK(parameters.region);name = parameters.region)',
      detail: {
        height: 8,
        items: [{ kind: 'field', id: 'name', formula: 'name', x: 0, y: 0, width: 80, height: 6 }],
      },
      drawers: [
        {
          id: 'huts',
          name: 'hut',
          rows: { relation: 'huts' },
          detail: {
            height: 6,
            items: [{ kind: 'field', id: 'hut', formula: 'name', x: 0, y: 0, width: 80, height: 5 }],
          },
        },
      ],
    },
  ],
};

/** A hut with its stays, and its share of the beds of all that are shown. */
export const ONE_HUT = {
  gaveta: 2,
  name: 'A hut',
  model: 'cumeeira',
  parameters: [{ name: 'hut', label: 'Hut', type: 'text' }],
  header: {
    height: 8,
    items: [{ kind: 'field', id: 'all', formula: 'SUM(hut.beds)', x: 0, y: 0, width: 40, height: 6 }],
  },
  body: [
    {
      id: 'huts',
      name: 'hut',
      rows: { entity: 'hut' },
      filter: 'OR(ISBLANK(parameters.hut);name = parameters.hut)',
      detail: {
        height: 8,
        items: [
          { kind: 'field', id: 'name', formula: 'hut.name', x: 0, y: 0, width: 80, height: 6 },
          { kind: 'field', id: 'share', formula: 'beds / SUM(beds; report)', x: 90, y: 0, width: 30, height: 6 },
        ],
      },
      drawers: [
        {
          id: 'stays',
          name: 'stay',
          rows: { relation: 'stays' },
          sort: [{ by: 'arrival' }],
          first: 3,
          detail: {
            height: 6,
            items: [{ kind: 'field', id: 'arrival', formula: 'arrival', x: 0, y: 0, width: 80, height: 5 }],
          },
        },
      ],
    },
  ],
};

/** Where deliveries go in tests: an outbox, a printer, a folder and an address, with people of the application. */
export interface Places {
  outbox: Outbox;
  tray: PrinterTray;
  folder: string;
  /** What came to the address. */
  posted: { headers: IncomingHttpHeaders; body: Buffer }[];
  /** What the address answers. */
  answer: { status: number };
  /** Those whom the application knows. */
  people: Map<string, Person>;
  options: DeliveryOptions;
  close(): Promise<void>;
}

export const SIGNING = 'a secret of the address alone';

export const openPlaces = async (): Promise<Places> => {
  const { rows } = await (await demoDatabase()).query<{ id: number; name: string }>('select id, name from region');
  const wardens = rows.map(({ id, name }) => warden(id, name));
  const outbox = await openOutbox();
  const tray = await openPrinterTray();
  const folder = mkdtempSync(join(tmpdir(), 'gaveta-deliveries-'));
  const posted: Places['posted'] = [];
  const answer = { status: 204 };
  const address: Server = createServer(async (request, response) => {
    const chunks: Buffer[] = [];
    for await (const chunk of request) chunks.push(chunk as Buffer);
    posted.push({ headers: request.headers, body: Buffer.concat(chunks) });
    response.writeHead(answer.status).end();
  });
  await new Promise<void>((resolve) => address.listen(0, '127.0.0.1', resolve));
  const people = new Map<string, Person>([
    ['Inês', { user: 'Inês', mail: 'ines@cumeeira.example', session: OFFICE }],
    ['Teresa', { user: 'Teresa', mail: 'teresa@cumeeira.example', session: LEAD }],
    ['Nobody’s mail', { user: 'Nobody’s mail' }],
    ...wardens.map((one): [string, Person] => [one.user, one]),
  ]);
  return {
    ...{ outbox, tray, folder, posted, answer, people },
    options: {
      mail: { server: outbox.address, from: 'Cumeeira <reports@cumeeira.example>' },
      folders: { archive: folder },
      addresses: { intake: { url: `http://127.0.0.1:${(address.address() as AddressInfo).port}/`, secret: SIGNING } },
      printers: { office: tray.address },
      people: {
        person: (user) => people.get(user) ?? null,
        members: (group) => (group === 'wardens' ? wardens : []),
      },
      zone: 'Europe/Lisbon',
      waits: [],
      standIns: { outbox, tray },
    },
    close: async () => {
      address.closeAllConnections();
      address.close();
      await outbox.close();
      await tray.close();
      rmSync(folder, { recursive: true });
    },
  };
};

/** A host with deliveries, for as long as the tests of a file run. */
export const deliveringHost = (more: Partial<DeliveryOptions> = {}) => {
  const opened = {} as { gaveta: Gaveta; host: Express; places: Places };
  beforeAll(async () => {
    opened.places = await openPlaces();
    const options = { ...opened.places.options, ...more };
    opened.gaveta = await gavetaOver(await demoDatabase(), { deliveries: options, log: () => {} });
    await opened.gaveta.reports.put('regions', REGIONS);
    await opened.gaveta.reports.put('huts-of-one', ONE_HUT);
    await opened.gaveta.library.grant({ folder: 'root' }, 'everybody', 'see');
    opened.host = express().use('/reports', opened.gaveta.router);
  });
  beforeEach(() => {
    opened.places.outbox.empty();
    opened.places.tray.empty();
    opened.places.posted.length = 0;
    opened.places.answer.status = 204;
  });
  afterAll(async () => {
    await opened.gaveta.close();
    await opened.places.close();
  });
  return { opened, ask: askingAs(() => opened.host) };
};

/** The words of a PDF, as a program of its own reads them. */
export const wordsOfPdf = (bytes: Buffer): string => {
  const folder = mkdtempSync(join(tmpdir(), 'gaveta-pdf-'));
  try {
    writeFileSync(join(folder, 'one.pdf'), bytes);
    return execFileSync('pdftotext', ['-layout', join(folder, 'one.pdf'), '-'], { encoding: 'utf8' });
  } finally {
    rmSync(folder, { recursive: true });
  }
};

/** A delivery of the regions, to the outbox by hand where nothing else is said. */
export const delivery = (more: object = {}): object => ({
  gavetaDelivery: 1,
  name: 'Huts for the office',
  report: 'regions',
  when: { kind: 'by-hand' },
  to: [
    {
      kind: 'mail',
      to: [{ address: 'office@cumeeira.example' }],
      subject: '{report} on {TEXT(date;"yyyy-mm-dd")}',
      words: '{rows} rows on {pages} page',
    },
  ],
  ...more,
});

/** Rows of which each region gets its part. */
export const EACH_REGION = { steps: [{ step: 'take', from: { model: 'cumeeira', entity: 'region' } }] };
