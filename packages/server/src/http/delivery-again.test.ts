import { expect, test } from 'vitest';
import { deliveringHost, delivery, EACH_REGION, OFFICE } from './deliveries.test-support.ts';

const { opened, ask } = deliveringHost({ waits: [0.2, 0.4] });

const created = async (definition: object): Promise<string> =>
  (await ask(OFFICE, 'post', '/deliveries', { definition })).body.id;
const runOf = async (run: string) => (await ask(OFFICE, 'get', `/delivery-runs/${run}`)).body;

test('what a receiver cannot take now is sent again after a while, and is the same for it', async () => {
  opened.places.answer.status = 503;
  const id = await created(delivery({ to: [{ kind: 'address', name: 'intake' }] }));
  const { body } = await ask(OFFICE, 'post', `/deliveries/${id}/runs`);
  await expect.poll(() => opened.places.posted.length, { timeout: 60_000 }).toBe(1);
  opened.places.answer.status = 200;
  await expect.poll(async () => (await runOf(body.id)).state, { timeout: 60_000 }).toBe('done');
  const ids = opened.places.posted.map(({ headers }) => headers['webhook-id']);
  expect(ids).toHaveLength(2);
  expect(new Set(ids).size).toBe(1);
  expect((await runOf(body.id)).contents[0].parts[0]).toMatchObject({ tries: 2, said: null });
});

test('it is tried so many times and no more; what the receiver refuses for good is not tried again', async () => {
  const tries = async (status: number): Promise<number> => {
    opened.places.posted.length = 0;
    opened.places.answer.status = status;
    const id = await created(delivery({ to: [{ kind: 'address', name: 'intake' }] }));
    const { body } = await ask(OFFICE, 'post', `/deliveries/${id}/runs`);
    await expect.poll(async () => (await runOf(body.id)).state, { timeout: 60_000 }).toBe('failed');
    return opened.places.posted.length;
  };
  expect(await tries(503)).toBe(3);
  expect(await tries(410)).toBe(1);
});

test('a run that is cancelled sends no more', async () => {
  opened.places.answer.status = 503;
  const id = await created(delivery({ to: [{ kind: 'address', name: 'intake' }] }));
  const { body } = await ask(OFFICE, 'post', `/deliveries/${id}/runs`);
  await expect
    .poll(async () => (await runOf(body.id)).contents?.[0]?.parts[0].said?.code, { timeout: 60_000, interval: 20 })
    .toBe('delivery-not-sent');
  await ask(OFFICE, 'delete', `/delivery-runs/${body.id}`);
  await expect.poll(async () => (await runOf(body.id)).endedAt, { timeout: 60_000 }).not.toBeNull();
  const sent = opened.places.posted.length;
  expect(['cancelled', 'failed']).toContain((await runOf(body.id)).state);
  expect(opened.places.posted.length).toBe(sent);
});

test('rows that appear let it go: the first ones, or each further one', async () => {
  const inRegion = (name: string): object => ({
    steps: [...EACH_REGION.steps, { step: 'keep', where: { field: 'name', is: 'equal', to: { value: name } } }],
  });
  const waiting = (name: string, again: string): object =>
    delivery({ when: { kind: 'rows', again, ...inRegion(name) } });
  const mails = () => opened.places.outbox.mails().length;
  const looked = async (id: string): Promise<void> => {
    const before = (await ask(OFFICE, 'get', `/deliveries/${id}`)).body.nextAt;
    await ask(OFFICE, 'put', `/deliveries/${id}/state`, { state: 'on' });
    await expect
      .poll(async () => Date.parse((await ask(OFFICE, 'get', `/deliveries/${id}`)).body.nextAt), { timeout: 60_000 })
      .toBeGreaterThan(Math.max(Date.parse(before), Date.now()));
  };
  const none = await created(waiting('Nowhere', 'first'));
  const some = await created(waiting('Encosta Sul', 'first'));
  await expect.poll(mails, { timeout: 60_000 }).toBe(1);
  await looked(none);
  await looked(some);
  expect((await ask(OFFICE, 'get', `/deliveries/${none}/runs`)).body).toEqual([]);
  // They are there still, so nothing new came.
  expect((await ask(OFFICE, 'get', `/deliveries/${some}/runs`)).body).toMatchObject([{ why: 'rows', state: 'done' }]);
  expect(mails()).toBe(1);
});

test('an empty report goes nowhere where that is wished', async () => {
  const id = await created(delivery({ onlyWithRows: true, values: { region: 'Nowhere' } }));
  const { body } = await ask(OFFICE, 'post', `/deliveries/${id}/runs`);
  await expect.poll(async () => (await runOf(body.id)).state, { timeout: 60_000 }).toBe('nothing');
  expect(opened.places.outbox.mails()).toEqual([]);
});
