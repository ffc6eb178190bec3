import { expect, it } from 'vitest';
import { hutDrawer, reportOf } from '../data/plans.test-support.ts';
import { rowsUsers } from './rows-users.ts';

it('says what takes rows from a query: drawers, items, parameters and other queries', () => {
  const take = (from: object) => ({ step: 'take', from });
  const map = {
    kind: 'chart',
    id: 'c',
    x: 0,
    y: 0,
    width: 50,
    height: 30,
    type: 'column',
    measures: [{ formula: '1' }],
  };
  const report = reportOf({
    queries: [
      { name: 'huts', steps: [take({ model: 'm', entity: 'hut' })] },
      { name: 'best', steps: [take({ query: 'huts' })] },
    ],
    parameters: [{ name: 'p', label: 'P', type: 'choice', choicesFrom: { rows: 'huts', value: 'id' } }],
    header: { height: 40, items: [{ ...map, rows: { entity: 'huts' } }] },
    body: [hutDrawer({ rows: { entity: 'huts' } }), { id: 'b', name: 'best', rows: { entity: 'best' } }],
  });
  expect(rowsUsers(report, 'huts')).toEqual(['body/0', 'header/items/0', 'parameters/0', 'queries/1']);
  expect(rowsUsers(report, 'best')).toEqual(['body/1']);
  expect(rowsUsers(report, 'hut')).toEqual([]);
});
