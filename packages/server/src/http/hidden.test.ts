import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type EveryRoute, openEveryRoute } from './every-route.test-support.ts';

let routes: EveryRoute;
beforeAll(async () => {
  routes = await openEveryRoute();
}, 120_000);
afterAll(() => routes?.close());

const post = async (path: string, body: object): Promise<string> => {
  const answer = await fetch(`${routes.base}${path}`, {
    method: 'POST',
    headers: { ...routes.bearer, 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  });
  return answer.text();
};

const take = { step: 'take', from: { model: 'own', entity: 'hut' } };
const secret = (value: string) => ({ field: 'secret', is: 'equal', to: { value } });

/** Steps that name a hidden field, with a guess at one of its values. */
const steps: Record<string, (guess: string) => object[]> = {
  'a test': (guess) => [take, { step: 'keep', where: secret(guess) }],
  'a formula of a test': (guess) => [take, { step: 'keep', where: { formula: `secret = "${guess}"` } }],
  'a test beside another': (guess) => [
    take,
    { step: 'keep', where: { any: [secret(guess), { field: 'id', is: 'less', to: { value: 5 } }] } },
  ],
  'a comparison with it': () => [
    take,
    { step: 'keep', where: { field: 'name', is: 'equal', to: { field: 'secret' } } },
  ],
  'a column': () => [take, { step: 'add', name: 'shown', formula: 'secret' }],
  'a sort': () => [take, { step: 'sort', by: [{ field: 'secret' }] }],
  'a summary': () => [take, { step: 'summarise', by: [{ field: 'secret' }], totals: [] }],
  'a total': () => [take, { step: 'summarise', by: [], totals: [{ total: 'MAX', of: 'secret', name: 'shown' }] }],
  'names turned into columns': (guess) => [
    take,
    { step: 'spread', names: 'secret', values: 'beds', total: 'SUM', into: [{ name: 'x', value: guess }] },
  ],
  'the first of each': () => [take, { step: 'first', count: 1, per: ['secret'] }],
  duplicates: () => [take, { step: 'distinct', by: ['secret'] }],
  'rows that are added': () => [
    take,
    { step: 'summarise', by: [{ field: 'id' }], totals: [{ total: 'MAX', of: 'name', name: 'secret' }] },
    { step: 'stack', from: { model: 'own', entity: 'hut' } },
  ],
  'rows of another source that are added': () => [
    take,
    { step: 'summarise', by: [{ field: 'id' }], totals: [{ total: 'MAX', of: 'name', name: 'secret' }] },
    { step: 'stack', from: { model: 'host', entity: 'hut' } },
  ],
  'rows brought in by it there': (guess) => [
    take,
    { step: 'add', name: 'guess', formula: `"${guess}"` },
    {
      step: 'bring',
      from: { model: 'own', entity: 'hut' },
      on: [{ here: 'guess', there: 'secret' }],
      keep: 'matching',
      as: 'other',
    },
  ],
  'rows brought in by it here': () => [
    take,
    {
      step: 'bring',
      from: { model: 'own', entity: 'hut' },
      on: [{ here: 'secret', there: 'name' }],
      keep: 'matching',
      as: 'other',
    },
  ],
  'fields brought in': () => [
    take,
    {
      step: 'bring',
      from: { model: 'own', entity: 'hut' },
      on: [{ here: 'name', there: 'name' }],
      keep: 'matching',
      as: 'other',
      fields: ['secret'],
    },
  ],
};

const item = (formula: string): object => ({ kind: 'field', id: 'f', x: 0, y: 0, width: 60, height: 5, formula });
const report = (body: object, more: object = {}): object => ({
  gaveta: 2,
  name: 'x',
  model: 'own',
  ...more,
  body: [
    {
      id: 'h',
      name: 'hut',
      rows: { entity: 'hut' },
      first: 20,
      detail: { height: 5, items: [item('name')] },
      ...body,
    },
  ],
});

/** Reports that name a hidden field. */
const reports: Record<string, (guess: string) => object> = {
  'an item': () => report({ detail: { height: 5, items: [item('secret')] } }),
  'an item through the drawer': () => report({ detail: { height: 5, items: [item('hut.secret & "x"')] } }),
  'a total': () => report({ footer: { height: 5, items: [item('MAX(secret)')] } }),
  'a list': () => report({ footer: { height: 5, items: [item('TEXTJOIN(","; TRUE; LIST(secret))')] } }),
  'a filter': (guess) => report({ filter: `secret = "${guess}"` }),
  'a sort': () => report({ sort: [{ by: 'secret' }] }),
  'a group': () => report({ groups: [{ name: 'g', by: 'secret', header: { height: 5, items: [item('g')] } }] }),
  'an order of groups': () => report({ groups: [{ name: 'g', by: 'beds', order: 'MAX(secret)' }] }),
  'a calculated field': () =>
    report({ calculated: [{ name: 'c', formula: 'secret' }], detail: { height: 5, items: [item('c')] } }),
  'a highlight': (guess) =>
    report({
      detail: {
        height: 5,
        items: [{ ...item('name'), highlights: [{ when: `secret = "${guess}"`, look: { bold: true } }] }],
      },
    }),
  'a condition of a band': (guess) =>
    report({ detail: { height: 5, showIf: `secret = "${guess}"`, items: [item('name')] } }),
  'a link to an address': () =>
    report({ detail: { height: 5, items: [{ ...item('name'), link: { address: '"https://x.example/" & secret' } }] } }),
  'a relation of the report': (guess) =>
    report(
      {
        drawers: [
          { id: 'g', name: 'guess', rows: { relation: 'guesses' }, detail: { height: 5, items: [item('guess.word')] } },
        ],
      },
      {
        queries: [
          {
            name: 'guess',
            steps: [
              take,
              { step: 'summarise', by: [], totals: [] },
              { step: 'add', name: 'word', formula: `"${guess}"` },
            ],
          },
        ],
        relations: [
          { name: 'guesses', from: 'hut', to: 'guess', kind: 'many', on: [{ here: 'secret', there: 'word' }] },
        ],
      },
    ),
  'choices of a parameter': () =>
    report(
      {},
      {
        parameters: [
          { name: 'p', label: 'P', type: 'choice', choicesFrom: { rows: 'hut', value: 'secret', label: 'secret' } },
        ],
      },
    ),
};

/** An answer without what differs from call to call. */
const plain = (text: string, guess: string): string =>
  text
    .replaceAll(guess, '?')
    .replace(/"(milliseconds|id|planning|opening|peakMemory|waiting|writing|layout)":("[^"]*"|[\d.]+)/g, '"$1":0');

const RIGHT = 'HIDDEN7';
const WRONG = 'HIDDENX';

describe('a hidden field', () => {
  it.each(Object.keys(steps))('is not shown, and no guess at it confirmed, by steps: %s', async (name) => {
    for (const path of ['/recipe/rows', '/recipe/count', '/recipe/facts', '/recipe/values', '/recipe/fit']) {
      const more =
        path === '/recipe/values'
          ? { field: 'secret' }
          : path === '/recipe/fit'
            ? { there: [take], on: [{ here: 'name', there: 'secret' }] }
            : {};
      const [right, wrong] = await Promise.all(
        [RIGHT, WRONG].map((guess) => post(path, { steps: steps[name]!(guess), ...more })),
      );
      expect(plain(right!, RIGHT)).toBe(plain(wrong!, WRONG));
      expect(plain(right!, RIGHT)).not.toMatch(/HIDDEN\d/);
    }
  });
  it.each(Object.keys(reports))('is not shown, and no guess at it confirmed, by a report: %s', async (name) => {
    const answers: string[] = [];
    for (const guess of [RIGHT, WRONG]) {
      const definition = reports[name]!(guess);
      const rows = await post('/design-rows', { definition, parameters: {} });
      const checked = await post('/check', { definition });
      const choices = await post('/choices', { definition, parameter: 'p', values: {} });
      const run = JSON.parse(await post('/runs', { definition })) as { id?: string };
      let pages = '';
      if (run.id !== undefined) {
        await expect
          .poll(
            async () =>
              (
                (await (await fetch(`${routes.base}/runs/${run.id}`, { headers: routes.bearer })).json()) as {
                  status: string;
                }
              ).status,
            { timeout: 60_000 },
          )
          .toBe('done');
        pages = await (await fetch(`${routes.base}/runs/${run.id}/pages?count=20`, { headers: routes.bearer })).text();
      }
      answers.push(plain(rows + checked + choices + pages, guess));
    }
    expect(answers[0]).toBe(answers[1]);
    expect(answers[0]).not.toMatch(/HIDDEN\d/);
  });
  it('is not among what is told of models, and fits nothing', async () => {
    const models = await (await fetch(`${routes.base}/models`, { headers: routes.bearer })).text();
    expect(models).not.toContain('secret');
    const fit = await post('/recipe/fit', { steps: [take], there: [take], on: [{ here: 'name', there: 'secret' }] });
    expect(JSON.parse(fit)).toMatchObject({ found: null });
  });
});
