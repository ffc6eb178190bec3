import type { Recipe, Step, StepOf } from '../definition/recipe.ts';
import { type Parameter, parameterSchema } from '../definition/schema.ts';
import type { Model } from '../model/model.ts';
import { problemText } from '../problems/problem.ts';
import { planRecipe } from './plan.ts';

/** Stays of huts with charges, as recipes take them. */
export const models: Model[] = [
  {
    name: 'm',
    label: 'M',
    entities: [
      {
        name: 'stay',
        label: 'Stay',
        plural: 'Stays',
        key: 'id',
        fields: [
          { name: 'id', label: 'Number', type: 'number' },
          { name: 'hut_id', label: 'Hut', type: 'number', hidden: true },
          { name: 'status', label: 'Status', type: 'text' },
          { name: 'nights', label: 'Nights', type: 'number', format: '0' },
          { name: 'arrival', label: 'Arrival', type: 'date' },
          { name: 'booked', label: 'Booked', type: 'datetime' },
          { name: 'paid', label: 'Paid', type: 'boolean' },
          { name: 'photo', label: 'Photo', type: 'picture' },
        ],
        relations: [
          { name: 'hut', label: 'Hut', to: 'hut', kind: 'one', on: [{ here: 'hut_id', there: 'id' }] },
          { name: 'charges', label: 'Charges', to: 'charge', kind: 'many', on: [{ here: 'id', there: 'stay_id' }] },
        ],
      },
      {
        name: 'hut',
        label: 'Hut',
        plural: 'Huts',
        key: 'id',
        fields: [
          { name: 'id', label: 'Number', type: 'number', hidden: true },
          { name: 'region_id', label: 'Region', type: 'number', hidden: true },
          { name: 'name', label: 'Name', type: 'text' },
        ],
        relations: [
          { name: 'region', label: 'Region', to: 'region', kind: 'one', on: [{ here: 'region_id', there: 'id' }] },
        ],
      },
      {
        name: 'region',
        label: 'Region',
        plural: 'Regions',
        key: 'id',
        fields: [
          { name: 'id', label: 'Id', type: 'number', hidden: true },
          { name: 'name', label: 'Name', type: 'text' },
        ],
        relations: [],
      },
      {
        name: 'charge',
        label: 'Charge',
        plural: 'Charges',
        key: 'id',
        fields: [
          { name: 'id', label: 'Id', type: 'number' },
          { name: 'stay_id', label: 'Stay', type: 'number', hidden: true },
          { name: 'amount', label: 'Amount', type: 'number' },
        ],
        relations: [],
      },
      {
        name: 'between',
        label: 'Between',
        plural: 'Between',
        key: 'id',
        fields: [{ name: 'id', label: 'Id', type: 'number' }],
        relations: [],
        arguments: [{ name: 'first', label: 'First day', type: 'date' }],
      },
    ],
  },
];

export const parameters: Parameter[] = [
  parameterSchema.parse({ name: 'season', label: 'Season', type: 'dates' }),
  parameterSchema.parse({ name: 'shift', label: 'Shift', type: 'window' }),
  parameterSchema.parse({ name: 'kinds', label: 'Kinds', type: 'choices' }),
  parameterSchema.parse({ name: 'wanted', label: 'Wanted', type: 'text' }),
];

export const take: StepOf<'take'> = { step: 'take', from: { model: 'm', entity: 'stay' } };
export const plan = (steps: Step[], shared: Recipe[] = []) =>
  planRecipe(
    { name: 'r', steps },
    { models, recipe: (id) => shared.find((r) => r.id === id) ?? null, queries: [], parameters },
  );
export const names = (steps: Step[]): string[] =>
  plan(steps)
    .fields.filter((f) => !f.hidden)
    .map((f) => f.name);
export const said = (steps: Step[], shared: Recipe[] = []): string =>
  plan(steps, shared).problems.map(problemText).join(' ');
