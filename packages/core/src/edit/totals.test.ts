import { describe, expect, it } from 'vitest';
import { band, definition, hutModel } from '../layout/huts.test-support.ts';
import { totalFormula, totalParts, totalScopes } from './totals.ts';

const report = definition({
  footer: band(5),
  body: [
    {
      id: 'huts',
      name: 'hut',
      rows: { entity: 'hut' },
      groups: [{ name: 'letter', by: 'name', per: 'letter', footer: band(5) }],
      detailFooter: band(5),
      drawers: [{ id: 'stays', name: 'stay', rows: { relation: 'stays' }, detail: band(5), footer: band(5) }],
    },
  ],
});
const context = { models: [hutModel], report: () => null };

describe('a total', () => {
  it('is taken apart and written again', () => {
    for (const formula of ['SUM(nights)', 'COUNT(stay; hut)', 'AVERAGE(nights * 2; report)'])
      expect(totalFormula(totalParts(formula)!)).toBe(formula);
    expect(totalParts('SUM(nights; hut)')).toEqual({ name: 'SUM', of: 'nights', scope: 'hut' });
    for (const other of ['nights', 'SUM(nights) * 2', 'UPPER(name)', 'MAX(1; 2; 3)', 'SUM(', 'SUM(nights; hut.id)'])
      expect(totalParts(other), other).toBeNull();
  });

  it('may count the rows of its place, or those of what is around it', () => {
    const scopes = (address: Parameters<typeof totalScopes>[1]) =>
      totalScopes(report, address, { name: 'SUM', of: 'nights', scope: null }, context).map(({ scope, facts }) => [
        scope,
        facts.over,
        facts.group ?? facts.drawer,
      ]);
    expect(scopes({ drawer: 'stays', band: 'footer' })).toEqual([
      [null, 'set', 'stay'],
      ['letter', 'group', 'letter'],
      ['hut', 'row', 'hut'],
      ['report', 'set', 'hut'],
    ]);
    expect(scopes({ drawer: null, band: 'footer' })).toEqual([[null, 'set', 'hut']]);
  });
});
