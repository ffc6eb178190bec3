import { deliverySchema, problem } from '@gaveta/core/internal';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { openBlank } from '../embedded/blank.test-support.ts';
import type { MadeContent, PlannedContent } from './delivery-records.ts';
import { openStore, type Store } from './store.ts';

const NOW = Date.parse('2027-03-01T07:00:00Z');
const LATER = NOW + 60_000;
const OWNER = { owner: 'Inês', groups: [], rights: [], claims: {}, hostParameters: {} };
const DEFINITION = deliverySchema.parse({
  ...{ gavetaDelivery: 1, name: 'Regions', report: 'regions', values: {} },
  when: { kind: 'by-hand' },
  to: [{ kind: 'folder', name: 'Archive' }],
});
const planned = (label: string): PlannedContent => ({
  ...{ label, row: null, person: null, values: { region: label } },
  parts: [{ target: 0, kind: 'folder', to: 'Archive' }],
});
const SAID = problem('delivery-not-sent', {}, { detail: 'nobody is there.' });

let store: Store;
let run = '';
beforeAll(async () => {
  store = await openStore(await openBlank());
}, 60_000);
afterAll(() => store.close());

let runs = 0;
/** A run of a delivery of its own, which waits to be planned. */
beforeEach(async () => {
  for (const { id } of await store.deliveries.list({})) await store.deliveries.remove(id);
  const delivery = await store.deliveries.create(DEFINITION, OWNER, null);
  run = (await store.deliveries.addRun(delivery, { key: `run ${++runs}`, why: 'by-hand', dueAt: NOW }))!;
});

const work = () => store.deliveryRuns;
const planOf = async (...labels: string[]): Promise<void> => {
  expect(await work().holdRun(run, LATER, LATER + 1000)).toBe(true);
  await work().plan(run, labels.map(planned), LATER);
};
const made = (content: string, text = 'pages'): MadeContent => ({
  ...{ content, pages: 2, rows: 7, messages: new Map() },
  files: [{ name: 'a.pdf', mime: 'application/pdf', bytes: new TextEncoder().encode(text) }],
});
/** Makes all contents that wait. */
const makeAll = async (): Promise<void> => {
  const contents = await work().holdContents(run, 100, LATER, LATER + 1000);
  await work().made(
    contents.map(({ id }) => made(id)),
    LATER,
  );
};

describe('what is to be done for a run', () => {
  it('is told one stage after another, and what is begun before what is not', async () => {
    expect(await work().waiting(LATER, 10)).toEqual([{ kind: 'plan', run }]);
    expect(await work().waiting(NOW - 1, 10)).toEqual([]);
    await planOf('North', 'South');
    expect(await work().waiting(LATER, 10)).toEqual([{ kind: 'make', run }]);
    const [first] = await work().holdContents(run, 1, LATER, LATER + 1000);
    await work().made([made(first!.id)], LATER);
    expect(await work().waiting(LATER, 10)).toEqual([
      { kind: 'send', run },
      { kind: 'make', run },
    ]);
    expect(await work().waiting(LATER, 1)).toEqual([{ kind: 'send', run }]);
  });
  it('is held by one at a time, and by whoever comes once that one is late', async () => {
    expect(await work().holdRun(run, LATER, LATER + 1000)).toBe(true);
    expect(await work().holdRun(run, LATER + 500, LATER + 9000)).toBe(false);
    expect(await work().nextTry()).toBe(LATER + 1000);
    expect(await work().holdRun(run, LATER + 1001, LATER + 9000)).toBe(true);
    expect((await work().get(run))!.tries).toBe(2);
  });
  it('is planned once, whoever tries it', async () => {
    await planOf('North');
    await work().plan(run, ['East', 'West'].map(planned), LATER);
    expect((await work().contents(run, 0, 10)).map(({ label }) => label)).toEqual(['North']);
  });
});

describe('contents', () => {
  it('are held some at a time, in their order, and none twice', async () => {
    await planOf('a', 'b', 'c', 'd', 'e');
    const [some, others] = await Promise.all([
      work().holdContents(run, 2, LATER, LATER + 1000),
      work().holdContents(run, 2, LATER, LATER + 1000),
    ]);
    const rest = await work().holdContents(run, 9, LATER, LATER + 1000);
    const labels = [...some, ...others, ...rest].map(({ label }) => label);
    expect(labels.sort()).toEqual(['a', 'b', 'c', 'd', 'e']);
    expect(await work().holdContents(run, 9, LATER, LATER + 1000)).toEqual([]);
    // Letting go of them was no try.
    await work().letGo(some.map(({ id }) => ({ kind: 'content' as const, id })));
    const again = await work().holdContents(run, 9, LATER, LATER + 1000);
    expect(again.map(({ tries }) => tries)).toEqual([1, 1]);
  });
  it('are written once: files and words of the second one to come are left', async () => {
    await planOf('North');
    const [content] = await work().holdContents(run, 1, LATER, LATER + 1000);
    await work().made([made(content!.id, 'first')], LATER);
    await work().made([made(content!.id, 'second')], LATER);
    const files = await work().files(content!.id);
    expect(files.map(({ bytes }) => new TextDecoder().decode(bytes))).toEqual(['first']);
    expect((await work().content(content!.id))!).toMatchObject({ state: 'done', pages: 2, rows: 7 });
  });
  it('have files with all their bytes, also such as no text has', async () => {
    await planOf('North');
    const [content] = await work().holdContents(run, 1, LATER, LATER + 1000);
    const bytes = Uint8Array.from({ length: 70_000 }, (_, i) => (i * 7) % 256);
    await work().made([{ ...made(content!.id), files: [{ name: 'b', mime: 'x/y', bytes }] }], LATER);
    expect((await work().file(content!.id, 0))!.bytes).toEqual(bytes);
    expect(await work().file(content!.id, 1)).toBeNull();
  });
  it('that cannot be made take their parts with them, and are made again when that is asked for', async () => {
    await planOf('North', 'South');
    const [first] = await work().holdContents(run, 1, LATER, LATER + 1000);
    await work().fail({ kind: 'content', id: first!.id }, SAID);
    expect((await work().parts([first!.id])).map(({ state, said }) => [state, said?.code])).toEqual([
      ['failed', 'delivery-not-sent'],
    ]);
    await makeAll();
    expect(await work().finish(run, LATER)).toBe(false);
    const parts = await work().holdParts(run, 10, LATER, LATER + 1000);
    await work().sent(
      parts.map(({ id }) => ({ id, receipt: 'a.pdf' })),
      LATER,
    );
    expect(await work().finish(run, LATER)).toBe(true);
    expect((await work().get(run))!.state).toBe('partly');
    expect(await work().again(run, LATER)).toBe(true);
    expect((await work().holdContents(run, 9, LATER, LATER + 1000)).map(({ label }) => label)).toEqual(['North']);
  });
});

describe('parts', () => {
  it('wait for their content, are sent once, and end the run', async () => {
    await planOf('North', 'South');
    expect(await work().holdParts(run, 10, LATER, LATER + 1000)).toEqual([]);
    await makeAll();
    const [first, second] = await work().holdParts(run, 10, LATER, LATER + 1000);
    expect(await work().holdParts(run, 10, LATER, LATER + 1000)).toEqual([]);
    await work().sent([{ id: first!.id, receipt: 'one' }], LATER);
    expect(await work().finish(run, LATER)).toBe(false);
    await work().retry({ kind: 'part', id: second!.id }, SAID, LATER + 5000);
    expect(await work().holdParts(run, 10, LATER, LATER + 1000)).toEqual([]);
    expect(await work().nextTry()).toBe(LATER + 5000);
    const [again] = await work().holdParts(run, 10, LATER + 5000, LATER + 9000);
    expect(again).toMatchObject({ id: second!.id, tries: 2 });
    await work().sent([{ id: again!.id, receipt: 'two' }], LATER + 5000);
    expect(await work().finish(run, LATER + 5000)).toBe(true);
    expect(await work().finish(run, LATER + 5000)).toBe(false);
    expect((await work().get(run))!.state).toBe('done');
    expect((await work().countsOf([run])).get(run)).toEqual({ parts: 2, sent: 2, failed: 0, open: 0 });
    expect(await work().again(run, LATER)).toBe(false);
    expect(await work().nextTry()).toBeNull();
  });
  it('that nobody works on are cancelled, and those under way are not', async () => {
    await planOf('North', 'South');
    await makeAll();
    const [held] = await work().holdParts(run, 1, LATER, LATER + 1000);
    await work().cancel(run);
    await work().sent([{ id: held!.id, receipt: 'one' }], LATER);
    const contents = await work().contents(run, 0, 10);
    const states = (await work().parts(contents.map(({ id }) => id))).map(({ state }) => state);
    expect(states.sort()).toEqual(['cancelled', 'done']);
    expect(await work().finish(run, LATER)).toBe(true);
    expect((await work().get(run))!.state).toBe('cancelled');
  });
  it('that were held when a process broke off are free once nobody can be at work', async () => {
    await planOf('North');
    await makeAll();
    await work().holdParts(run, 9, LATER, LATER + 1e9);
    expect(await work().holdParts(run, 9, LATER, LATER + 1e9)).toEqual([]);
    await work().letGoAll();
    expect(await work().holdParts(run, 9, LATER, LATER + 1e9)).toHaveLength(1);
  });
});
