import { planRecipe, type Step } from '@gaveta/core/internal';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { OpenOptions } from '../connection/connection.ts';
import { pgliteConnection } from '../connection/pglite.ts';
import type { Statement } from '../connection/statement.ts';
import { RecipeDesk } from './desk.ts';
import { closeWorks, context, office, opened, openWorks, rowsOf, stays, withHut, works } from './works.test-support.ts';

beforeAll(openWorks);
afterAll(closeWorks);

describe('the steps of a recipe in one database', () => {
  it('shows chosen columns under other names, and goes on in an order and by relations that are out of sight', async () => {
    const { rows, names } = await rowsOf([
      stays,
      { step: 'sort', by: [{ field: 'nights', descending: true }] },
      { step: 'columns', columns: [{ field: 'arrival', name: 'day', label: 'Day' }, { field: 'id' }] },
      withHut,
      { step: 'first', count: 2 },
    ]);
    expect(names.slice(0, 2)).toEqual(['day', 'id']);
    expect(names).not.toContain('nights');
    expect(rows.map((row) => row.slice(0, 2))).toEqual([
      ['2025-08-02', 5],
      ['2025-08-01', 4],
    ]);
    // Two columns that change names: what the rows were in the order of is another column now.
    const swapped = await rowsOf([
      stays,
      { step: 'sort', by: [{ field: 'nights' }] },
      {
        step: 'columns',
        columns: [
          { field: 'nights', name: 'id' },
          { field: 'id', name: 'nights' },
        ],
      },
      { step: 'sort', by: [{ field: 'nights' }] },
    ]);
    expect(swapped.rows).toEqual([
      [2, 1],
      [3, 2],
      [1, 3],
      [5, 4],
      [7, 5],
    ]);
  });

  it('calculates across rows, each group by itself, as a plain walk over them does', async () => {
    const along = (what: 'running' | 'before' | 'rank' | 'share' | 'number', of?: string): Step => ({
      step: 'along',
      what,
      name: what,
      per: ['hut_name'],
      ...(of ? { of } : {}),
    });
    const { rows, names } = await rowsOf([
      stays,
      withHut,
      { step: 'sort', by: [{ field: 'arrival' }] },
      along('running', 'nights'),
      along('before', 'arrival'),
      along('rank', 'nights'),
      along('share', 'nights'),
      along('number'),
      { step: 'sort', by: [{ field: 'id' }] },
    ]);
    const table = rows.map((row) => Object.fromEntries(names.map((name, i) => [name, row[i]])));
    for (const row of table) {
      const group = table.filter((other) => other.hut_name === row.hut_name);
      const before = group.filter((other) => String(other.arrival) < String(row.arrival));
      const nights = (list: typeof table): number => list.reduce((sum, one) => sum + Number(one.nights), 0);
      expect(Number(row.running)).toBe(nights([...before, row]));
      expect(row.before).toBe(before.at(-1)?.arrival ?? null);
      expect(Number(row.rank)).toBe(group.filter((one) => Number(one.nights) > Number(row.nights)).length + 1);
      expect(Number(row.share)).toBeCloseTo(Number(row.nights) / nights(group), 12);
      expect(Number(row.number)).toBe(before.length + 1);
    }
  });

  it('takes the median exactly, and the standard deviation of a sample', async () => {
    const { rows } = await rowsOf([
      stays,
      {
        step: 'summarise',
        by: [],
        totals: [
          { total: 'MEDIAN', of: 'rate', name: 'middle' },
          { total: 'MEDIAN', of: 'nights', name: 'of_five' },
          { total: 'STDEV', of: 'nights', name: 'spread' },
        ],
      },
    ]);
    // Rates are 10.50, 10, 0.10 and 1: the two in the middle are 1 and 10.
    expect([Number(rows[0]![0]), Number(rows[0]![1])]).toEqual([5.5, 3]);
    const nights = [2, 3, 1, 5, 7];
    const mean = 18 / 5;
    const variance = nights.reduce((sum, n) => sum + (n - mean) ** 2, 0) / 4;
    expect(Number(rows[0]![2])).toBeCloseTo(Math.sqrt(variance), 10);
  });

  it('sends a statement that somebody wrote once, and knows of its rows what plain steps are asked for one by one', async () => {
    const sent: string[] = [];
    const connection = pgliteConnection(opened().database);
    const counting = {
      ...connection,
      open: (queries: readonly Statement[], options?: OpenOptions) => {
        sent.push(...queries.map(({ text }) => text));
        return connection.open(queries, options);
      },
    };
    const look = async (steps: Step[]) => {
      const recipe = planRecipe({ name: 'test', steps }, context);
      const desk = await RecipeDesk.open([recipe], {
        models: new Map([['works', works]]),
        connections: new Map([['main', counting]]),
        claims: office,
        report: { name: '', language: 'en', timeZone: 'UTC', parameters: [] },
        values: {},
      });
      sent.length = 0;
      return { recipe, desk };
    };
    const columns = [
      { name: 'id', type: 'number' as const },
      { name: 'arrival', type: 'date' as const },
      { name: 'rate', type: 'number' as const },
    ];
    const text = 'select id, arrival, rate from stay order by id';
    const written = await look([{ step: 'sql', model: 'works', text, columns }]);
    const { rows, counted } = await written.desk.rows(written.recipe, 2);
    expect(sent).toHaveLength(1);
    expect(rows.map(([id]) => id)).toEqual([1, 2]);
    expect(counted?.count).toBe(5);
    const steps = await look([stays]);
    const plain = await steps.desk.facts(steps.recipe);
    expect(counted?.facts).toEqual(columns.map(({ name }) => plain.find(({ field }) => field === name)));
    expect((await steps.desk.rows(steps.recipe, 2)).counted).toBeNull();

    const none = await look([
      { step: 'sql', model: 'works', text: 'select id from stay where id < 0', columns: columns.slice(0, 1) },
    ]);
    expect(await none.desk.rows(none.recipe, 2)).toMatchObject({
      rows: [],
      counted: { count: 0, facts: [{ distinct: 0, most: null }] },
    });
  });
});
