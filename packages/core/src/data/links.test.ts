import { expect, it } from 'vitest';
import { readDefinition } from '../definition/read.ts';
import type { Report } from '../definition/schema.ts';
import { problemText } from '../problems/problem.ts';
import type { Model } from './model.ts';
import { planReport } from './plan.ts';

const model: Model = {
  name: 'm',
  label: 'M',
  entities: [
    {
      name: 'hut',
      label: 'Hut',
      plural: 'Huts',
      key: 'id',
      fields: [
        { name: 'id', label: 'Id', type: 'number' },
        { name: 'name', label: 'Name', type: 'text' },
      ],
      relations: [],
    },
  ],
};
const report = (json: object): Report => {
  const read = readDefinition({ gaveta: 1, name: 'x', model: 'm', ...json });
  if (!read.ok) throw new Error(read.problems.map(problemText).join(' '));
  return read.report;
};
const nested = (type: 'number' | 'text', filter: string, more: object = {}): Report =>
  report({
    name: 'Nested',
    parameters: [{ name: 'which', label: 'Which', type, ...more }],
    body: { id: 'd', name: 'hut', rows: { entity: 'hut' }, filter },
  });
const problemsOf = (link: string, inner: Report): [string, string][] => {
  const item = { kind: 'subreport', id: 's', x: 0, y: 0, width: 100, height: 5, report: 'n', links: { which: link } };
  const outer = report({
    body: { id: 'o', name: 'outer', rows: { entity: 'hut' }, detail: { height: 10, items: [item] } },
  });
  const plan = planReport(outer, { models: [model], report: () => inner, rowsFromDatabase: true });
  return plan.problems.map((p) => [p.code, p.severity]);
};

it('a link by a value that several rows may have is warned of, one by the key is not', () => {
  expect(problemsOf('name', nested('text', 'name = which'))).toEqual([['link-not-unique', 'warning']]);
  expect(problemsOf('id', nested('number', 'id = which'))).toEqual([]);
});

it('a link that sets what the application alone sets is refused', () => {
  expect(problemsOf('id', nested('number', 'id = which', { fromHost: true }))).toEqual([['link-from-host', 'error']]);
});
