import { readDefinition } from '@gaveta/core/internal';
import { createGaveta } from '../gaveta.ts';
import { defineModel } from '../model/define.ts';
import { streamConnection } from '../sources/stream.ts';

/**
 * A process with a store of its own that delivers to each guest their part, until it is killed. It begins a delivery where none is
 * under way, and tells when one is over.
 */
const [, , store = '', outbox = '', many = '20'] = process.argv;
const GUESTS = Array.from({ length: Number(many) }, (_, i) => ({ id: i + 1, name: `guest${i + 1}` }));

const model = defineModel({
  name: 'guests',
  label: 'Guests',
  connection: 'guests',
  entities: {
    guest: {
      label: 'Guest',
      plural: 'Guests',
      key: 'id',
      fields: { id: { label: 'Id', type: 'number' }, name: { label: 'Name', type: 'text' } },
    },
  },
});
const gaveta = await createGaveta({
  store,
  models: [model],
  connections: {
    guests: streamConnection({
      async *guest() {
        yield* GUESTS;
      },
    }),
  },
  secret: 'a secret of at least thirty-two letters',
  web: false,
  firstPages: false,
  deliveries: { mail: { server: outbox, from: 'Reports <reports@cumeeira.example>' }, waits: [1, 1, 1] },
});
const read = readDefinition({
  gaveta: 2,
  name: 'Guests',
  model: 'guests',
  parameters: [{ name: 'who', label: 'Who', type: 'text' }],
  body: [
    {
      id: 'g',
      name: 'guest',
      rows: { entity: 'guest' },
      filter: 'name = parameters.who',
      detail: {
        height: 5,
        items: [{ kind: 'field', id: 'f', x: 0, y: 0, width: 60, height: 5, formula: 'name' }],
      },
    },
  ],
});
if (!read.ok) throw new Error(JSON.stringify(read.problems));
if (!(await gaveta.store.get('guests'))) await gaveta.store.create(read.report, 'test', 'guests');

const { deliveries, deliveryRuns } = gaveta.store;
const owner = {
  owner: 'Inês',
  groups: [],
  rights: ['view', 'manage', 'deliver'] as never,
  claims: {},
  hostParameters: {},
};
/** What all deliveries came to; null while one of them has not gone or is under way. */
const over = async (): Promise<string | null> => {
  const all = await deliveries.list({});
  const runs = await deliveryRuns.lastOf(all.map(({ id }) => id));
  if (runs.length < all.length || runs.some(({ endedAt }) => endedAt === null)) return null;
  return [...new Set(runs.map(({ state }) => state))].join() || 'none';
};
if ((await over()) !== null) {
  // It is due at once, and stands in the store before anything is sent.
  const now = new Date(Date.now() - 60_000).toISOString();
  const made = await deliveries.create(
    {
      ...{ gavetaDelivery: 1, name: 'Guests', report: 'guests', values: { who: { formula: 'name' } }, zip: false },
      each: { steps: [{ step: 'take', from: { model: 'guests', entity: 'guest' } }], rowsOf: 'owner' },
      ...{ files: [{ output: 'csv', options: {} }], onlyWithRows: false },
      when: { kind: 'once', day: now.slice(0, 10), time: now.slice(11, 16), zone: 'UTC' },
      to: [
        {
          ...{ kind: 'mail', to: [{ address: 'all@cumeeira.example' }], together: false },
          ...{ subject: `{name} of ${process.pid}`, words: '' },
        },
      ],
    },
    owner,
    Date.parse(now.slice(0, 16)),
  );
  process.send!({ begun: made.id, subjects: GUESTS.map(({ name }) => `${name} of ${process.pid}`) });
}
process.send!({ ready: true });
for (;;) {
  const came = await over();
  if (came !== null) {
    process.send!({ over: came });
    break;
  }
  await new Promise((resolve) => setTimeout(resolve, 50));
}
