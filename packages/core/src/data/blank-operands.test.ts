import { expect, it } from 'vitest';
import { definition, lay, line, type Rows } from '../layout/huts.test-support.ts';
import { problemText } from '../problems/problem.ts';

const HUTS: Rows = {
  hut: [
    { id: 2, name: 'Lago' },
    { id: null, name: 'Sino' },
    { id: null, name: 'Brecha' },
  ],
};

const shown = async (formula: string, more: object = {}) => {
  const detail = line('d', formula);
  const { text, result } = await lay(
    definition({ body: [{ id: 'h', name: 'hut', rows: { entity: 'hut' }, detail, ...more }] }),
    HUTS,
  );
  return { texts: text.flat(), problems: result.problems };
};

it('a product of a value that is missing is told of, once for its item', async () => {
  const { texts, problems } = await shown('3 * id');
  expect(texts).toEqual(['6', '0', '0']);
  expect(problems.map((p) => [p.code, p.place.item, p.severity])).toEqual([['blank-counts-as-zero', 'd', 'warning']]);
  expect(problemText(problems[0]!)).toBe(
    'In some rows “Id” has no value, and counts as 0 here. Say what such rows show, as in IF(ISBLANK(price); ""; quantity * price).',
  );
  const calculated = { calculated: [{ name: 'triple', formula: 'id * 3' }] };
  expect((await shown('triple', calculated)).problems.map((p) => p.code)).toEqual(['blank-counts-as-zero']);
});

it('what the formula itself asks for is not, nor are sums, comparisons and rows that have all values', async () => {
  const asked = await shown('IF(ISBLANK(id); ""; 3 * id)');
  expect(asked).toEqual({ texts: ['6'], problems: [] });
  for (const formula of ['id + 1', 'IF(id > 1; "many"; "few")', 'LEN(name) * 2', 'SUM(hut.id) * 2'])
    expect((await shown(formula)).problems).toEqual([]);
});
