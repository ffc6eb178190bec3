import type { Step } from '@gaveta/core/internal';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Claims } from '../access/claims.ts';
import { closeWorks, open, opened, openWorks, rowsOf, stays } from './works.test-support.ts';

beforeAll(openWorks);
afterAll(closeWorks);

const written = (text: string, ...columns: string[]): Step => ({
  step: 'sql',
  model: 'tariffs',
  text,
  columns: columns.map((name) => ({ name, type: 'number' })),
});

describe('a statement over rows that the host gives', () => {
  const byYear = written('select year, sum(tax) as tax from tariff group by year', 'year', 'tax');

  it('runs where they are brought together, and can be gone on with', async () => {
    const { rows } = await rowsOf([byYear, { step: 'sort', by: [{ field: 'year' }] }]);
    expect(rows.map((row) => row.map(Number))).toEqual([
      [2024, 0.1],
      [2025, 0.25],
    ]);
    const { rows: added } = await rowsOf([
      stays,
      { step: 'add', name: 'year', formula: 'YEAR(arrival)' },
      { step: 'stack', from: { model: 'tariffs', entity: 'tariff' } },
      { step: 'summarise', by: [], totals: [{ total: 'COUNT', name: 'rows' }] },
    ]);
    expect(added.flat().map(Number)).toEqual([8]);
  });

  it('takes nobody else’s rows with it when it is ended at its limit', async () => {
    const { workbench } = opened();
    const kept = await workbench.make([{ name: 'n', type: 'number' }]);
    await workbench.copy(kept, '7');
    const endless = written(
      'select count(*)::int as n from tariff, generate_series(1, 100000000) b, generate_series(1, 100000) c where b * c < 0',
      'n',
    );
    const failed = await open([endless], undefined, {}, { seconds: 1 }).then(
      () => null,
      (error: unknown) => error,
    );
    expect(JSON.stringify(failed)).toContain('statement-slow');
    const [stream] = await workbench.connection.open([{ text: `select n from ${kept}`, values: [] }]);
    for await (const rows of stream!) expect(rows.flat().map(Number)).toEqual([7]);
    await workbench.drop([kept]);
    // The next one has a thread again.
    expect((await rowsOf([written('select count(*)::int as n from tariff', 'n')])).rows.flat().map(Number)).toEqual([
      3,
    ]);
  });

  it('sees the rows alone that its reader may see, and no table but its own', async () => {
    const warden: Claims = { role: 'warden', region: 'South' };
    const count = written('select count(*)::int as n from tariff', 'n');
    expect((await rowsOf([count], warden)).rows.flat().map(Number)).toEqual([1]);
    for (const table of ['stage_1', 'pg_class', 'stay']) {
      const { recipe, desk } = await open([written(`select 1 as n from tariff, ${table}`, 'n')]).catch(
        (error: unknown) => ({ recipe: null, desk: error }),
      );
      expect(recipe, table).toBeNull();
      expect(JSON.stringify(desk)).toContain(table);
    }
  });
});
