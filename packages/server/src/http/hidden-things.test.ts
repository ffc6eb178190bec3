import type { PGlite } from '@electric-sql/pglite';
import { type CallContract, CONTRACT } from '@gaveta/core/contract';
import express from 'express';
import request from 'supertest';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type Session, signToken } from '../access/session.ts';
import type { Gaveta } from '../gaveta.ts';
import { demoDatabase, gavetaOver, HUTS, SECRET } from '../services/huts.test-support.ts';

const person = (user: string, rights: Session['rights']): Session => ({
  ...{ user, groups: ['others'], rights },
  claims: { role: 'office' },
});
const OWNER = person('Inês', ['view', 'design', 'data']);
const NOSY = {
  maker: person('Rui', ['view', 'design', 'data']),
  reader: person('Duarte', ['view']),
};

/** What nobody but the owner may learn: it stands in names, notes, tags, folders, definitions, values and labels. */
const SECRET_WORD = 'quartzite';
const MISSING = 'no-such-thing-at-all';

const secret = (more: object = {}) => ({
  ...HUTS,
  name: `The ${SECRET_WORD} report`,
  description: SECRET_WORD,
  ...more,
});
const nesting = (report: string) => ({
  ...{ gaveta: 2, name: 'Outer' },
  header: { height: 20, items: [{ kind: 'subreport', id: 's', report, x: 0, y: 0, width: 100, height: 10 }] },
});
const linking = (report: string) => ({
  ...{ gaveta: 2, name: 'Linking' },
  header: {
    height: 20,
    items: [{ kind: 'text', id: 't', x: 0, y: 0, width: 50, height: 5, content: ['x'], link: { report } }],
  },
});

let database: PGlite;
let gaveta: Gaveta;
let host: express.Express;
let hidden: string;
let hiddenSketch: string;
let draft: string;
let folder: string;
let hiddenRecipe: string;
let hiddenPicture: string;
let hiddenTheme: string;
const CONNECTION = 'hidden_rows';
let run: string;
let link: string;
let tries = 0;

const send = async (token: string, method: string, path: string, body?: object) => {
  tries++;
  const call = request(host)
    [method.toLowerCase() as 'get'](`/reports/api${path}`)
    .set('Authorization', `Bearer ${token}`);
  return body ? call.send(body) : call;
};
const as = async (who: Session, method: string, path: string, body?: object) =>
  send(await signToken(SECRET, who), method, path, body);

beforeAll(async () => {
  database = await demoDatabase();
  gaveta = await gavetaOver(database, {
    firstPages: true,
    encryptionKey: 'a key that seals the secrets of these tests',
  });
  host = express().use('/reports', gaveta.router);
  folder = (await as(OWNER, 'POST', '/folders', { name: `The ${SECRET_WORD} folder` })).body.id;
  await as(OWNER, 'PUT', `/folders/${folder}/access`, { inherits: false });
  hidden = (await as(OWNER, 'POST', '/reports', { definition: secret(), folder, note: SECRET_WORD })).body.id;
  await as(OWNER, 'PUT', `/library/${hidden}`, { tags: [SECRET_WORD] });
  const sketch = {
    ...{ sketch: 1, name: `The ${SECRET_WORD} sketch`, from: { model: 'cumeeira', entity: 'hut' }, rows: true },
    ...{ columns: [{ name: 'name', field: 'name' }], groups: [], only: [], order: [] },
  };
  hiddenSketch = (await as(OWNER, 'POST', '/sketches', { sketch, folder })).body.id;
  const steps = [{ step: 'take', from: { model: 'cumeeira', entity: 'hut' } }];
  hiddenRecipe = (await as(OWNER, 'POST', '/recipes', { name: `${SECRET_WORD} rows`, steps, folder })).body.id;
  const picture = { gavetaPicture: 1, name: `${SECRET_WORD} logo`, source: DOT };
  hiddenPicture = (await as(OWNER, 'POST', '/library', { definition: picture, folder })).body.id;
  const theme = { gavetaTheme: 1, name: `${SECRET_WORD} look`, accent: '#2f4b6e' };
  hiddenTheme = (await as(OWNER, 'POST', '/library', { definition: theme, folder })).body.id;
  const upload = await request(host)
    .post('/reports/api/uploads')
    .set('Authorization', `Bearer ${await signToken(SECRET, OWNER)}`)
    .type('application/octet-stream')
    .send('name,beds\nLago Frio,12\n');
  const settings = { kind: 'file', format: 'csv', fileName: `${SECRET_WORD}.csv` };
  const connection = { name: CONNECTION, label: `${SECRET_WORD} file`, settings, upload: upload.body.id, folder };
  expect((await as(OWNER, 'PUT', '/connections', connection)).status).toBe(200);
  run = (await as(OWNER, 'POST', '/runs', { report: hidden })).body.id;
  link = (await as(OWNER, 'POST', `/reports/${hidden}/links`, { label: SECRET_WORD, days: 1, values: {} })).body.id;
  // One that everybody sees, with a draft that they do not, and one that nests and links to what is hidden.
  const byHand = (await as(OWNER, 'POST', '/folders', { name: 'By hand' })).body.id;
  await as(OWNER, 'PUT', `/folders/${byHand}`, { publishing: 'by-hand' });
  draft = (await as(OWNER, 'POST', '/reports', { definition: { ...HUTS, name: 'Open' }, folder: byHand })).body.id;
  await as(OWNER, 'POST', `/reports/${draft}/publish`, { revision: 1 });
  await as(OWNER, 'PUT', `/reports/${draft}`, {
    definition: { ...secret(), name: 'Open' },
    base: 1,
    note: SECRET_WORD,
  });
  await as(OWNER, 'POST', '/reports', { definition: nesting(hidden) });
  await as(OWNER, 'POST', '/reports', { definition: linking(hidden) });
  await gaveta.library.grant({ folder: 'root' }, 'everybody', 'see');
}, 60_000);
afterAll(() => gaveta.close());

/** A PNG of one dot. */
const DOT =
  'data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==';

const taking = (from: object) => [{ step: 'take', from }];
/** Those of a connection are models as well. */
const asModel = (id: string) => (/^[a-z_-]+$/.test(id) ? { model: id, entity: 'hut' } : { recipe: id });
const over = (id: string) => [taking({ recipe: id }), taking(asModel(id))];
/** Reports that take rows from something, and show a picture. */
const reading = (id: string) => [
  ...over(id).map((steps) => ({
    ...{ ...HUTS, queries: [{ name: 'q', steps }] },
    body: [{ ...HUTS.body[0]!, rows: { entity: 'q' } }],
  })),
  {
    ...{ gaveta: 2, name: 'Pictures' },
    header: { height: 20, items: [{ kind: 'picture', id: 'p', fromLibrary: id, x: 0, y: 0, width: 9, height: 9 }] },
  },
];

/** Bodies that calls take, about something of an id. */
const bodies = (name: string, id: string): object[] => {
  const definition = nesting(id);
  const table: Readonly<Record<string, object[]>> = {
    'POST /reports': [
      ...[{ definition }, { definition: linking(id) }, { definition: HUTS, folder: id }],
      ...reading(id).map((one) => ({ definition: one })),
    ],
    'PUT /reports/:id': [{ definition: HUTS, base: 1 }],
    'POST /runs': [
      ...[{ report: id }, { report: id, revision: 'newest' }, { definition }],
      ...reading(id).map((one) => ({ definition: one })),
    ],
    'POST /check': [{ definition }, { definition: linking(id) }, ...reading(id).map((one) => ({ definition: one }))],
    'POST /design-rows': [definition, ...reading(id)].map((one) => ({ definition: one, parameters: {} })),
    'POST /recipes': over(id).map((steps) => ({ name: 'r', steps })),
    'PUT /recipes/:id': [{ name: 'r', steps: taking({ model: 'cumeeira', entity: 'hut' }), base: 1 }],
    'POST /recipe/rows': over(id).map((steps) => ({ steps })),
    'POST /recipe/count': over(id).map((steps) => ({ steps })),
    'POST /sketches': [{ recipe: id }, asModel(id)].map((from) => ({
      sketch: { sketch: 1, name: 's', from, rows: true, columns: [], groups: [], only: [], order: [] },
    })),
    'POST /library': [{ definition: { gavetaPicture: 1, name: 'p', source: DOT }, folder: id }],
    'PUT /library/:id/definition': [{ definition: { gavetaPicture: 1, name: 'p', source: DOT }, base: 1 }],
    'POST /library/:id/theme': [{ reports: [draft] }],
    'POST /connections/:name/rename': [{ renamed: [{ table: 't', field: 'a', column: 'b' }] }],
    'POST /choices': [{ report: id, parameter: 'p', values: {} }],
    'PUT /drafts/:key': [{ definition: HUTS, report: id, base: 1 }],
    'POST /reports/:id/presence': [{ window: 'w' }],
    'POST /reports/:id/value-sets': [{ name: 'n', values: {} }],
    'POST /reports/:id/links': [{ label: 'l', days: 1, values: {} }],
    'POST /reports/:id/publish': [{ revision: 1 }, { revision: null }],
    'POST /reports/:id/ask': [{ revision: 1 }],
    'PUT /library/:id': [{ name: 'x' }, { note: 'x' }, { folder: 'root' }],
    'POST /library/:id/copy': [{}, { folder: 'root' }],
    'PUT /library/:id/star': [{ starred: true }],
    'PUT /library/:id/access': [{ inherits: true }, { principal: 'user:Rui', may: 'manage' }],
    'POST /folders': [{ name: 'n', parent: id }],
    'PUT /folders/:id': [{ name: 'x' }, { parent: 'root' }, { publishing: 'each-save' }],
    'POST /folders/:id/files': [
      { files: [{ path: `${id}.report.json`, text: JSON.stringify(HUTS) }] },
      { files: [], apply: true },
    ],
    'PUT /folders/:id/access': [{ inherits: true }, { principal: 'user:Rui', may: 'manage' }],
    'POST /sketch/lines': [{ of: { stored: id }, windows: [{ at: [] }] }],
    'POST /sketch/values': [{ of: { stored: id }, field: 'name' }],
    'POST /runs/:id/folds': [{ folds: { base: 'closed' } }],
    'POST /runs/:id/explain': [{ item: 'f', band: null, rows: null, cell: null, page: 1 }],
    'POST /runs/:id/files': [{ files: [{ output: 'csv' }] }],
    'POST /runs/:id/files/:output': [{ options: {} }],
    'POST /joined-runs': [{ runs: [id], output: 'pdf' }],
  };
  return table[name] ?? [{}];
};

/** What is answered, with what was asked for and what differs each time taken out. */
const plain = ({ status, text }: { status: number; text: string }, id: string): string =>
  `${status} ${text}`
    .replaceAll(id, 'ID')
    .replace(/[0-9a-f]{8}-[0-9a-f-]{27}/g, 'uuid')
    .replace(/"milliseconds":[\d.]+/g, '"milliseconds":0')
    // How far a run is by then differs each time; what it shows in the end is looked at below.
    .replace(/("report":"[^"]*"),"status":"(?:waiting|running|done)".*/, '$1')
    .replace(/\d{4}-\d\d-\d\dT[\d:.]+Z/g, 'moment');

it('tells what is hidden from what is not there to nobody, by any call and any id', async () => {
  const calls = Object.entries(CONTRACT as Record<string, CallContract>).filter(
    // Events never end by themselves; bodies of others name nothing that is hidden.
    ([name, { gives }]) => gives !== 'events' && (name.includes(':') || bodies(name, 'x').length > 0),
  );
  const ids = [
    ...[hidden, hiddenSketch, folder, run, hiddenRecipe, `recipe:${hiddenRecipe}`, hiddenPicture, hiddenTheme],
    ...[CONNECTION, `connection:${CONNECTION}`],
  ];
  for (const [who, session] of Object.entries(NOSY)) {
    const token = await signToken(SECRET, session);
    for (const [name] of calls) {
      const [method = '', path = ''] = name.split(' ');
      const isAbout = path.includes(':') || JSON.stringify(bodies(name, 'ID')).includes('ID');
      if (!isAbout) continue;
      for (const id of ids) {
        for (let i = 0; i < bodies(name, id).length; i++) {
          const ask = (one: string) =>
            send(
              token,
              method,
              path.replace(':number', '1').replace(':output', 'csv').replace(':link', link).replace(/:\w+/g, one),
              method === 'GET' || method === 'DELETE' ? undefined : bodies(name, one)[i],
            );
          const [found, missing] = [await ask(id), await ask(MISSING)];
          expect([who, name, plain(found, id)]).toEqual([who, name, plain(missing, MISSING)]);
          expect(`${found.text}`).not.toContain(SECRET_WORD);
        }
      }
    }
  }
  expect(tries).toBeGreaterThan(500);
}, 240_000);

it('says nothing of it in lists, counts, search, the bin, the record and pictures', async () => {
  const paths = [
    ...['/reports', '/library', '/folders', '/library/bin', '/activity', '/drafts', '/people', '/recipes', '/models'],
    ...['/connections', '/themes', '/library?kind=theme', '/library?kind=picture', '/library?kind=recipe'],
    ...['/library?kind=connection', '/library?kind=template'],
    ...['all', 'recent', 'starred', 'mine', 'shared'].map((place) => `/library?place=${place}&count=200`),
    ...['name', 'changed', 'opened', 'best'].map((sort) => `/library?find=${SECRET_WORD}&sort=${sort}`),
    ...[`/library?place=folder&folder=${folder}`, `/activity?find=${SECRET_WORD}`, `/activity?thing=${hidden}`],
    ...[`/reports/${draft}`, `/reports/${draft}?which=newest`, `/library/${draft}`, `/library/${draft}/picture`],
    ...[`/reports/${draft}/revisions`, `/reports/${draft}/revisions/2`, `/reports/${draft}/users`],
  ];
  await as(OWNER, 'DELETE', `/reports/${hiddenSketch}`);
  for (const session of Object.values(NOSY)) {
    for (const path of paths) {
      const { text } = await as(session, 'GET', path);
      expect([path, text]).toEqual([path, expect.not.stringContaining(SECRET_WORD)]);
    }
    const { folders } = (await as(session, 'GET', '/folders')).body as { folders: { things: number; id: string }[] };
    const shown = (await as(session, 'GET', '/library?count=200')).body.things as unknown[];
    expect(folders.reduce((sum, { things }) => sum + things, 0)).toBe(shown.length);
    for (const inside of ['Outer', 'Linking']) {
      const found = (await as(session, 'GET', `/library?find=${inside}`)).body.things as { id: string }[];
      const started = (await as(session, 'POST', '/runs', { report: found[0]!.id })).body;
      await expect
        .poll(async () => (await as(session, 'GET', `/runs/${started.id}`)).body.status, { timeout: 60_000 })
        .toBe('done');
      for (const of of ['', '/pages?from=1&count=5', '/outline', '/files/json?problems=allow'])
        expect((await as(session, 'GET', `/runs/${started.id}${of}`)).text).not.toContain(SECRET_WORD);
    }
  }
}, 120_000);
