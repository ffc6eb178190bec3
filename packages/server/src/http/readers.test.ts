import type { AskedValue, Page, RegionMark, RunState, TextMark } from '@gaveta/core/internal';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Session } from '../access/session.ts';
import { type AskedDemo, askDemo } from './asked-demo.test-support.ts';

const OFFICE: Session = { user: 'Inês', rights: ['view', 'design'], claims: { role: 'office' } };
const READER: Session = { user: 'Rui', rights: ['view'], claims: { role: 'office' } };
const WARDEN: Session = { user: 'Eva', rights: ['view'], claims: { role: 'warden', region: 2 } };

let demo: AskedDemo;
beforeAll(async () => {
  demo = await askDemo();
});
afterAll(() => demo.close());

const call = (method: 'get' | 'post' | 'delete', path: string, body?: object, session = READER) =>
  demo.call(session, method, path, body);

const text = (id: string, words: string, x: number) => {
  return { kind: 'text', id, x, y: 0, width: 30, height: 5, content: [words] };
};
const field = (id: string, formula: string, x: number) => {
  return { kind: 'field', id, x, y: 0, width: 30, height: 5, formula };
};

/** Huts with their beds under captions, and how many beds there are. */
const store = async (readers?: object): Promise<string> => {
  const definition = {
    gaveta: 2,
    name: 'Beds',
    model: 'cumeeira',
    ...(readers ? { readers } : {}),
    body: [
      {
        id: 'huts',
        name: 'hut',
        rows: { entity: 'hut' },
        sort: [{ by: 'name' }],
        header: { height: 6, items: [text('c1', 'Hut', 0), text('c2', 'Beds', 40)] },
        detail: { height: 6, items: [field('name', 'name', 0), field('beds', 'beds', 40)] },
        footer: { height: 6, items: [field('all', 'SUM(beds)', 40)] },
      },
    ],
  };
  const { body } = await call('post', '/reports', { definition }, OFFICE);
  return body.id;
};

const run = async (report: string, more: object = {}, session = READER): Promise<RunState> => {
  const { body, status } = await call('post', '/runs', { report, parameters: {}, ...more }, session);
  expect([status, body.code]).toEqual([201, undefined]);
  return demo.ended(session, body.id);
};
const firstPage = async ({ id }: RunState, session = READER): Promise<Page> =>
  (await call('get', `/runs/${id}/pages?from=1&count=1`, undefined, session)).body[0];
const shown = (page: Page, item: string): TextMark[] =>
  page.marks.filter((mark): mark is TextMark => mark.kind === 'text' && mark.item === item);
const askedOf = ({ marks }: Page, mark: TextMark): AskedValue => {
  const { band, rows } = marks.slice(marks.indexOf(mark)).find((one): one is RegionMark => one.kind === 'region')!;
  return { item: mark.item!, band, rows, cell: null, page: 1 };
};

describe('where a value comes from', () => {
  it('is told from the rows that the run read, cut to what its reader may see', async () => {
    const report = await store();
    for (const [session, huts] of [
      [READER, 24],
      [WARDEN, 6],
    ] as const) {
      const state = await run(report, {}, session);
      const page = await firstPage(state, session);
      const [all] = shown(page, 'all');
      const before = demo.opened();
      const { status, body } = await call('post', `/runs/${state.id}/explain`, askedOf(page, all!), session);
      expect([status, demo.opened()]).toEqual([200, before]);
      expect(body).toMatchObject({ formulas: [{ source: 'SUM(beds)', text: all!.text }], queries: null });
      const [total] = body.totals;
      expect(total).toMatchObject({ name: 'SUM', count: huts, isSame: true, text: all!.text, listText: all!.text });
      expect(total.list).toHaveLength(huts);
      // Each leads on to where it stands.
      const place = await call('get', `/runs/${state.id}/rows?name=${total.list[3].rows}`, undefined, session);
      expect(place.body).toMatchObject({ page: 1, y: expect.any(Number) });
    }
  });

  it('is told to nobody else, and what is not there is said to be so', async () => {
    const state = await run(await store());
    const page = await firstPage(state);
    const asked = askedOf(page, shown(page, 'all')[0]!);
    const explain = (body: object, session = READER) => call('post', `/runs/${state.id}/explain`, body, session);
    expect((await explain(asked, WARDEN)).body.code).toBe('unknown-run');
    expect((await explain({ ...asked, item: 'gone' })).body.code).toBe('unknown-value');
    expect((await explain({ ...asked, rows: 'hut:999' })).body.code).toBe('unknown-value');
    expect((await explain({ ...asked, cell: -1 })).status).toBe(400);
    expect((await explain({ ...asked, item: 'c1', rows: asked.rows, band: 'huts/header' })).body.formulas).toEqual([]);
    expect((await call('get', `/runs/${state.id}/rows?name=nowhere`)).body).toBeNull();
  });

  it('an item is found on the pages by its id', async () => {
    const state = await run(await store());
    const page = await firstPage(state);
    const at = async (id: string) => (await call('get', `/runs/${state.id}/items?id=${id}`)).body;
    const [all] = shown(page, 'all');
    expect(await at('all')).toEqual({ page: 1, y: expect.closeTo(all!.y - all!.size, 2) });
    expect(await at('gone')).toBeNull();
  });

  it('is told as far as the report lets its readers know; with its SQL to those who design', async () => {
    const told = async (readers: object, session: Session) => {
      const state = await run(await store(readers), {}, session);
      const page = await firstPage(state, session);
      return (await call('post', `/runs/${state.id}/explain`, askedOf(page, shown(page, 'all')[0]!), session)).body;
    };
    const worded = await told({ origins: 'formulas' }, READER);
    expect(worded).toMatchObject({
      formulas: [{ source: 'SUM(beds)' }],
      totals: [{ count: 24, list: [], columns: [] }],
    });
    expect((await told({ origins: 'none' }, READER)).code).toBe('origins-hidden');
    const whole = await told({ origins: 'none' }, OFFICE);
    expect(whole.totals[0].list).toHaveLength(24);
    expect(whole.queries[0]).toMatchObject({ drawer: 'hut', sql: expect.stringContaining('select') });
  });
});

describe('rows the reader’s way', () => {
  const sorts = [{ column: 'beds', descending: true }];
  const filters = [{ column: 'beds', type: 'number', value: 60 }];

  it('are sorted without a change to the report', async () => {
    const report = await store();
    const state = await run(report, { arrangement: { sorts } });
    const beds = shown(await firstPage(state), 'beds').map((mark) => Number(mark.text));
    expect(beds).toEqual([...beds].sort((a, b) => b - a));
    const made = shown(await firstPage(await run(report)), 'name').map((mark) => mark.text);
    expect(made.slice(0, 2)).toEqual(['Alminhas', 'Bico da Garça']);
    const { body } = await call('get', `/runs/${state.id}/arranging`);
    expect(body).toMatchObject({
      may: 'sort',
      columns: [
        { id: 'name', label: 'Hut' },
        { id: 'beds', captions: ['c2'] },
      ],
    });
  });

  it('are cut and without columns where the report lets its readers', async () => {
    const report = await store({ arrange: 'all' });
    const page = await firstPage(await run(report, { arrangement: { filters, hidden: ['name'] } }));
    expect(new Set(shown(page, 'beds').map((mark) => mark.text))).toEqual(new Set(['60']));
    expect([shown(page, 'name'), shown(page, 'c1')]).toEqual([[], []]);
  });

  it('are not where it does not', async () => {
    const refused = async (readers: object | undefined, arrangement: object) =>
      (await call('post', '/runs', { report: await store(readers), parameters: {}, arrangement })).body.code;
    expect(await refused(undefined, { filters })).toBe('not-arranged');
    expect(await refused({ arrange: 'none' }, { sorts })).toBe('not-arranged');
    expect(await refused(undefined, { sorts: [{ column: 3 }] })).toBe('wrong-body');
    const none = await run(await store({ arrange: 'none' }));
    expect((await call('get', `/runs/${none.id}/arranging`)).body).toEqual({ may: 'none', columns: [] });
  });
});

describe('values under a name', () => {
  const sets = (report: string, session = READER) => call('get', `/reports/${report}/value-sets`, undefined, session);
  const keep = (report: string, body: object, session = READER) =>
    call('post', `/reports/${report}/value-sets`, { values: { season: 2025 }, ...body }, session);

  it('are seen by whoever kept them, and by others where they are shared', async () => {
    const report = await store();
    await keep(report, { name: 'Mine' });
    await keep(report, { name: 'Ours', shared: true }, OFFICE);
    await keep(report, { name: 'Mine', values: { season: 2024, hut: null } });
    const seen = async (session: Session) =>
      (await sets(report, session)).body.map((one: { name: string }) => one.name);
    expect([await seen(READER), await seen(WARDEN), await seen(OFFICE)]).toEqual([
      ['Mine', 'Ours'],
      ['Ours'],
      ['Ours'],
    ]);
    const { body } = await sets(report);
    expect(body[0]).toMatchObject({ values: { season: 2024, hut: null }, isOwn: true, isShared: false });
    expect(body[1]).toMatchObject({ isOwn: false, isShared: true, by: 'Inês' });
  });

  it('are shared and removed by those who may', async () => {
    const report = await store();
    expect((await keep(report, { name: 'Ours', shared: true })).body.code).toBe('not-allowed');
    expect((await keep(report, { name: '  ' })).body.code).toBe('wrong-body');
    expect((await keep('nowhere', { name: 'x' })).body.code).toBe('unknown-report');
    const { body: ours } = await keep(report, { name: 'Ours', shared: true }, OFFICE);
    const { body: mine } = await keep(report, { name: 'Mine' });
    const remove = async (set: string, session: Session) => {
      await call('delete', `/reports/${report}/value-sets/${set}`, undefined, session);
      return (await sets(report)).body.map((one: { name: string }) => one.name);
    };
    expect(await remove(ours.id, READER)).toEqual(['Mine', 'Ours']);
    expect(await remove(mine.id, OFFICE)).toEqual(['Mine', 'Ours']);
    expect(await remove(ours.id, OFFICE)).toEqual(['Mine']);
    expect(await remove(mine.id, READER)).toEqual([]);
  });

  it('are so many and no more', async () => {
    const report = await store();
    for (let i = 0; i < 100; i++) await keep(report, { name: `set ${i}` });
    expect((await keep(report, { name: 'one more' })).body.code).toBe('too-many-value-sets');
    expect((await keep(report, { name: 'set 3' })).status).toBe(201);
  });
});

it('one long page without breaks has the same rows in strips, and becomes pages again', async () => {
  const report = await store();
  const long = await run(report, { form: 'long' });
  expect([long.form, long.pages]).toEqual(['long', 1]);
  const { body } = await call('post', `/runs/${long.id}/folds`, { folds: { base: 'start' }, form: 'pages' });
  expect(body).toMatchObject({ form: 'pages' });
});
