import { expect, it } from 'vitest';
import { cpuTime } from '../cpu-time.test-support.ts';
import type { Recipe } from '../definition/recipe.ts';
import type { Report } from '../definition/schema.ts';
import { planRecipe } from '../recipe/plan.ts';
import { planReport, plansOf } from './plan.ts';
import { entityOf, fieldItem, hutDrawer, modelOf, reportOf } from './plans.test-support.ts';

const model = modelOf(entityOf('hut', { id: 'number', beds: 'number' }));
const plan = (asked: Report, reports: Record<string, Report> = {}) =>
  planReport(asked, { models: [model], report: (id) => reports[id] ?? null, rowsFromDatabase: true });

/** Milliseconds of the processor that a report of so many totals takes to plan. */
const timeOfTotals = (count: number): number => {
  const items = Array.from({ length: count }, (_, i) => fieldItem(`f${i}`, `SUM(beds + ${i})`));
  const asked = reportOf({ body: [hutDrawer({ footer: { height: 10, items } })] });
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
  const inner: Record<string, Report> = {};
  for (let depth = 1; depth <= 9; depth++) {
    const items = depth < 9 ? subreports(`at-${depth + 1}`) : [];
    inner[`at-${depth}`] = reportOf({ body: [hutDrawer({ detail: { height: 50, items } })] });
  }
  const outer = reportOf({ body: [hutDrawer({ detail: { height: 50, items: subreports('at-1') } })] });
  const time = cpuTime(() => {
    const planned = plan(outer, inner);
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
  const items = [fieldItem('f', 'c18'), fieldItem('g', 'a')];
  const asked = reportOf({
    body: [hutDrawer({ calculated: [...calculated, ...circle], detail: { height: 5, items } })],
  });
  const time = cpuTime(() =>
    expect(new Set(plan(asked).problems.map((p) => p.code))).toEqual(
      new Set(['calculated-in-circle', 'formula-too-long']),
    ),
  );
  expect(time).toBeLessThan(2000);
});

it('recipes that take rows from recipes end, however many of them take how many', () => {
  const take = { step: 'take' as const, from: { model: model.name, entity: 'hut' } };
  const taking = (inner: number): Recipe => ({
    id: `of-${inner + 1}`,
    name: 'Stacked',
    steps: [
      take,
      ...Array.from({ length: inner < 0 ? 0 : 4 }, () => ({
        step: 'stack' as const,
        from: { recipe: `of-${inner}` },
      })),
    ],
  });
  const recipes = Array.from({ length: 11 }, (_, i) => taking(i - 1));
  const context = {
    models: [model],
    recipe: (id: string) => recipes.find((r) => r.id === id) ?? null,
    queries: [],
    parameters: [],
  };
  const time = cpuTime(() => {
    const codes = planRecipe(taking(10), context).problems.map((p) => p.code);
    expect(codes).toContain('too-many-recipes');
    expect(planRecipe(taking(1), context).problems).toEqual([]);
  });
  expect(time).toBeLessThan(1000);
});
