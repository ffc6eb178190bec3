import { readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import express from 'express';
import supertest from 'supertest';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { openBlank } from '../embedded/blank.test-support.ts';
import { createGaveta, type Gaveta } from '../gaveta.ts';
import { defineModel } from '../model/define.ts';

const ADDED = new URL('./added.test-support.mjs', import.meta.url).href;
const BELT = new URL('./belt.test-support.mjs', import.meta.url);
const OPTIONS = { models: [], connections: {}, secret: 'a secret that only tests know, long enough', log: () => {} };
const app = express();
let gaveta: Gaveta;

beforeAll(async () => {
  const authenticate = () => ({ user: 'Inês', rights: ['view' as const, 'design' as const], claims: {} });
  gaveta = await createGaveta({ ...OPTIONS, store: await openBlank(), authenticate, modules: [ADDED, BELT.href] });
  app.use(gaveta.router);
});
afterAll(() => gaveta.close());

it('a module adds a function, a font and an output, which threads work out, lay out with and write', async () => {
  const outputs = await supertest(app).get('/api/outputs');
  expect(outputs.body.map(({ name }: { name: string }) => name)).toEqual(
    expect.arrayContaining(['pdf', 'csv', 'list']),
  );
  const fonts = await supertest(app).get('/api/fonts');
  expect(fonts.body.at(-1)).toEqual({
    family: 'Hut Sans',
    weight: 400,
    italic: false,
    file: 'HutSans.ttf',
    isFallback: false,
  });
  expect((await supertest(app).get('/api/fonts/HutSans.ttf')).body.length).toBeGreaterThan(10_000);

  // Without what works it out, which stays on the server.
  const { run: _, ...twice } = (await import(ADDED)).default.functions.TWICE;
  expect((await supertest(app).get('/api/functions')).body[0]).toEqual({ name: 'TWICE', ...twice, module: null });

  const title = {
    kind: 'field',
    id: 'title',
    x: 0,
    y: 0,
    width: 60,
    height: 8,
    formula: 'TWICE("Hut")',
    look: { font: 'Hut Sans' },
  };
  const definition = { gaveta: 2, name: 'Title', header: { height: 10, items: [title] } };
  const run = await supertest(app).post('/api/runs').send({ definition, parameters: {} });
  expect(run.body).toMatchObject({ id: expect.any(String) });
  const file = await supertest(app).get(`/api/runs/${run.body.id}/files/list`);
  expect(file.text).toBe('page 1: HutHut Hut Sans/400\n');
});

it('a module for browsers is given out as it is, under a name that is its own for good', async () => {
  const { body } = await supertest(app).get('/api/functions');
  const { module } = body[1];
  expect(module).toMatch(/^functions\/[0-9a-f]{64}\.mjs$/);
  const sent = await supertest(app).get(`/api/${module}`);
  expect(sent.text).toBe(await readFile(BELT, 'utf8'));
  expect(sent.headers['content-type']).toContain('javascript');
  expect(sent.headers['cache-control']).toContain('immutable');
  expect((await supertest(app).get('/api/functions/other.mjs')).status).toBe(404);
});

it('a module for browsers imports nothing, and adds functions alone', async () => {
  const file = join(tmpdir(), `gaveta-module-${process.pid}.mjs`);
  const started = async (text: string): Promise<string> => {
    await writeFile(file, text);
    const address = `${pathToFileURL(file).href}?${encodeURIComponent(text)}`;
    const gaveta = createGaveta({ ...OPTIONS, store: 'never opened', modules: [address] });
    return gaveta.then(
      () => 'it started',
      (error: Error) => error.message,
    );
  };
  try {
    expect(await started('import "node:fs"; export default { inBrowsers: true, functions: {} };')).toContain(
      'imports node:fs. Bundle it into one file',
    );
    expect(await started('export default { inBrowsers: true, fonts: [{ file: "a.ttf" }] };')).toContain(
      'put its fonts and outputs into another module',
    );
    expect(await started('export default { functions: { TWICE: {} } };')).toContain('The function “TWICE”: “takes”');
    expect(
      await started(
        'export default { functions: { UPPER: { takes: [], gives: "text", help: "", example: "", run() {} } } };',
      ),
    ).toContain('a second function “UPPER”');
  } finally {
    await rm(file, { force: true });
  }
});

it('a field’s currency, and the host’s decimals of currencies, reach browsers with the model', async () => {
  const fields = {
    id: { label: 'Number', type: 'number' },
    price: { label: 'Price', type: 'number', currency: 'XBT' },
  };
  const entities = { fee: { label: 'Fee', plural: 'Fees', key: 'id', fields } } as const;
  const model = defineModel({ name: 'fees', label: 'Fees', connection: 'office', entities: entities as never });
  const authenticate = () => ({ user: 'Inês', rights: ['view' as const], claims: {} });
  const options = { ...OPTIONS, store: await openBlank(), authenticate, doctor: false };
  const priced = await createGaveta({ ...options, models: [model], currencies: { XBT: 8 } });
  const { body } = await supertest(express().use(priced.router)).get('/api/models');
  expect(body[0].currencies).toEqual({ XBT: 8 });
  expect(body[0].entities[0].fields[1]).toMatchObject({ name: 'price', currency: 'XBT' });
  await priced.close();
});

it('themes of the house are given out, and a mistake in one ends the start', async () => {
  const authenticate = () => ({ user: 'Inês', rights: ['design' as const], claims: {} });
  const options = { ...OPTIONS, store: await openBlank(), authenticate };
  const housed = await createGaveta({ ...options, themes: [{ name: 'House', accent: '#2f4b6e' }] });
  const host = express().use(housed.router);
  const { body } = await supertest(host).get('/api/themes');
  expect(body).toMatchObject([{ name: 'House', styles: { title: { color: '#2f4b6e' } } }]);
  await housed.close();
  const wrong = { ...OPTIONS, store: 'never opened', themes: [{ name: 'House', accent: '#2f4b6e', font: 'Hut Sans' }] };
  await expect(createGaveta(wrong)).rejects.toThrow('names the font “Hut Sans”, which is not there');
});

it('a module that is not there ends the start', async () => {
  const missing = new URL('./not-there.mjs', import.meta.url).href;
  await expect(createGaveta({ ...OPTIONS, store: await openBlank(), modules: [missing] })).rejects.toThrow('not-there');
});
