import { describe, expect, it } from 'vitest';
import { readDefinition } from '../definition/read.ts';
import { problemText } from '../problems/problem.ts';
import { planRecipe } from '../recipe/plan.ts';
import { models } from '../recipe/stays.test-support.ts';
import { levelSteps } from './levels.ts';
import { reachOf } from './reach.ts';
import { sketchReport } from './report.ts';
import { type Sketch, sketchSchema } from './schema.ts';
import { sketchRows } from './steps.ts';

const context = { models, recipe: () => null, queries: [], parameters: [] };
const from = { model: 'm', entity: 'stay' };
const sketch = (more: Partial<Sketch>): Sketch =>
  sketchSchema.parse({
    sketch: 1,
    name: 'Nights',
    from,
    rows: false,
    columns: [],
    groups: [],
    only: [],
    order: [],
    ...more,
  });

const nights: Sketch['columns'][number] = { name: 'nights', field: 'nights', total: 'SUM' };
const charges: Sketch['columns'][number] = { name: 'charges', field: 'charges.amount', inner: 'SUM', total: 'SUM' };
const byHut = sketch({
  columns: [nights, charges, { name: 'per_night', ofLine: 'charges / nights' }],
  groups: [
    { name: 'region', field: 'hut.region.name' },
    { name: 'hut', field: 'hut.name' },
  ],
  order: [{ by: 'nights', descending: true }],
});

/** The lines of groups so deep, as planned, and what is wrong with them. */
const level = (of: Sketch, depth: number) => {
  const rows = sketchRows(of, context);
  const steps = [...rows.steps, ...levelSteps(of, rows, depth)];
  const planned = planRecipe({ name: 'level', steps }, { ...context, queries: rows.queries });
  expect([...rows.problems, ...planned.problems].map(problemText)).toEqual([]);
  return planned.fields.map((f) => f.name).filter((name) => !name.startsWith('lines_'));
};

describe('what a sketch reaches', () => {
  it('are its rows, others along relations to one row, and those of many right behind it', () => {
    expect(reachOf(from, context).map(({ way, of, isMany }) => [way.join('.'), of, isMany])).toEqual([
      ['', '', false],
      ['hut', 'Stay', false],
      ['charges', 'Stay', true],
      ['hut.region', 'Hut', false],
    ]);
  });

  it('is nothing where its table is gone', () => {
    expect(reachOf({ model: 'm', entity: 'gone' }, context)).toEqual([]);
  });
});

describe('lines of a sketch', () => {
  it('show groups, totals, also of many rows inside, and what is worked out of them', () => {
    expect(level(byHut, 1)).toEqual(['region', 'nights', 'charges', 'per_night']);
    expect(level(byHut, 2)).toEqual(['region', 'hut', 'nights', 'charges', 'per_night']);
  });

  it('show at the end what is wanted there', () => {
    const other = sketch({
      columns: [
        { ...nights, end: 'AVERAGE' },
        { ...charges, end: 'nothing' },
      ],
    });
    expect(level(other, 0)).toEqual(['nights']);
  });

  it('bring each way once, however many fields are taken from it, and in formulas too', () => {
    const { steps, problems } = sketchRows(
      sketch({
        columns: [{ name: 'where', formula: 'hut.name & " in " & hut.region.name' }],
        groups: [{ name: 'hut', field: 'hut.name' }],
        only: [{ field: 'hut.region.name', is: 'notEqual', to: { value: 'South' } }, { formula: 'nights > 2' }],
      }),
      context,
    );
    expect(problems).toEqual([]);
    expect(steps.map((step) => ('relation' in step ? step.relation : step.step))).toEqual([
      'take',
      'hut',
      'hut_region',
      'add',
      'keep',
    ]);
  });

  it('group dates by what they have in common', () => {
    const monthly = sketch({ columns: [nights], groups: [{ name: 'month', field: 'arrival', per: 'month' }] });
    expect(level(monthly, 1)).toEqual(['month', 'nights']);
  });

  it('say what is gone, and go on without it', () => {
    const { problems, columns } = sketchRows(
      sketch({ columns: [nights, { name: 'rooms', field: 'hut.rooms', total: 'SUM' }] }),
      context,
    );
    expect(problems.map(problemText)).toEqual([expect.stringContaining('“hut.rooms”')]);
    expect([...columns.keys()]).toEqual(['nights']);
  });

  it('never show what is hidden', () => {
    const { problems } = sketchRows(sketch({ columns: [{ name: 'key', field: 'hut_id' }] }), context);
    expect(problems).toHaveLength(1);
  });

  it('take the first groups out of those around', () => {
    const { queries, steps, problems } = sketchRows({ ...byHut, first: { of: 'hut', count: 5 } }, context);
    expect(problems.map(problemText)).toEqual([]);
    expect(queries).toHaveLength(1);
    expect(queries[0]!.steps!.filter((s) => s.step === 'first')).toEqual([
      { step: 'first', count: 5, per: ['region'] },
    ]);
    expect(steps.at(-1)).toMatchObject({ step: 'bring', keep: 'matching' });
  });
});

describe('the report of a sketch', () => {
  const made = (of: Sketch) => {
    const read = readDefinition(JSON.parse(JSON.stringify(sketchReport(of, context))));
    if (!read.ok) throw new Error(read.problems.map(problemText).join(' '));
    return read.report.body[0]!;
  };

  it('has a line for each group, with its totals', () => {
    const { groups = [], detail, footer } = made(byHut);
    expect(groups.map(({ name, order, descending }) => [name, order, descending])).toEqual([
      ['region', 'SUM(nights)', true],
      ['hut', 'SUM(nights)', true],
    ]);
    const formulas = groups[1]!.header!.items.map((item) => 'formula' in item && item.formula);
    expect(formulas).toEqual(['hut', 'SUM(nights)', 'SUM(charges)', '(SUM(charges)) / (SUM(nights))']);
    expect(detail).toBeUndefined();
    expect(footer!.items).toHaveLength(4);
  });

  it('lists rows where the sketch does, in its order', () => {
    const { detail, sort } = made(sketch({ ...byHut, rows: true }));
    expect(detail!.items.map((item) => 'formula' in item && item.formula)).toEqual([
      'nights',
      'charges',
      'charges / nights',
    ]);
    expect(sort).toEqual([{ by: 'nights', descending: true }]);
  });
});

it('says that a field of many rows neither groups nor keeps, instead of leaving it out', () => {
  const groups = [{ name: 'amount', field: 'charges.amount' }];
  const only: Sketch['only'] = [{ field: 'charges.amount', is: 'greater', to: { value: 1 } }];
  for (const more of [{ groups }, { only }])
    expect(sketchRows(sketch({ columns: [nights], ...more }), context).problems.map(({ data }) => data.name)).toEqual([
      'charges.amount',
    ]);
});

it('says which column or group is gone that something is kept by', () => {
  const about = { is: 'greater' as const, to: { value: 1 } };
  const gone = (...only: Sketch['only']) =>
    sketchRows({ ...byHut, only }, context).problems.map(({ data }) => data.name);
  expect(gone({ column: 'nights', ...about }, { column: 'per_night', of: 'hut', ...about })).toEqual([]);
  expect(gone({ column: 'rooms', ...about })).toEqual(['rooms']);
  // What is worked out on lines has nothing in a row.
  expect(gone({ column: 'per_night', ...about })).toEqual(['per_night']);
  expect(gone({ column: 'rooms', of: 'hut', ...about })).toEqual(['rooms']);
  expect(gone({ column: 'nights', of: 'tier', ...about })).toEqual(['tier']);
});
