import { ACCESS_LEVELS, type AccessLevel } from '@gaveta/core/contract';
import { type Report, readDefinition } from '@gaveta/core/internal';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openBlank } from '../embedded/blank.test-support.ts';
import { openStore, type Store } from './store.ts';
import { HOST, rankOf, type Viewer } from './viewer.ts';

const named = (name: string, more: Record<string, unknown> = {}): Report => {
  const read = readDefinition({ gaveta: 2, name, ...more });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.report;
};
const viewer = (user: string, groups: string[] = [], more: Partial<Viewer> = {}): Viewer => ({
  ...{ user, groups, seesAll: false, most: 'manage' },
  ...more,
});
const ALL = { place: 'all', find: '', sort: 'name', descending: false, from: 0, count: 1000 } as const;

let database: Awaited<ReturnType<typeof openBlank>>;
let store: Store;
beforeAll(async () => {
  database = await openBlank();
  store = await openStore(database);
});
afterAll(() => store.close());

const folder = (name: string, parent = 'root', owner: string | null = null): Promise<string> =>
  store.library.createFolder({ name, note: '', parent, owner }, 'test');
const report = async (name: string, where: object = {}, definition = {}): Promise<string> =>
  (await store.create(named(name, definition), 'test', undefined, where)).id;
const seenBy = async (who: Viewer, asked: object = {}): Promise<string[]> =>
  (await store.library.things(who, { ...ALL, ...asked })).things.map(({ name }) => name);

describe('a library', () => {
  it('lets everybody publish at first, and nobody decide who may but its managers and owners', async () => {
    const id = await report('Open to all', { owner: 'Inês' });
    const may = async (who: Viewer) => (await store.library.thing(who, id))?.may;
    expect(await may(viewer('Rui'))).toBe('publish');
    expect(await may(viewer('Rui', [], { most: 'see' }))).toBe('see');
    expect(await may(viewer('Inês'))).toBe('manage');
    expect(await may(viewer('Ana', [], { seesAll: true }))).toBe('manage');
    expect(await may(HOST)).toBe('manage');
    await store.remove(id);
  });

  it('hands what was granted on a folder on to what is in it, up to where that is cut', async () => {
    const closed = await folder('Closed');
    await store.library.changeFolder(closed, { inherits: false }, 'test');
    const inner = await folder('Inner', closed);
    const id = await report('Deep inside', { folder: inner });
    const [office, warden] = [viewer('Inês', ['office']), viewer('Rui', ['wardens'])];
    const may = async (who: Viewer) => (await store.library.thing(who, id))?.may ?? null;
    expect([await may(office), await may(warden)]).toEqual([null, null]);
    await store.grants.put({ folder: closed }, 'group:office', 'change', 'test');
    expect([await may(office), await may(warden)]).toEqual(['change', null]);
    await store.grants.put({ thing: id }, 'user:Rui', 'see', 'test');
    expect([await may(office), await may(warden)]).toEqual(['change', 'see']);
    // The folder is not told to whoever was let see the one thing in it.
    expect((await store.library.thing(warden, id))?.folder).toBeNull();
    expect((await store.library.thing(office, id))?.folder).toBe(inner);
    expect((await store.library.folders(warden)).map(({ name }) => name)).toEqual(['']);
    expect(await seenBy(warden, { place: 'shared' })).toEqual(['Deep inside']);
    await store.library.changeThing(id, { inherits: false });
    expect([await may(office), await may(warden)]).toEqual([null, 'see']);
    await store.grants.put({ thing: id }, 'user:Rui', null, 'test');
    expect(await may(warden)).toBeNull();
    await store.library.setAsideFolder(closed);
  });

  it('keeps the own folder of a person to them, also from whoever sees everything else', async () => {
    const own = await store.library.personal('Ana');
    expect(await store.library.personal('Ana')).toBe(own);
    const id = await report('Of Ana alone', { folder: own, owner: 'Ana' });
    const manager = viewer('Inês', [], { seesAll: true });
    expect((await store.library.thing(viewer('Ana'), id))?.may).toBe('manage');
    expect(await store.library.thing(manager, id)).toBeNull();
    expect((await store.library.folders(manager)).map((one) => one.id)).not.toContain(own);
    expect(await seenBy(manager)).not.toContain('Of Ana alone');
    expect((await store.library.thing(HOST, id))?.may).toBe('manage');
    await store.grants.put({ thing: id }, 'user:Inês', 'see', 'Ana');
    expect((await store.library.thing(manager, id))?.may).toBe('see');
  });

  it('moves no folder into itself', async () => {
    const outer = await folder('Outer');
    const inner = await folder('In it', outer);
    expect(await store.library.moveFolder(outer, inner, 'test')).toBe(false);
    expect(await store.library.moveFolder(outer, outer, 'test')).toBe(false);
    const [one, other] = [await folder('One'), await folder('Other')];
    const both = await Promise.all([
      store.library.moveFolder(one, other, 'test'),
      store.library.moveFolder(other, one, 'test'),
    ]);
    expect(both.filter(Boolean)).toHaveLength(1);
  });

  it('deletes a folder with all that is in it, and brings it back', async () => {
    const outer = await folder('Season');
    const inner = await folder('Closed seasons', outer);
    const id = await report('Old ledger', { folder: inner });
    const who = viewer('Rui');
    expect(await store.get(id)).not.toBeNull();
    await store.library.setAsideFolder(outer);
    expect(await store.get(id)).toBeNull();
    expect(await store.library.thing(who, id)).toBeNull();
    expect(await seenBy(who)).not.toContain('Old ledger');
    expect((await store.list()).map((one) => one.id)).not.toContain(id);
    const bin = await store.library.bin(who);
    expect(bin.filter(({ kind }) => kind === 'folder').map(({ name }) => name)).toContain('Season');
    expect(bin.map(({ name }) => name)).not.toContain('Closed seasons');
    expect(await store.library.bin(viewer('Rui', [], { most: 'see' }))).toEqual([]);
    await store.library.restoreFolder(outer);
    expect(await store.get(id)).not.toBeNull();
    expect(await seenBy(who, { place: 'folder', folder: inner })).toEqual(['Old ledger']);
  });

  it('lets what was deleted go for good after thirty days, with all that was in it', async () => {
    const [old, later] = [await folder('Long ago'), await folder('Just now')];
    const inner = await folder('Within', old);
    const id = await report('Long gone', { folder: inner });
    await store.library.setAsideFolder(old);
    const names = async () => (await store.library.bin(viewer('Rui'))).map(({ name }) => name);
    expect(await names()).toContain('Long ago');
    await database.query(`update folder set deleted_at = now() - interval '31 days' where id = $1`, [old]);
    await store.library.setAsideFolder(later);
    expect(await names()).not.toContain('Long ago');
    expect(await names()).toContain('Just now');
    expect(await store.revisions(id)).toEqual([]);
    expect(await store.library.isFolderFree(inner)).toBe(true);
  });

  it('finds by name, note, tags and content, without accents, and puts names first', async () => {
    const band = (text: string) => ({
      header: { height: 10, items: [{ kind: 'text', id: 't', x: 0, y: 0, width: 50, height: 5, content: [text] }] },
    });
    const said = await report('Hut handbook', {}, band('Wardens and their keys'));
    await report('Warden roster');
    await store.library.changeThing(said, { note: 'Para o início da época', tags: ['print shop'] });
    const who = viewer('Rui');
    expect(await seenBy(who, { find: 'warden', sort: 'best' })).toEqual(['Warden roster', 'Hut handbook']);
    expect(await seenBy(who, { find: 'inicio epoca' })).toEqual(['Hut handbook']);
    expect(await seenBy(who, { find: 'PRINT' })).toEqual(['Hut handbook']);
    for (const odd of ['!', "' & |", '*:*', 'warden & !', '\\'])
      expect(await seenBy(who, { find: odd })).toBeInstanceOf(Array);
    expect(await seenBy(who, { find: '!' })).toEqual([]);
  });

  it('shows readers what is published alone, and lets them find nothing else in it', async () => {
    const texts = (text: string) => named('Tariffs', { description: text });
    const { id } = await store.create(texts('old prices'), 'Inês', undefined, { publish: false });
    const [reader, maker] = [viewer('Duarte', [], { most: 'see' }), viewer('Inês')];
    expect(await store.library.thing(reader, id)).toBeNull();
    expect(await seenBy(maker)).toContain('Tariffs');
    await store.publish(id, 1, 'Inês', 'for the season');
    expect((await store.library.thing(reader, id))?.published).toBe(1);
    await store.save(id, texts('secret prices'), 1, 'Inês', '', false);
    expect(await seenBy(reader, { find: 'old' })).toContain('Tariffs');
    expect(await seenBy(reader, { find: 'secret' })).toEqual([]);
    expect(await seenBy(maker, { find: 'secret' })).toEqual(['Tariffs']);
    await store.publish(id, null, 'Inês', '');
    expect(await store.library.thing(reader, id)).toBeNull();
    expect((await store.publications(id)).map(({ revision, note }) => [revision, note])).toEqual([
      [null, ''],
      [1, 'for the season'],
    ]);
  });

  it('remembers stars and what was opened, for each person', async () => {
    const id = await report('Starred');
    await store.library.star('Rui', id, true);
    await store.library.noteOpened('Rui', id);
    expect(await seenBy(viewer('Rui'), { place: 'starred' })).toEqual(['Starred']);
    expect(await seenBy(viewer('Rui'), { place: 'recent', sort: 'opened', descending: true })).toEqual(['Starred']);
    expect(await seenBy(viewer('Ana'), { place: 'starred' })).toEqual([]);
    await store.library.star('Rui', id, false);
    expect(await seenBy(viewer('Rui'), { place: 'starred' })).toEqual([]);
  });
});

describe('what somebody may do, held against a plain walk from the root', () => {
  interface Tree {
    folders: {
      parent: number;
      inherits: boolean;
      owner: string | null;
      grants: [string, AccessLevel][];
      gone: boolean;
    }[];
    things: {
      folder: number;
      inherits: boolean;
      owner: string | null;
      published: boolean;
      grants: [string, AccessLevel][];
    }[];
  }
  const USERS = ['a', 'b', 'c'];
  const GROUPS = ['x', 'y', 'z'];
  const principal = fc.constantFrom('everybody', ...USERS.map((u) => `user:${u}`), ...GROUPS.map((g) => `group:${g}`));
  const given = fc.uniqueArray(fc.tuple(principal, fc.constantFrom(...ACCESS_LEVELS)), {
    maxLength: 2,
    selector: ([name]) => name,
  });
  const owner = fc.option(fc.constantFrom(...USERS), { freq: 2 });
  const tree: fc.Arbitrary<Tree> = fc.record({
    folders: fc.array(
      fc.record({
        parent: fc.nat(20),
        inherits: fc.boolean(),
        owner,
        grants: given,
        gone: fc.nat(9).map((n) => n === 0),
      }),
      { minLength: 1, maxLength: 12 },
    ),
    things: fc.array(
      fc.record({ folder: fc.nat(20), inherits: fc.boolean(), owner, published: fc.boolean(), grants: given }),
      { minLength: 1, maxLength: 12 },
    ),
  });

  const rank = (grants: readonly [string, AccessLevel][], who: Viewer): number => {
    const names = ['everybody', `user:${who.user}`, ...who.groups.map((g) => `group:${g}`)];
    return Math.max(0, ...grants.filter(([name]) => names.includes(name)).map(([, level]) => rankOf(level)));
  };

  it('for random trees, grants and people', async () => {
    await fc.assert(
      fc.asyncProperty(tree, async ({ folders, things }) => {
        const top = await folder('Top');
        await store.library.changeFolder(top, { inherits: false }, 'test');
        const ids: string[] = [];
        for (const [i, one] of folders.entries()) {
          const parent = i === 0 ? top : [top, ...ids][one.parent % (i + 1)]!;
          const id = await folder(`F${i}`, parent, one.owner);
          await store.library.changeFolder(id, { inherits: one.inherits }, 'test');
          for (const [name, level] of one.grants) await store.grants.put({ folder: id }, name, level, 'test');
          ids.push(id);
        }
        for (const [i, one] of folders.entries()) if (one.gone) await store.library.setAsideFolder(ids[i]!);
        const made: string[] = [];
        for (const [i, one] of things.entries()) {
          const where = { folder: ids[one.folder % ids.length]!, owner: one.owner, publish: one.published };
          const id = await report(`T${i}`, where);
          await store.library.changeThing(id, { inherits: one.inherits });
          for (const [name, level] of one.grants) await store.grants.put({ thing: id }, name, level, 'test');
          made.push(id);
        }
        const parentOf = (i: number): number => (i === 0 ? -1 : (folders[i]!.parent % (i + 1)) - 1);
        for (const who of [
          viewer('a', ['x']),
          viewer('b', ['y', 'z']),
          viewer('c', [], { most: 'see' }),
          viewer('d'),
        ]) {
          const ofFolder = (i: number): number => {
            if (i < 0) return 0;
            const { grants, owner: own, inherits } = folders[i]!;
            return Math.max(rank(grants, who), own === who.user ? 4 : 0, inherits ? ofFolder(parentOf(i)) : 0);
          };
          const isGone = (i: number): boolean => i >= 0 && (folders[i]!.gone || isGone(parentOf(i)));
          const most = rankOf(who.most);
          const expected = things.flatMap((one, i) => {
            const at = one.folder % ids.length;
            const own = Math.max(rank(one.grants, who), one.owner === who.user ? 4 : 0);
            const level = Math.min(most, Math.max(own, one.inherits ? ofFolder(at) : 0));
            const isSeen = !isGone(at) && (level >= 2 || (level === 1 && one.published));
            const inFolder = ofFolder(at) > 0 ? ids[at] : null;
            return isSeen ? [[made[i], ACCESS_LEVELS[level - 1], inFolder]] : [];
          });
          const all = await store.library.things(who, ALL);
          const found = all.things
            .filter(({ id }) => made.includes(id))
            .map(({ id, may, folder }) => [id, may, folder]);
          expect(found.sort()).toEqual(expected.sort());
          for (const id of made) {
            const one = await store.library.thing(who, id);
            expect(one ? [one.id, one.may, one.folder] : null).toEqual(
              expected.find(([other]) => other === id) ?? null,
            );
          }
          const seen = (await store.library.folders(who)).filter(({ id }) => ids.includes(id));
          const expectedFolders = ids.flatMap((id, i) =>
            ofFolder(i) > 0 && !isGone(i)
              ? [
                  [
                    id,
                    ACCESS_LEVELS[Math.min(most, ofFolder(i)) - 1],
                    expected.filter(([, , where]) => where === id).length,
                  ],
                ]
              : [],
          );
          expect(seen.map(({ id, may, things: count }) => [id, may, count]).sort()).toEqual(expectedFolders.sort());
        }
        await store.library.setAsideFolder(top);
      }),
      { numRuns: 12 },
    );
  }, 120_000);
});
