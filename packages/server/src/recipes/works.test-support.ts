import type { PGlite } from '@electric-sql/pglite';
import {
  type Parameter,
  parameterSchema,
  planRecipe,
  type RecipeContext,
  readParameters,
  type Step,
} from '@gaveta/core/internal';
import { expect } from 'vitest';
import type { Claims } from '../access/claims.ts';
import type { Connection } from '../connection/connection.ts';
import { pgliteConnection } from '../connection/pglite.ts';
import { openBlank } from '../embedded/blank.test-support.ts';
import { defineModel, type RegisteredModel } from '../model/define.ts';
import { number, text } from '../model/fields.test-support.ts';
import { streamConnection } from '../sources/stream.ts';
import { openBench } from '../staging/bench.test-support.ts';
import type { Workbench } from '../staging/workbench.ts';
import { type DeskOptions, RecipeDesk } from './desk.ts';

export const office: Claims = { role: 'office' };
export const works = defineModel({
  name: 'works',
  label: 'Works',
  connection: 'main',
  entities: {
    hut: {
      label: 'Hut',
      plural: 'Huts',
      key: 'id',
      scope: (claims) => (claims.role === 'office' ? 'everything' : { keep: 'region = CLAIM("region")' }),
      fields: { id: { ...number, hidden: true }, name: text, region: text, secret: { ...text, hidden: true } },
      relations: { stays: { label: 'Stays', to: 'stay', kind: 'many', on: { id: 'hut_id' } } },
    },
    stay: {
      label: 'Stay',
      plural: 'Stays',
      key: 'id',
      scope: (claims) => (claims.role === 'office' ? 'everything' : { keep: 'hut.region = CLAIM("region")' }),
      fields: {
        id: number,
        hut_id: { ...number, hidden: true },
        arrival: { label: 'Arrival', type: 'date' },
        nights: number,
        rate: number,
        cost: { label: 'Cost', type: 'number', formula: 'nights * rate' },
      },
      relations: { hut: { label: 'Hut', to: 'hut', kind: 'one', on: { hut_id: 'id' } } },
    },
    reading: {
      label: 'Reading',
      plural: 'Readings',
      key: 'logged_at',
      table: 'signal_log',
      readings: { name: 'signal', value: 'value', columns: { wind: 'wind', snow: 'snow depth' } },
      fields: { logged_at: { label: 'At', type: 'datetime' }, hut_id: number, wind: number, snow: number },
    },
    stays_from: {
      label: 'Stays from',
      plural: 'Stays from',
      key: 'id',
      function: { name: 'stays_from', arguments: { first_day: { label: 'First day', type: 'date' } } },
      fields: { id: number, nights: number },
    },
  },
});

export const tariffs = defineModel({
  name: 'tariffs',
  label: 'Tariffs',
  connection: 'host',
  entities: {
    tariff: {
      label: 'Tariff',
      plural: 'Tariffs',
      key: 'year',
      fields: { year: number, region: text, tax: number },
      scope: (claims) => (claims.role === 'office' ? 'everything' : { keep: 'region = CLAIM("region")' }),
    },
  },
});

let database: PGlite;
let workbench: Workbench;
/** The database of the works, and the workbench, as they are while tests run. */
export const opened = () => ({ database, workbench });

export const openWorks = async (): Promise<void> => {
  database = await openBlank();
  workbench = openBench();
  await database.exec(`
    create table hut (id int primary key, name text, region text, secret text);
    create table stay (id int primary key, hut_id int, arrival date, nights int, rate numeric(10,2));
    create table signal_log (logged_at timestamptz, hut_id int, signal text, value numeric);
    create function stays_from(first_day date) returns setof stay language sql stable as 'select * from stay where arrival >= first_day';
    insert into hut values (1, 'Zé', 'North', 'x'), (2, 'Ábaco', 'North', 'y'), (3, 'Empty', 'South', 'z');
    insert into stay values (1, 1, '2025-06-30', 2, 10.50), (2, 1, '2025-07-01', 3, 10), (3, 2, '2025-07-15', 1, null),
      (4, 2, '2025-08-01', 5, 0.10), (5, null, '2025-08-02', 7, 1);
    insert into signal_log values ('2025-07-01 10:00+00', 1, 'wind', 40), ('2025-07-01 10:00+00', 1, 'snow depth', 0),
      ('2025-07-01 10:10+00', 1, 'wind', 55), ('2025-07-01 10:00+00', 2, 'wind', 12);
  `);
};
export const closeWorks = async (): Promise<void> => {
  await workbench.close();
  await database.close();
};

export const parameters: Parameter[] = [
  parameterSchema.parse({ name: 'season', label: 'Season', type: 'dates' }),
  parameterSchema.parse({ name: 'regions', label: 'Regions', type: 'choices' }),
];

export const context: RecipeContext = {
  models: [works.model, tariffs.model],
  recipe: () => null,
  queries: [],
  parameters,
};

export const open = async (steps: Step[], claims = office, given = {}, more: Partial<DeskOptions> = {}) => {
  const recipe = planRecipe({ name: 'test', steps }, context);
  const report = { name: 'test', language: 'en', timeZone: 'UTC', parameters };
  const desk = await RecipeDesk.open([recipe], {
    models: new Map<string, RegisteredModel>([
      ['works', works],
      ['tariffs', tariffs],
    ]),
    connections: new Map<string, Connection>([
      ['main', pgliteConnection(database)],
      [
        'host',
        streamConnection({
          async *tariff() {
            yield { year: 2024, region: 'North', tax: 0.1 };
            yield { year: 2025, region: 'North', tax: '0.25' };
            yield { year: 2025, region: 'South', tax: null };
          },
        }),
      ],
    ]),
    claims,
    workbench: () => workbench,
    report,
    values: readParameters(report, given).values,
    ...more,
  });
  return { recipe, desk };
};

export const rowsOf = async (steps: Step[], claims?: Claims, given?: object) => {
  const { recipe, desk } = await open(steps, claims, given);
  expect(recipe.problems).toEqual([]);
  const { rows, fields, sql } = await desk.rows(recipe, 100);
  await desk.close();
  return { rows, names: fields.map((f) => f.name), sql };
};

export const stays: Step = { step: 'take', from: { model: 'works', entity: 'stay' } };
export const withHut: Step = { step: 'bring', relation: 'hut', keep: 'here', as: 'hut' };
