import { expect, it } from 'vitest';
import type { Report } from '../definition/schema.ts';
import { planReport } from './plan.ts';
import { entityOf, hutDrawer, modelOf, reportOf } from './plans.test-support.ts';

const model = modelOf(entityOf('hut', { id: 'number', name: 'text' }));
const nested = (type: 'number' | 'text', filter: string, more: object = {}): Report =>
  reportOf({
    name: 'Nested',
    parameters: [{ name: 'which', label: 'Which', type, ...more }],
    body: [hutDrawer({ filter })],
  });
const problemsOf = (link: string, inner: Report): [string, string][] => {
  const item = { kind: 'subreport', id: 's', x: 0, y: 0, width: 100, height: 5, report: 'n', links: { which: link } };
  const outer = reportOf({
    body: [{ id: 'o', name: 'outer', rows: { entity: 'hut' }, detail: { height: 10, items: [item] } }],
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
