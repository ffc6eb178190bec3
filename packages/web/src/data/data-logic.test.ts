import { type Field, planRecipe, planReport, readDefinition, type Step } from '@gaveta/core/internal';
import type { TFunction } from 'i18next';
import { describe, expect, it } from 'vitest';
import { seenAs } from './fields-of-row.ts';
import { layered } from './map-layout.ts';
import { nestRows } from './nest-rows.ts';
import { parameterFor } from './parameters/parameter-for.ts';
import { reportFromRecipe, reportFromRelation } from './report-from-recipe.ts';
import { sourceId, sourceOf } from './sources.ts';
import { newStep } from './step-rooms.ts';
import { conditionLines } from './step-words.ts';

const field = (name: string, type: Field['type'] = 'text'): Field => ({ name, label: name.toUpperCase(), type });

it('puts joined rows into one another again, those without a partner too', () => {
  const rows = [
    ['a', 1, 'x', 10],
    ['b', 2, null, null],
    ['a', 1, 'y', null],
  ];
  expect(nestRows(rows, 2)).toEqual([
    {
      row: ['a', 1],
      inner: [
        ['x', 10],
        ['y', null],
      ],
    },
    { row: ['b', 2], inner: [] },
  ]);
});

describe('the map of tables', () => {
  it('puts each table to the right of those it belongs to, and one model below the other', () => {
    const places = layered([
      [
        { id: 'stay', to: ['charge'] },
        { id: 'region', to: ['hut'] },
        { id: 'hut', to: ['stay'] },
        { id: 'charge', to: [] },
        { id: 'alone', to: [] },
      ],
      [{ id: 'other', to: [] }],
    ]);
    const x = (id: string) => places.get(id)!.x;
    expect(x('region')).toBeLessThan(x('hut'));
    expect(x('hut')).toBeLessThan(x('stay'));
    expect(x('stay')).toBeLessThan(x('charge'));
    expect(places.get('other')!.y).toBeGreaterThan(places.get('alone')!.y);
    expect(new Set([...places.values()].map((p) => `${p.x} ${p.y}`)).size).toBe(6);
  });
  it('comes to an end where relations run in a circle', () => {
    const places = layered([
      [
        { id: 'a', to: ['b', 'a'] },
        { id: 'b', to: ['a'] },
      ],
    ]);
    expect(places.size).toBe(2);
  });
});

describe('a report made from rows', () => {
  const models = [
    {
      name: 'm',
      label: 'M',
      entities: [
        {
          name: 'hut',
          label: 'Hut',
          plural: 'Huts',
          key: 'id',
          fields: [field('id', 'number'), field('name'), { ...field('photo', 'picture') }],
          relations: [],
        },
        {
          name: 'snow',
          label: 'Snow',
          plural: 'Snow',
          key: 'hut',
          fields: [field('hut'), field('depth', 'number')],
          relations: [],
        },
      ],
    },
  ];
  const recipe = {
    id: 'r1',
    name: 'Huts',
    steps: [{ step: 'take', from: { model: 'm', entity: 'hut' } } as Step],
    parameters: [],
  };
  const problems = (report: unknown) => {
    const read = readDefinition(report);
    expect(read.ok).toBe(true);
    return read.ok
      ? planReport(read.report, { models, report: () => null, recipe: (id) => (id === 'r1' ? recipe : null) }).problems
      : [];
  };
  it('has a column for each field that fits on its page, and no problems', () => {
    const report = reportFromRecipe('r1', recipe, models[0]!.entities[0]!.fields);
    expect(problems(report)).toEqual([]);
    expect(report.body[0]!.detail!.items.map((i) => (i.kind === 'field' ? i.formula : ''))).toEqual(['id', 'name']);
  });
  it('nests the rows of one source in those of another', () => {
    const [hut, snow] = models[0]!.entities;
    const report = reportFromRelation(
      { from: { model: 'm', entity: 'hut' }, label: 'Huts', fields: hut!.fields },
      { from: { model: 'm', entity: 'snow' }, label: 'Huts', fields: snow!.fields },
      [{ here: 'name', there: 'hut' }],
    );
    expect(problems(report)).toEqual([]);
    expect(report.queries!.map((q) => q.name)).toEqual(['huts', 'huts_2']);
    expect(report.body[0]!.drawers![0]!.rows).toEqual({ relation: 'huts_2' });
  });
  it('starts steps so that they work at once', () => {
    const steps: Step[] = [{ step: 'take', from: { model: 'm', entity: 'snow' } }];
    const context = { models, recipe: () => null, queries: [], parameters: [] };
    const planned = planRecipe({ name: 'x', steps }, context);
    const t = ((key: string) => key) as TFunction;
    for (const kind of ['keep', 'add', 'summarise', 'sort', 'first', 'distinct', 'split', 'stack'] as const) {
      const made = newStep(kind, { planned, fields: planned.fields, relations: planned.relations, model: 'm', t });
      expect(planRecipe({ name: 'x', steps: [...steps, made] }, context).problems, kind).toEqual([]);
    }
  });
});

it('asks for a field by a parameter of its type', () => {
  const made = (name: string, type: Field['type'], is: string, home = false) => {
    const found = parameterFor(field(name, type), is, home ? { rows: 'hut', value: 'name' } : null, []);
    const own = home && !name.includes('.') ? `hut_${name}` : name.replace('.', '_');
    expect([found.name, found.label]).toEqual([own, name.toUpperCase()]);
    return [found.type, found.of, found.choicesFrom?.rows];
  };
  expect(made('d', 'date', 'within')).toEqual(['dates', undefined, undefined]);
  expect(made('d', 'datetime', 'within')).toEqual(['window', undefined, undefined]);
  expect(made('n', 'number', 'oneOf', true)).toEqual(['choices', 'number', 'hut']);
  expect(made('n', 'number', 'greater', true)).toEqual(['number', undefined, undefined]);
  expect(made('t', 'text', 'equal')).toEqual(['text', undefined, undefined]);
  expect(made('hut.t', 'text', 'equal', true)).toEqual(['choice', undefined, 'hut']);
  expect(parameterFor(field('a.b'), 'equal', null, [{ name: 'a_b' } as never]).name).toBe('a_b2');
});

it('names sources so that they are found again', () => {
  for (const source of [{ model: 'm', entity: 'hut' }, { recipe: 'a b' }])
    expect(sourceOf(sourceId(source))).toEqual(source);
});

it('says conditions line by line, with and and or between them', () => {
  const t = ((key: string) => key) as never;
  const lines = conditionLines(
    {
      all: [
        { field: 'name', is: 'equal', to: { value: 'x' } },
        {
          any: [
            { field: 'n', is: 'blank' },
            { field: 'n', is: 'greater', to: { parameter: 'p' } },
          ],
        },
      ],
    },
    { t, fields: [field('name'), field('n', 'number')], parameters: [], source: () => '' },
  );
  expect(lines).toEqual([
    [{ field: 'NAME' }, 'data.is_equal', { field: 'x' }, 'data.and'],
    [{ field: 'N' }, 'data.is_blank', 'data.or'],
    [{ field: 'N' }, 'data.is_greater', { parameter: 'p' }],
  ]);
});

it('takes a formula with fields as people see them', () => {
  const fields = [
    { ...field('unit_price', 'number'), label: 'Unit price' },
    { ...field('region.name'), label: 'Region: Name' },
    { ...field('secret'), label: 'Secret', hidden: true },
  ];
  expect(seenAs('Unit price * 2', fields)).toBe('unit_price * 2');
  expect(seenAs('Region: Name = "Unit price"', fields)).toBe('region.name = "Unit price"');
  expect(seenAs('Secret', fields)).toBe('Secret');
});
