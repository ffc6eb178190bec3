import { drawerEntities, type Model, type Report, reportSchema } from '@gaveta/core/internal';

const pair = [{ here: 'id', there: 'hut_id' }];
/** Huts with their stays and flights. */
export const model: Model = {
  name: 'office',
  label: 'Office',
  entities: [
    {
      name: 'hut',
      label: 'Hut',
      plural: 'Huts',
      key: 'id',
      fields: [
        { name: 'id', label: 'Number', type: 'number' },
        { name: 'name', label: 'Name', type: 'text' },
        { name: 'secret', label: 'Secret', type: 'text', hidden: true },
      ],
      relations: [
        { name: 'stays', label: 'Stays', to: 'stay', kind: 'many', on: pair },
        { name: 'flights', label: 'Flights', to: 'flight', kind: 'many', on: pair },
      ],
    },
    {
      name: 'stay',
      label: 'Stay',
      plural: 'Stays',
      key: 'id',
      fields: [
        { name: 'id', label: 'Number', type: 'number' },
        { name: 'hut_id', label: 'Hut number', type: 'number' },
        { name: 'arrival', label: 'Arrival', type: 'date' },
        { name: 'status', label: 'Status', type: 'text', choices: [{ value: 'paid', label: 'Paid' }] },
      ],
      relations: [{ name: 'home', label: 'Home', to: 'hut', kind: 'one', on: [{ here: 'hut_id', there: 'id' }] }],
    },
    {
      name: 'flight',
      label: 'Flight',
      plural: 'Flights',
      key: 'id',
      fields: [
        { name: 'id', label: 'Number', type: 'number' },
        { name: 'hut_id', label: 'Hut number', type: 'number' },
      ],
      relations: [],
    },
  ],
};
/** Stays of each hut, filtered, sorted and grouped; nothing stands in its bands yet. */
export const report: Report = reportSchema.parse({
  gaveta: 2,
  name: 'Huts',
  model: 'office',
  parameters: [{ name: 'season', label: 'Season', type: 'number' }],
  header: { height: 10, items: [] },
  body: [
    {
      id: 'huts',
      name: 'hut',
      rows: { entity: 'hut' },
      detail: { height: 8, items: [] },
      drawers: [
        {
          id: 'stays',
          name: 'stay',
          rows: { relation: 'stays' },
          filter: 'status = "paid"',
          sort: [{ by: 'arrival', descending: true }],
          groups: [{ name: 'by_arrival', by: 'arrival', per: 'month' }],
          first: 5,
          detail: { height: 6, items: [] },
        },
      ],
    },
  ],
});
export const entities = drawerEntities(report, model);
export const origin = { connection: 'office', kind: 'database' as const, made: 'code' as const };
export const context = { models: [model], report: () => null };

/** Stays that were paid for. */
export const recipe = {
  id: 'r1',
  name: 'Paid stays',
  steps: [{ step: 'take' as const, from: { model: 'office', entity: 'stay' } }],
  parameters: [],
  revision: 1,
  changedAt: '',
  changedBy: '',
};
