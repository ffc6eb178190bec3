import { describe, expect, it } from 'vitest';
import { reportSchema } from '../definition/schema.ts';
import type { Model } from '../model/model.ts';
import { problemText } from '../problems/problem.ts';
import { planReport } from './plan.ts';
import { ROW_NUMBER, reportModel } from './report-model.ts';
import { rowsSignature } from './signature.ts';

const models: Model[] = [
  {
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
        relations: [{ name: 'stays', label: 'Stays', to: 'stay', kind: 'many', on: [{ here: 'id', there: 'hut_id' }] }],
      },
      {
        name: 'stay',
        label: 'Stay',
        plural: 'Stays',
        key: 'id',
        fields: [
          { name: 'id', label: 'Id', type: 'number' },
          { name: 'hut_id', label: 'Hut', type: 'number', hidden: true },
          { name: 'nights', label: 'Nights', type: 'number' },
        ],
        relations: [],
      },
    ],
  },
  {
    name: 'files',
    label: 'F',
    entities: [
      {
        name: 'snow',
        label: 'Snow',
        plural: 'Snow',
        key: 'row',
        fields: [
          { name: 'row', label: '', type: 'number', hidden: true },
          { name: 'hut', label: 'Hut', type: 'text' },
          { name: 'depth', label: 'Depth', type: 'number' },
        ],
        relations: [],
      },
    ],
  },
];

const queries = [
  {
    name: 'big',
    steps: [
      { step: 'take', from: { model: 'm', entity: 'hut' } },
      { step: 'keep', where: { field: 'id', is: 'greater', to: { value: 3 } } },
    ],
  },
  {
    name: 'snow',
    steps: [
      { step: 'take', from: { model: 'files', entity: 'snow' } },
      { step: 'sort', by: [{ field: 'depth', descending: true }] },
    ],
  },
];
const relations = [{ name: 'snow', from: 'big', to: 'snow', kind: 'many', on: [{ here: 'name', there: 'hut' }] }];
const report = (more: object) => reportSchema.parse({ gaveta: 2, name: 'r', model: 'm', queries, relations, ...more });
const problems = (more: object) => reportModel(report(more), { models }).problems.map(problemText).join(' ');

describe('the model of a report', () => {
  it('has its queries as entities, with relations that still lead on', () => {
    const { model } = reportModel(report({}), { models });
    const entity = (name: string) => model!.entities.find((e) => e.name === name)!;
    expect(entity('big').relations.map((r) => r.name)).toEqual(['stays', 'snow']);
    expect(entity('big').key).toBe('id');
    expect(entity('snow').key).toBe(ROW_NUMBER);
    expect(models[0]!.entities).toHaveLength(2);
  });
  it('says what is wrong with queries and relations, and where', () => {
    expect(problems({})).toBe('');
    expect(problems({ queries: [{ ...queries[0], name: 'hut' }], relations: [] })).toContain(
      'a table or query “hut” already',
    );
    expect(problems({ queries: [{ name: 'q', recipe: 'gone' }], relations: [] })).toContain('no recipe “gone”');
    expect(problems({ relations: [{ ...relations[0], to: 'snwo' }] })).toContain('Did you mean snow?');
    expect(problems({ relations: [{ ...relations[0], on: [{ here: 'nam', there: 'hut' }] }] })).toContain(
      'Did you mean name?',
    );
    expect(problems({ relations: [{ ...relations[0], on: [{ here: 'id', there: 'hut' }] }] })).toContain('never equal');
  });
  it('is there without a data model, out of queries alone', () => {
    const alone = report({
      model: undefined,
      queries: [queries[1]],
      relations: [],
      body: [
        {
          id: 'b',
          name: 'b',
          rows: { entity: 'snow' },
          detail: {
            height: 5,
            items: [{ kind: 'field', id: 'f', x: 0, y: 0, width: 20, height: 5, formula: 'depth' }],
          },
        },
      ],
    });
    expect(planReport(alone, { models, report: () => null }).problems).toEqual([]);
    expect(
      reportModel(report({ model: undefined, queries: undefined, relations: undefined }), { models }).model,
    ).toBeNull();
  });
});

it('asks for other rows when a query changes, and for the same when looks do', () => {
  const body = {
    id: 'b',
    name: 'b',
    rows: { entity: 'big' },
    detail: { height: 5, items: [{ kind: 'field', id: 'f', x: 0, y: 0, width: 20, height: 5, formula: 'name' }] },
  };
  const signature = (more: object) =>
    rowsSignature(planReport(report({ body: [body], ...more }), { models, report: () => null }), {});
  const before = signature({});
  expect(signature({ styles: { Big: { size: 20 } } })).toBe(before);
  expect(signature({ queries: [{ ...queries[0], steps: [queries[0]!.steps[0]] }, queries[1]] })).not.toBe(before);
});
