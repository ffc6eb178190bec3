import type { PGlite } from '@electric-sql/pglite';
import { type Report, readDefinition } from '@gaveta/core/internal';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startPostgres, type TestServer } from '../connection/server.test-support.ts';
import { openBlank } from '../embedded/blank.test-support.ts';
import { createSeal } from '../secrets/seal.ts';
import { openStore, type Store } from './store.ts';

const named = (name: string, more: Record<string, unknown> = {}): Report => {
  const read = readDefinition({ gaveta: 2, name, ...more });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.report;
};
const seal = createSeal('a key that seals the secrets of these tests');

let server: TestServer;
beforeAll(async () => {
  server = await startPostgres();
});
afterAll(() => server.stop());

const addressOf = ({ host, port, user, password, database }: TestServer): string =>
  `postgres://${user}:${encodeURIComponent(password)}@${host}:${port}/${database}`;

/** The same store twice, as two people’s processes have it; the embedded one is shared by them. */
const KINDS = {
  embedded: async (): Promise<[Store, Store]> => {
    const client: PGlite = await openBlank();
    const store = await openStore(client, seal);
    return [store, store];
  },
  'on a server': async (): Promise<[Store, Store]> => {
    // Two that start at once: one makes the tables, and the other waits.
    const [one, other] = await Promise.all([openStore(addressOf(server), seal), openStore(addressOf(server), seal)]);
    return [one, other];
  },
};

describe.each(Object.entries(KINDS))('a store %s', (_, open) => {
  let here: Store;
  let there: Store;
  beforeAll(async () => {
    [here, there] = await open();
  });
  afterAll(async () => {
    await here.close();
    if (there !== here) await there.close();
  });

  it('keeps the order in which a definition is written, so that what changed shows in its file', async () => {
    const written = named('Order', { styles: { Zebra: { bold: true }, Ant: {}, 'A long name': { size: 9 } } });
    const { id } = await here.create(written, 'Inês');
    const { read } = (await there.get(id))!;
    expect(JSON.stringify(read.ok && read.report)).toBe(JSON.stringify(written));
    await here.remove(id);
  });

  it('has an entry in the library for each recipe and connection, which changes and goes with it', async () => {
    const viewer = { user: 'Inês', groups: [], seesAll: true, most: 'manage' } as const;
    const entry = (id: string) => there.library.thing(viewer, id);
    const steps = [{ step: 'take' as const, from: { model: 'm', entity: 'kestrel' } }];
    const given = { name: 'Rows', steps, parameters: [] };
    const { id } = await here.data.createRecipe(given, 'Inês', undefined, { note: 'of birds', owner: 'Inês' });
    expect(await entry(`recipe:${id}`)).toMatchObject({ kind: 'recipe', name: 'Rows', note: 'of birds', revision: 1 });
    const found = await there.library.things(viewer, {
      ...{ place: 'all', kind: 'data', find: 'kestrel', sort: 'best', descending: false, from: 0, count: 9 },
    });
    expect(found.things.map((one) => one.id)).toEqual([`recipe:${id}`]);
    expect((await here.data.saveRecipe(id, { ...given, name: 'More' }, 1, 'Rui')).ok).toBe(true);
    expect(await there.data.saveRecipe(id, given, 1, 'Ana')).toMatchObject({ ok: false, reason: 'conflict' });
    expect(await entry(`recipe:${id}`)).toMatchObject({ name: 'More', revision: 2, published: 2, changedBy: 'Rui' });
    expect([await here.data.removeRecipe(id), await here.data.removeRecipe(id)]).toEqual([true, false]);
    expect([await there.data.recipe(id), await entry(`recipe:${id}`)]).toEqual([null, null]);
    await here.restore(`recipe:${id}`);
    expect(await here.data.recipe(id)).toMatchObject({ name: 'More' });
    await here.data.removeRecipe(id);
    // A new one takes the place of a deleted one of its id.
    await here.data.createRecipe(given, 'Ana', id, { note: 'anew' });
    expect(await entry(`recipe:${id}`)).toMatchObject({ name: 'Rows', note: 'anew', revision: 1 });
    await here.data.removeRecipe(id);

    const settings = { kind: 'http' as const, address: 'https://rows.example/', format: 'json' as const };
    const source = { name: 'kept_rows', label: 'Kept rows', settings, secret: {}, data: null } as never;
    await here.data.putConnection(source, { tables: [] } as never, 'Inês', { owner: 'Inês' });
    await here.data.labelConnection('kept_rows', 'Rows', 'Rui');
    expect(await entry('connection:kept_rows')).toMatchObject({ kind: 'connection', name: 'Rows', owner: 'Inês' });
    expect((await there.data.connections()).map((one) => one.source.label)).toEqual(['Rows']);
    await here.data.removeConnection('kept_rows');
    expect(await entry('connection:kept_rows')).toBeNull();
  });

  it('keeps pictures and themes with their revisions, and says what mentions them', async () => {
    const theme = { gavetaTheme: 1 as const, name: 'House', accent: '#2f4b6e' } as never;
    const { id } = await here.create(theme, 'Inês');
    expect((await there.get(id))?.house).toMatchObject({ name: 'House', font: 'Source Sans 3' });
    const report = await here.create(named('In the house', { theme: 'House' }), 'Inês');
    expect((await there.mentioning({ kind: 'theme', value: 'House' })).map((one) => one.stored.id)).toEqual([
      report.id,
    ]);
    expect((await there.list()).map((one) => one.id)).not.toContain(id);
    await here.save(id, { ...(theme as object), accent: '#112233' } as never, 1, 'Rui', '');
    expect((await there.revision(id, 1))?.house).toMatchObject({ accent: '#2f4b6e' });
    for (const one of [id, report.id]) await here.remove(one);
  });

  it('deletes reports so that they come back as they were, or make room for another of their id', async () => {
    const { id } = await here.create(named('Deleted', { model: 'deleted-model' }), 'Inês');
    await here.save(id, named('Deleted twice', { model: 'deleted-model' }), 1, 'Rui', '');
    const mentioning = async () => (await there.mentioning({ kind: 'model', value: 'deleted-model' })).length;
    expect([await here.setAside(id), await here.setAside(id)]).toEqual([true, false]);
    expect([await there.get(id), await there.save(id, named('Late'), 2, 'Eva', '')]).toMatchObject([
      null,
      { ok: false, reason: 'missing' },
    ]);
    expect((await there.list()).map((one) => one.id)).not.toContain(id);
    expect([await mentioning(), (await there.deleted(id))?.name]).toEqual([0, 'Deleted twice']);
    expect(await there.restore(id)).toMatchObject({ id, revision: 2, changedBy: 'Rui' });
    expect([await mentioning(), (await here.revisions(id)).length, await here.restore(id)]).toEqual([1, 2, null]);
    await here.setAside(id);
    expect(await here.create(named('Another'), 'Eva', id)).toMatchObject({ id, revision: 1 });
    expect([(await there.revisions(id)).length, await there.deleted(id)]).toEqual([1, null]);
    await here.remove(id);
  });

  it('keeps reports with all their revisions', async () => {
    const { id, revision } = await here.create(named('Season ledger'), 'Inês');
    expect(revision).toBe(1);
    const saved = await here.save(id, named('Season ledger 2025'), 1, 'Rui', 'a new year');
    expect(saved).toMatchObject({
      ok: true,
      stored: { id, name: 'Season ledger 2025', revision: 2, changedBy: 'Rui' },
    });
    expect((await here.list()).map(({ name }) => name)).toEqual(['Season ledger 2025']);
    expect((await here.revisions(id)).map(({ number, author, note }) => [number, author, note])).toEqual([
      [2, 'Rui', 'a new year'],
      [1, 'Inês', ''],
    ]);
    expect(await here.revision(id, 1)).toMatchObject({ read: { ok: true, report: { name: 'Season ledger' } } });
    expect(await here.revision(id, 3)).toBeNull();
    expect(await here.get('nobody')).toBeNull();
  });

  it('shows what one saved to the other at once', async () => {
    const { id } = await here.create(named('Stays'), 'Inês');
    expect((await there.get(id))?.read).toMatchObject({ report: { name: 'Stays' } });
    await there.save(id, named('Stays and charges'), 1, 'Rui', '');
    expect((await here.get(id))?.read).toMatchObject({ report: { name: 'Stays and charges' } });
  });

  it('takes one of two saves that come at once, and tells the other', async () => {
    const { id } = await here.create(named('Bunk tags'), 'Inês');
    const saves = await Promise.all([
      here.save(id, named('Bunk tags of Inês'), 1, 'Inês', ''),
      there.save(id, named('Bunk tags of Rui'), 1, 'Rui', ''),
    ]);
    const [won] = saves.filter((saved) => saved.ok);
    const lost = saves.filter((saved) => !saved.ok);
    expect(lost).toHaveLength(1);
    expect(lost[0]).toMatchObject({ reason: 'conflict', current: won!.ok && won!.stored });
    expect(await here.revisions(id)).toHaveLength(2);
    expect(await there.save('nobody', named('x'), 1, 'Rui', '')).toMatchObject({ ok: false, reason: 'missing' });
  });

  it('knows what the newest revisions mention', async () => {
    const { id } = await here.create(named('Winds', { model: 'winds' }), 'Inês');
    expect(await there.mentioned('model', ['winds', 'tides'])).toEqual(['winds']);
    await here.save(id, named('Winds', { model: 'tides' }), 1, 'Inês', '');
    expect(await there.mentioned('model', ['winds', 'tides'])).toEqual(['tides']);
    expect((await there.mentioning({ kind: 'model', value: 'tides' })).map(({ stored }) => stored.id)).toEqual([id]);
  });

  it('keeps everybody’s drafts apart', async () => {
    const { savedAt } = await here.drafts.put('Inês', 'k', { report: null, base: 0, definition: named('Begun') });
    expect(await there.drafts.list('Rui')).toEqual([]);
    expect((await there.drafts.get('Inês', 'k'))?.read).toMatchObject({ report: { name: 'Begun' } });
    await there.drafts.put('Inês', 'k', { report: null, base: 0, definition: named('Gone on') });
    // Another window kept something newer meanwhile.
    expect(await here.drafts.remove('Inês', 'k', savedAt)).toBe(false);
    expect(await here.drafts.remove('Inês', 'k')).toBe(true);
    expect(await there.drafts.get('Inês', 'k')).toBeNull();
  });

  it('keeps recipes, and takes one of two changes', async () => {
    const steps = [{ step: 'take' as const, from: { model: 'office', entity: 'hut' } }];
    const { id } = await here.data.createRecipe({ name: 'Huts', steps, parameters: [] }, 'Inês');
    const [one, other] = await Promise.all([
      here.data.saveRecipe(id, { name: 'Huts of Inês', steps, parameters: [] }, 1, 'Inês'),
      there.data.saveRecipe(id, { name: 'Huts of Rui', steps, parameters: [] }, 1, 'Rui'),
    ]);
    expect([one.ok, other.ok].sort()).toEqual([false, true]);
    expect((await there.data.recipes()).map(({ revision }) => revision)).toEqual([2]);
    expect(await there.data.removeRecipe(id)).toBe(true);
    expect(await here.data.recipes()).toEqual([]);
  });

  it('keeps connections, their secrets sealed, and files byte by byte', async () => {
    const settings = {
      kind: 'http' as const,
      address: 'https://data.example',
      decimal: '.' as const,
      dates: 'ymd' as const,
    };
    const data = Uint8Array.from({ length: 300 }, (_, i) => i % 256);
    const source = { name: 'snow', label: 'Snow', settings, secret: { headers: { key: 'open sesame' } }, data };
    await here.data.putConnection(source, { tables: [] }, 'Inês');
    const [found] = await there.data.connections();
    expect(found).toMatchObject({ source: { name: 'snow', secret: source.secret }, hasSecret: true, isLocked: false });
    expect(Buffer.from(found!.source.data!).equals(Buffer.from(data))).toBe(true);
    expect(await there.data.removeConnection('snow')).toBe(true);
  });
});

describe('a server that cannot be used', () => {
  it('is told of without its password, with what to do', async () => {
    const wrong = addressOf({ ...server, password: 'not this one' });
    await expect(openStore(wrong)).rejects.toThrow(/localhost:\d+: the password is wrong/);
    await expect(openStore(wrong)).rejects.not.toThrow('not this one');
    await expect(openStore(addressOf({ ...server, database: 'nowhere' }))).rejects.toThrow('there is no such database');
    await expect(openStore('postgres://localhost:1/x')).rejects.toThrow('nothing answers there');
  });
});
