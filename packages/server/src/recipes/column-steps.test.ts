import type { Step } from '@gaveta/core/internal';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { Workbench } from '../staging/workbench.ts';
import { closeWorks, office, open, openWorks, rowsOf, stays, withHut } from './works.test-support.ts';

beforeAll(openWorks);
afterAll(closeWorks);

const only = (...fields: string[]): Step => ({ step: 'columns', columns: fields.map((field) => ({ field })) });
const byId: Step = { step: 'sort', by: [{ field: 'id' }] };
const column = async (steps: Step[]): Promise<unknown[]> => (await rowsOf([...steps, byId])).rows.map((r) => r.at(-1));
const add = (formula: string, per?: string[]): Step => ({
  step: 'add',
  name: 'added',
  formula,
  ...(per ? { per } : {}),
});

describe('a formula with totals', () => {
  const nights = [2, 3, 1, 5, 7];
  const huts = ['Zé', 'Zé', 'Ábaco', 'Ábaco', null];
  const total = (at: number): number => nights.reduce((sum, n, i) => (huts[i] === huts[at] ? sum + n : sum), 0);

  it('sees those of all rows, in the database and out of it', async () => {
    const there = await column([stays, add('nights / SUM(nights)')]);
    expect(there.map(Number)).toEqual(nights.map((n) => n / 18));
    const here = await column([stays, add('ROUND(nights / SUM(nights); 4)')]);
    expect(here.map(Number)).toEqual(nights.map((n) => Math.round((n / 18) * 1e4) / 1e4));
  });

  it('sees those of its group, blanks being a group too', async () => {
    const share = ['nights / SUM(nights)', 'TRUNC(nights / SUM(nights); 12)'];
    for (const formula of share) {
      const found = await column([stays, withHut, add(formula, ['hut_name'])]);
      found.forEach((value, i) => {
        expect(Number(value)).toBeCloseTo(nights[i]! / total(i), 11);
      });
    }
  });

  it('may be the last step', async () => {
    const { rows } = await rowsOf([stays, add('nights - MIN(nights)')]);
    expect(rows.map((row) => Number(row.at(-1))).sort()).toEqual([0, 1, 2, 4, 6]);
  });

  it('takes every total that a step can, the same in both places', async () => {
    for (const name of ['SUM', 'COUNT', 'COUNTDISTINCT', 'AVERAGE', 'MEDIAN', 'STDEV', 'MIN', 'MAX', 'FIRST', 'LAST']) {
      const there = await column([stays, withHut, byId, add(`${name}(rate)`, ['hut_name'])]);
      // What no database knows is worked out over the rows as they come.
      const here = await column([stays, withHut, byId, add(`ROUND(${name}(rate); 9)`, ['hut_name'])]);
      there.forEach((value, i) => {
        if (value === null) expect(Number(here[i] ?? 0), name).toBe(0);
        else expect(Number(here[i]), name).toBeCloseTo(Number(value), 8);
      });
    }
    // A total of what no database knows, and one that only formulas have.
    expect((await column([stays, add('SUM(ROUND(rate; 0)) + COUNTA(arrival)')])).map(Number)).toEqual(
      Array(5).fill(11 + 10 + 0 + 1 + 5),
    );
  });
});

describe('changing types', () => {
  it('reads texts as files are read; what does not fit is blank', async () => {
    const texts = ['1,234.50', '(3)', 'n/a', '', '12 %'];
    const written = `SWITCH(id; 1; "${texts[0]}"; 2; "${texts[1]}"; 3; "${texts[2]}"; 4; "${texts[3]}"; "${texts[4]}")`;
    const found = await column([
      stays,
      add(written),
      { step: 'convert', columns: [{ field: 'added', to: 'number' }] },
      only('id', 'added'),
    ]);
    expect(found.map((value) => (value === null ? null : Number(value)))).toEqual([1234.5, -3, null, null, 0.12]);
    const days = await column([
      stays,
      add('SWITCH(id; 1; "03/04/2025"; 2; "2025-04-05"; "tomorrow")'),
      { step: 'convert', columns: [{ field: 'added', to: 'date', dates: 'mdy' }] },
      only('id', 'added'),
    ]);
    expect(days).toEqual(['2025-03-04', '2025-04-05', null, null, null]);
  });

  it('turns other types into one another, the same in the database and out of it', async () => {
    const conversions = [
      { from: 'arrival', to: 'text', gives: '2025-06-30' },
      { from: 'arrival', to: 'datetime', gives: '2025-06-30 00:00:00' },
      { from: 'nights', to: 'text', gives: '2' },
      { from: 'rate', to: 'text', gives: '10.5' },
      { from: 'nights', to: 'boolean', gives: 'true' },
    ] as const;
    for (const { from, to, gives } of conversions) {
      const plain: Step = { step: 'convert', columns: [{ field: from, to }] };
      const there = await column([stays, plain, only('id', from)]);
      // A text that is read beside it has the whole step worked out over the rows as they come.
      const beside: Step = {
        step: 'convert',
        columns: [
          { field: from, to },
          { field: 'added', to: 'number' },
        ],
      };
      const here = await column([stays, add('"1"'), beside, only('id', from)]);
      expect(String(there[0]).startsWith(gives), `${from} as ${to}: ${there[0]}`).toBe(true);
      const plainly = (value: unknown): unknown => (to === 'datetime' ? Date.parse(String(value)) : value);
      expect(here.map(plainly)).toEqual(there.map(plainly));
    }
    const day = await column([
      { step: 'take', from: { model: 'works', entity: 'reading' } },
      { step: 'convert', columns: [{ field: 'logged_at', to: 'date' }] },
      { step: 'add', name: 'id', formula: 'hut_id' },
      only('id', 'logged_at'),
    ]);
    expect(new Set(day)).toEqual(new Set(['2025-07-01']));
  });

  it('keeps the order of the rows by the new values', async () => {
    const { rows } = await rowsOf([
      stays,
      add('IF(nights = 7; "10"; "9")'),
      { step: 'sort', by: [{ field: 'added' }, { field: 'id' }] },
      { step: 'convert', columns: [{ field: 'added', to: 'number' }] },
      only('added'),
      { step: 'first', count: 5 },
    ]);
    expect(rows.flat().map(Number)).toEqual([9, 9, 9, 9, 10]);
  });
});

it('works steps out once for all that a screen asks of them, each person by themselves', async () => {
  // What it keeps is nobody else's.
  const workbench = new Workbench();
  const make = vi.spyOn(workbench, 'make');
  const look = async (formula: string, claims = office): Promise<void> => {
    const { recipe, desk } = await open(
      [stays, add(formula)],
      claims,
      {},
      { sharedFor: 60_000, workbench: () => workbench },
    );
    await desk.rows(recipe, 10);
    await desk.close();
  };
  await Promise.all([look('ROUNDUP(nights; 1)'), look('ROUNDUP(nights; 1)')]);
  await look('ROUNDUP(nights; 1)');
  expect(make).toHaveBeenCalledTimes(1);
  await look('ROUNDUP(nights; 2)');
  await look('ROUNDUP(nights; 1)', { role: 'warden', region: 'North' });
  expect(make).toHaveBeenCalledTimes(3);
  await workbench.close();
});

it('turns columns into rows, with or without those that have no value', async () => {
  const gather: Step = {
    step: 'gather',
    columns: [
      { field: 'nights', label: 'Nights spent' },
      { field: 'rate', label: 'Rate' },
    ],
    names: { name: 'what' },
    values: { name: 'how_much' },
  };
  const ordered: Step = { step: 'sort', by: [{ field: 'id' }, { field: 'what' }] };
  const { rows, names } = await rowsOf([stays, only('id', 'nights', 'rate'), gather, ordered]);
  expect(names).toEqual(['id', 'what', 'how_much']);
  expect(rows.map(([id, what, value]) => [id, what, Number(value)])).toEqual([
    [1, 'Nights spent', 2],
    [1, 'Rate', 10.5],
    [2, 'Nights spent', 3],
    [2, 'Rate', 10],
    [3, 'Nights spent', 1],
    [4, 'Nights spent', 5],
    [4, 'Rate', 0.1],
    [5, 'Nights spent', 7],
    [5, 'Rate', 1],
  ]);
  expect((await rowsOf([stays, { ...gather, blanks: true }])).rows).toHaveLength(10);
});

it('fills blanks with a value, or with the one above or below, each group by itself', async () => {
  const rate = (...steps: Step[]): Promise<unknown[]> => column([stays, withHut, byId, ...steps, only('id', 'rate')]);
  const fill = (more: object): Step => ({ step: 'fill', fields: ['rate'], by: 'above', ...more });
  expect((await rate(fill({ by: 'value', value: '4.25' }))).map(Number)).toEqual([10.5, 10, 4.25, 0.1, 1]);
  expect((await rate(fill({}))).map(Number)).toEqual([10.5, 10, 10, 0.1, 1]);
  expect((await rate(fill({ by: 'below' }))).map(Number)).toEqual([10.5, 10, 0.1, 0.1, 1]);
  // Nothing stands above the first row of a hut.
  expect((await rate(fill({ per: ['hut_name'] })))[2]).toBeNull();
  expect(
    await column([stays, withHut, fill({ fields: ['hut_name'], by: 'value', value: 'none' }), only('id', 'hut_name')]),
  ).toEqual(['Zé', 'Zé', 'Ábaco', 'Ábaco', 'none']);
});

it('splits a text at a sign, and joins what is not blank', async () => {
  const split: Step = { step: 'split', field: 'added', at: '-', into: [{ name: 'a' }, { name: 'b' }] };
  const { rows } = await rowsOf([
    stays,
    withHut,
    add('SWITCH(id; 1; "one"; 2; "x - y"; 3; "x-y-z"; 4; " - "; "")'),
    split,
    byId,
    only('a', 'b'),
  ]);
  expect(rows).toEqual([
    ['one', null],
    ['x', 'y'],
    ['x', 'y-z'],
    [null, null],
    [null, null],
  ]);
  const join = (...fields: string[]): Step => ({ step: 'join', fields, between: ' · ', name: 'joined' });
  const texts = await rowsOf([stays, withHut, join('hut_name', 'hut_region'), byId]);
  expect(texts.rows.map((row) => row.at(-1))).toEqual([
    'Zé · North',
    'Zé · North',
    'Ábaco · North',
    'Ábaco · North',
    '',
  ]);
  expect(texts.sql).toContain('concat_ws');
  expect((await column([stays, withHut, join('hut_name', 'arrival', 'rate')])).slice(0, 3)).toEqual([
    'Zé · 2025-06-30 · 10.5',
    'Zé · 2025-07-01 · 10',
    'Ábaco · 2025-07-15',
  ]);
});
