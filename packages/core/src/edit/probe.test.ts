import { expect, it } from 'vitest';
import { band, definition, field, lay } from '../layout/huts.test-support.ts';
import { probeReport, probeValues } from './probe.ts';

const report = definition({
  pageFooter: band(6, field('p', 'page.number')),
  body: [
    {
      id: 'huts',
      name: 'hut',
      rows: { entity: 'hut' },
      detail: band(30, field('n', 'name')),
      footer: band(6, field('c', 'COUNT(hut)')),
    },
  ],
});
const rows = { hut: [1, 2, 3].map((id) => ({ id, name: id === 2 ? null : `Hut ${id}` })) };
const values = async (address: Parameters<typeof probeReport>[1], ...formulas: string[]) => {
  const probed = probeReport(
    report,
    address,
    formulas.map((formula) => ({ formula })),
  );
  const { pages, result } = await lay(probed, rows);
  return probeValues(pages, result.late, formulas.length);
};

it('gives the values of formulas for each row, blank ones too', async () => {
  expect(await values({ drawer: 'huts', band: 'detail' }, 'name', 'id * 2')).toEqual([
    ['Hut 1', '', 'Hut 3'],
    ['2', '4', '6'],
  ]);
  expect(await values({ drawer: 'huts', band: 'footer' }, 'SUM(hut.id)')).toEqual([['6']]);
  expect(await values({ drawer: null, band: 'pageFooter' }, 'page.count')).toEqual([['1']]);
});
