import { type Delivery, deliverySchema, nextTimes, type When } from '@gaveta/core/internal';
import { afterEach, beforeEach, expect, test } from 'vitest';
import { LIMITS } from '../base/limits.ts';
import { openBlank } from '../embedded/blank.test-support.ts';
import { openStore, type Store } from '../store/store.ts';
import type { Clock } from './clock.ts';
import { Deliveries, type DeliveryParts } from './deliveries.ts';
import type { WorkQueue } from './queue.ts';

/** A clock that goes when it is told to. */
class MadeUpClock implements Clock {
  private readonly waiting = new Set<{ moment: number; call: () => void }>();

  constructor(private time: number) {}

  now(): number {
    return this.time;
  }

  at(moment: number, call: () => void): () => void {
    const entry = { moment, call };
    this.waiting.add(entry);
    return () => this.waiting.delete(entry);
  }

  /** Goes on to a moment, and wakes whoever waits on the way, each in turn. */
  async goTo(until: number, looked: () => Promise<void>): Promise<void> {
    for (;;) {
      await looked();
      const next = [...this.waiting].sort((a, b) => a.moment - b.moment)[0];
      if (!next || next.moment > until) break;
      this.waiting.delete(next);
      this.time = Math.max(this.time, next.moment);
      next.call();
    }
    this.time = until;
  }
}

/** Nothing is done: what is due stands in the store. */
const idle: WorkQueue = { put: async () => {}, start: async () => {}, close: async () => {} };

let store: Store;
let opened: Deliveries[] = [];
beforeEach(async () => {
  store = await openStore(await openBlank());
});
afterEach(async () => {
  for (const one of opened) await one.close();
  opened = [];
  await store.close();
});

const at = (iso: string): number => Date.parse(iso);
const started = async (clock: Clock, daysOff: string[] = []): Promise<Deliveries> => {
  const parts = {
    store,
    options: { daysOff },
    clock,
    limits: LIMITS,
    log: (error: unknown) => expect(error).toBeNull(),
  };
  const deliveries = new Deliveries(parts as unknown as DeliveryParts, idle);
  opened.push(deliveries);
  await deliveries.start();
  await deliveries.looked();
  return deliveries;
};
const whole = (when: unknown): Delivery =>
  deliverySchema.parse({ gavetaDelivery: 1, name: 'Nightly', report: 'r', when, to: [{ kind: 'kept' }] });
const added = async (definition: Delivery, nextAt: number | null): Promise<string> => {
  const owner = { owner: 'Inês', groups: [], rights: [], claims: {}, hostParameters: {} };
  return (await store.deliveries.create(definition, owner, nextAt)).id;
};
const dueOf = async (id: string): Promise<string[]> =>
  (await store.deliveryRuns.list(id, { count: 500 })).map(({ dueAt }) => dueAt).reverse();

const ZONES = [
  'Europe/Lisbon',
  'Atlantic/Azores',
  'Europe/Berlin',
  'America/New_York',
  'America/St_Johns',
  'Asia/Kolkata',
  'Asia/Kathmandu',
  'Australia/Lord_Howe',
  'Pacific/Auckland',
  'Pacific/Chatham',
];

test.each([
  ['clocks go forward in the north and back in the south', '2028-03-05T00:00Z', '2028-04-06T00:00Z'],
  ['clocks go back in the north and forward in the south', '2028-09-20T00:00Z', '2028-11-08T00:00Z'],
  ['a leap day comes', '2028-02-26T00:00Z', '2028-03-03T00:00Z'],
])(
  'in ten zones, each goes at each of its times once while %s',
  async (_, from, until) => {
    const clock = new MadeUpClock(at(from));
    const ids = new Map<string, { id: string; when: When }>();
    for (const zone of ZONES) {
      const { when } = whole({
        kind: 'calendar',
        calendar: { days: { each: 'day' }, times: ['02:30', '23:59'], zone },
      });
      ids.set(zone, { when, id: await added(whole(when), nextTimes(when, at(from), 1)[0]!) });
    }
    const deliveries = await started(clock);
    await clock.goTo(at(until), () => deliveries.looked());
    for (const { id, when } of ids.values()) {
      const expected = nextTimes(when, at(from), 500)
        .filter((moment) => moment <= at(until))
        .map((moment) => new Date(moment).toISOString());
      expect(expected.length).toBeGreaterThan(10);
      expect(await dueOf(id)).toEqual(expected);
    }
  },
  120_000,
);

test.each([
  ['all', ['2026-12-02', '2026-12-03', '2026-12-04']],
  ['once', ['2026-12-04']],
  ['skip', []],
] as const)('with the server off for three days, missed times that count “%s”', async (missed, days) => {
  const calendar = { days: { each: 'day' }, times: ['07:00'], zone: 'UTC', missed };
  const id = await added(whole({ kind: 'calendar', calendar }), at('2026-12-01T07:00Z'));
  const before = new MadeUpClock(at('2026-12-01T06:00Z'));
  const first = await started(before);
  await before.goTo(at('2026-12-01T12:00Z'), () => first.looked());
  await first.close();
  const after = new MadeUpClock(at('2026-12-04T15:00Z'));
  const second = await started(after);
  const moments = (all: readonly string[]): string[] => all.map((day) => `${day}T07:00:00.000Z`);
  expect(await dueOf(id)).toEqual(moments(['2026-12-01', ...days]));
  await after.goTo(at('2026-12-05T12:00Z'), () => second.looked());
  expect(await dueOf(id)).toEqual(moments(['2026-12-01', ...days, '2026-12-05']));
});

test('on the 31st it goes in each month, on its last day where that is earlier, but for days of the house', async () => {
  const calendar = { days: { each: 'month', on: { day: 31 } }, times: ['07:00'], zone: 'UTC' };
  const id = await added(whole({ kind: 'calendar', calendar }), at('2028-01-31T07:00Z'));
  const clock = new MadeUpClock(at('2028-01-15T00:00Z'));
  const deliveries = await started(clock, ['04-30']);
  await clock.goTo(at('2028-06-15T00:00Z'), () => deliveries.looked());
  expect((await dueOf(id)).map((moment) => moment.slice(0, 10))).toEqual([
    '2028-01-31',
    '2028-02-29',
    '2028-03-31',
    '2028-05-31',
  ]);
});

test('two that look at the same store add each time once', async () => {
  const calendar = { days: { each: 'day' }, times: ['07:00', '19:00'], zone: 'UTC' };
  const id = await added(whole({ kind: 'calendar', calendar }), at('2026-12-01T07:00Z'));
  const clock = new MadeUpClock(at('2026-12-01T00:00Z'));
  const both = [await started(clock), await started(clock)];
  const looked = async (): Promise<void> => {
    for (const one of both) one.wake();
    await Promise.all(both.map((one) => one.looked()));
  };
  await clock.goTo(at('2026-12-05T12:00Z'), looked);
  expect(await dueOf(id)).toHaveLength(9);
});

test('what is paused goes no more, and what goes once goes once', async () => {
  const calendar = { days: { each: 'day' }, times: ['07:00'], zone: 'UTC' };
  const paused = await added(whole({ kind: 'calendar', calendar }), at('2026-12-01T07:00Z'));
  const once = await added(
    whole({ kind: 'once', day: '2026-12-02', time: '09:00', zone: 'UTC' }),
    at('2026-12-02T09:00Z'),
  );
  const clock = new MadeUpClock(at('2026-12-01T00:00Z'));
  const deliveries = await started(clock);
  await clock.goTo(at('2026-12-01T12:00Z'), () => deliveries.looked());
  await store.deliveries.setState(paused, 'paused', null, null);
  await clock.goTo(at('2026-12-10T12:00Z'), () => deliveries.looked());
  expect(await dueOf(paused)).toEqual(['2026-12-01T07:00:00.000Z']);
  expect(await dueOf(once)).toEqual(['2026-12-02T09:00:00.000Z']);
  expect((await store.deliveries.get(once))!.nextAt).toBeNull();
});
