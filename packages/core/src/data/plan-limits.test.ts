import { expect, it } from 'vitest';
import { cpuTime } from '../cpu-time.test-support.ts';
import { readDefinition } from '../definition/read.ts';
import type { Report } from '../definition/schema.ts';
import { problemText } from '../problems/problem.ts';
import type { Model } from './model.ts';
import { planReport, plansOf } from './plan.ts';

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
        { name: 'beds', label: 'Beds', type: 'number' },
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
const drawer = (more: object): object => ({ id: 'd', name: 'hut', rows: { entity: 'hut' }, ...more });
const field = (id: string, formula: string): object => ({
  kind: 'field',
  id,
  x: 0,
  y: 0,
  width: 10,
  height: 5,
  formula,
});
const plan = (asked: Report, reports: Record<string, Report> = {}) =>
  planReport(asked, { models: [model], report: (id) => reports[id] ?? null, rowsFromDatabase: true });

/** Milliseconds of the processor that a report of so many totals takes to plan. */
const timeOfTotals = (count: number): number => {
  const items = Array.from({ length: count }, (_, i) => field(`f${i}`, `SUM(beds + ${i})`));
  const asked = report({ body: drawer({ footer: { height: 10, items } }) });
  return cpuTime(() => expect(plan(asked).totals).toHaveLength(count));
};

it('totals take a time to plan that goes with their number', () => {
  timeOfTotals(100);
  expect(timeOfTotals(1600)).toBeLessThan(1500);
});

it('nested reports end, however many of them nest how many', () => {
  const subreports = (to: string): object[] =>
    Array.from({ length: 4 }, (_, i) => ({
      kind: 'subreport',
      id: `s${i}`,
      x: 0,
      y: i * 10,
      width: 50,
      height: 5,
      report: to,
      links: {},
    }));
  const reports: Record<string, Report> = {};
  for (let i = 1; i <= 9; i++)
    reports[`r${i}`] = report({
      body: drawer({ detail: { height: 50, items: i < 9 ? subreports(`r${i + 1}`) : [] } }),
    });
  const outer = report({ body: drawer({ detail: { height: 50, items: subreports('r1') } }) });
  const time = cpuTime(() => {
    const planned = plan(outer, reports);
    expect([...plansOf(planned)].length).toBeLessThanOrEqual(101);
    expect(planned.problems.some((p) => p.code === 'too-many-subreports')).toBe(true);
  });
  expect(time).toBeLessThan(2000);
});

it('calculated fields that read one another many times are checked once each', () => {
  const calculated = Array.from({ length: 19 }, (_, i) => ({
    name: `c${i}`,
    formula: i === 0 ? 'beds' : `c${i - 1} + c${i - 1} + c${i - 1}`,
  }));
  const circle = [
    { name: 'a', formula: 'b + b + b' },
    { name: 'b', formula: 'a + a + a' },
  ];
  const items = [field('f', 'c18'), field('g', 'a')];
  const asked = report({ body: drawer({ calculated: [...calculated, ...circle], detail: { height: 5, items } }) });
  const time = cpuTime(() =>
    expect(new Set(plan(asked).problems.map((p) => p.code))).toEqual(
      new Set(['calculated-in-circle', 'formula-too-long']),
    ),
  );
  expect(time).toBeLessThan(2000);
});
