import express from 'express';
import supertest from 'supertest';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { openBlank } from '../embedded/blank.test-support.ts';
import { createGaveta, type Gaveta } from '../gaveta.ts';

const ADDED = new URL('./added.test-support.mjs', import.meta.url).href;
const OPTIONS = { models: [], connections: {}, secret: 'a secret that only tests know, long enough', log: () => {} };
const app = express();
let gaveta: Gaveta;

beforeAll(async () => {
  const authenticate = () => ({ user: 'Inês', rights: ['view' as const, 'design' as const], claims: {} });
  gaveta = await createGaveta({ ...OPTIONS, store: await openBlank(), authenticate, modules: [ADDED] });
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
  expect((await supertest(app).get('/api/functions')).body).toEqual([
    {
      name: 'TWICE',
      takes: [['value', 'text']],
      min: 1,
      max: 1,
      gives: 'text',
      help: 'A text twice.',
      example: 'TWICE("a") = "aa"',
    },
  ]);

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

it('a module that is not there ends the start', async () => {
  const missing = new URL('./not-there.mjs', import.meta.url).href;
  await expect(createGaveta({ ...OPTIONS, store: await openBlank(), modules: [missing] })).rejects.toThrow('not-there');
});
