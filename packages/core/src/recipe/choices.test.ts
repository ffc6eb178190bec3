import { describe, expect, it } from 'vitest';
import { planReport } from '../data/plan.ts';
import { entityOf, hutDrawer, modelOf, reportOf } from '../data/plans.test-support.ts';
import { followersOf, namesIn } from '../model/followers.ts';
import type { Relation } from '../model/model.ts';
import { planChoices } from './choices.ts';

const one = (name: string, to: string, here: string): Relation => ({
  name,
  label: name,
  to,
  kind: 'one',
  on: [{ here, there: 'id' }],
});
const model = modelOf(
  entityOf('hut', { id: 'number', name: 'text', region_id: 'number' }, [one('region', 'region', 'region_id')]),
  entityOf('region', { id: 'number', name: 'text', land_id: 'number' }, [one('land', 'land', 'land_id')]),
  entityOf('land', { id: 'number', name: 'text' }),
);
const context = { models: [model], recipe: () => null, queries: [], parameters: [] };

/** A report whose parameter `hut` follows its parameter `region`. */
const report = (choicesFrom: object) =>
  reportOf({
    parameters: [
      { name: 'region', label: 'Region', type: 'choice', choicesFrom: { rows: 'region', value: 'name' } },
      { name: 'hut', label: 'Hut', type: 'choice', of: 'number', choicesFrom },
    ],
    body: [hutDrawer({})],
  });

const planned = (choicesFrom: object) => {
  const made = report(choicesFrom);
  return planChoices(made, made.parameters[1]!, { ...context, parameters: made.parameters });
};

describe('choices out of rows', () => {
  it('reach fields of related rows, however far away, in conditions, values and words', () => {
    const { recipe, problems } = planned({
      rows: 'hut',
      value: 'id',
      label: 'name & ", " & region.land.name',
      where: 'OR(ISBLANK(parameters.region); region.name = parameters.region)',
    });
    expect(problems).toEqual([]);
    expect(recipe.fields.map(({ name, type }) => [name, type])).toEqual([
      ['choice_value', 'number'],
      ['choice_label', 'text'],
    ]);
    expect(recipe.steps.filter(({ operation }) => operation?.kind === 'bring').length).toBe(2);
  });

  it.each<[string, object]>([
    ['rows', { rows: 'lodge', value: 'id' }],
    ['value', { rows: 'hut', value: 'number' }],
    ['label', { rows: 'hut', value: 'id', label: 'region.title' }],
    ['where', { rows: 'hut', value: 'id', where: 'region = 1 +' }],
    ['where', { rows: 'hut', value: 'id', where: 'name' }],
  ])('say what is wrong with them where the report is made: %s', (part, choicesFrom) => {
    expect(planned(choicesFrom).problems[0]!.part).toBe(part);
    const { problems } = planReport(report(choicesFrom), { models: [model], report: () => null });
    expect(problems.map(({ place }) => place.path)).toContain(`parameters/1/choicesFrom/${part}`);
  });

  it('follow the parameters that their condition reads', () => {
    const follows = (where: string) =>
      followersOf(report({ rows: 'hut', value: 'id', where }).parameters, 'region').map(({ name }) => name);
    expect(follows('region.name = parameters.region')).toEqual(['hut']);
    expect(follows('name = "region"')).toEqual([]);
    expect(namesIn('a + SUM(b.c) & "d"')).toEqual(['a', 'b.c']);
    expect(namesIn('1 +')).toEqual([]);
  });
});
