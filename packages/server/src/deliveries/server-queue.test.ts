import { afterAll, beforeAll, expect, test } from 'vitest';
import { startPostgres, type TestServer } from '../connection/server.test-support.ts';
import type { Gaveta } from '../gaveta.ts';
import { EACH_REGION, openPlaces, type Places, REGIONS } from '../http/deliveries.test-support.ts';
import { demoDatabase, gavetaOver } from '../services/huts.test-support.ts';

let server: TestServer;
let places: Places;
let both: Gaveta[] = [];
beforeAll(async () => {
  server = await startPostgres();
  places = await openPlaces();
  const { host, port, user, password, database } = server;
  const store = `postgres://${user}:${encodeURIComponent(password)}@${host}:${port}/${database}`;
  for (let i = 0; i < 2; i++) {
    const options = { store, deliveries: places.options, log: (error: unknown) => expect(error).toBeNull() };
    both.push(await gavetaOver(await demoDatabase(), options));
  }
}, 120_000);
afterAll(async () => {
  for (const one of both) await one.close();
  both = [];
  await places.close();
  await server.stop();
});

test('two processes over one store share the work, and each mail arrives once', async () => {
  const [first, second] = both as [Gaveta, Gaveta];
  await first.reports.put('regions', REGIONS);
  const made = await first.store.deliveries.create(
    {
      ...{ gavetaDelivery: 1, name: 'Regions', report: 'regions', zip: false, onlyWithRows: false },
      values: { region: { formula: 'name' } },
      each: { ...(EACH_REGION as { steps: never[] }), rowsOf: 'owner' },
      files: [{ output: 'csv', options: {} }],
      when: { kind: 'event', name: 'closed' },
      to: [
        {
          ...{ kind: 'mail', subject: '{name}', words: '', together: false },
          to: ['a', 'b', 'c'].map((name) => ({ address: `${name}@cumeeira.example` })),
        },
      ],
    },
    {
      owner: 'Inês',
      groups: [],
      rights: ['view', 'manage', 'deliver'],
      claims: { role: 'office' },
      hostParameters: {},
    },
    null,
  );
  // Both are told, and it goes once for the key.
  const went = await Promise.all([first, second].map((one) => one.deliveries.event('closed', { key: '2026' })));
  expect(went.reduce((sum, one) => sum + one)).toBe(1);
  const runs = () => second.store.deliveryRuns.list(made.id, { count: 10 });
  await expect.poll(async () => (await runs())[0]?.state, { timeout: 60_000, interval: 300 }).toBe('done');
  expect(await runs()).toHaveLength(1);
  const sent = places.outbox.mails().map(({ subject, to }) => `${subject} ${to[0]}`);
  expect(sent).toHaveLength(12);
  expect(new Set(sent).size).toBe(12);
}, 120_000);
