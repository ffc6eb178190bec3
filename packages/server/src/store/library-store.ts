import { randomUUID } from 'node:crypto';
import type { AccessLevel, Publishing } from '@gaveta/core/contract';
import { and, asc, desc, eq, inArray, isNotNull, isNull, type SQL, sql } from 'drizzle-orm';
import type { Kept } from './kept.ts';
import type { Mention } from './mentions.ts';
import type { StoreDatabase } from './opened-database.ts';
import type { Counts, FolderReach, Reach, Reaches } from './reach.ts';
import { folders, marks, mentions, ROOT, reports, type StoredKind } from './schema.ts';
import { gatherWords, wanted } from './search-words.ts';
import { asStored, RESTORABLE_FOR, type StoredReport, type ThingRow, thingColumns } from './stored-report.ts';
import { unlessGone } from './unless-gone.ts';
import { levelAt, rankOf, type Viewer } from './viewer.ts';

/** A folder as somebody sees it. */
export interface SeenFolder {
  id: string;
  /** Null at the top, and where the one around it may not be seen. */
  parent: string | null;
  name: string;
  note: string;
  owner: string | null;
  isPersonal: boolean;
  /** In the own folder of somebody else. */
  isForeign: boolean;
  inherits: boolean;
  /** How things in it are published, with what it has of the folders around it. */
  publishing: Publishing;
  /** Its own; null: as the folder around it. */
  ownPublishing: Publishing | null;
  may: AccessLevel;
  /** Things in it that they see, those of inner folders left out. */
  things: number;
}

/** A thing of the library as somebody sees it. */
export interface SeenThing extends StoredReport {
  may: AccessLevel;
  /** How it is published. */
  publishing: Publishing;
  isStarred: boolean;
  /** When they opened it last; null: never. */
  openedAt: string | null;
}

export const PLACES = ['folder', 'all', 'recent', 'starred', 'mine', 'shared'] as const;
export const SORTS = ['best', 'name', 'changed', 'opened'] as const;

export interface AskedThings {
  place: (typeof PLACES)[number];
  /** Of the place `folder`. */
  folder?: string | undefined;
  /** Left out: all of them. `template`: reports that new ones may begin as; `run`: reports and sketches; `data`: recipes and connections. */
  kind?: StoredKind | 'template' | 'run' | 'data' | undefined;
  /** What they name. */
  mentions?: Mention;
  /** Words that each begin a word of its name, note, tags or content. */
  find: string;
  /** `best`: what fits the words best. */
  sort: (typeof SORTS)[number];
  descending: boolean;
  /** From 0. */
  from: number;
  count: number;
}

/** What was deleted, and can be restored. */
export interface Binned {
  kind: StoredReport['kind'] | 'folder';
  id: string;
  name: string;
  deletedAt: string;
}

/** Folders, and what is in them, as somebody sees them. Who may is decided here; whether a call may be made, by services. */
export interface LibraryStore {
  /** All of them, by name. */
  folders(viewer: Viewer): Promise<SeenFolder[]>;
  /** Null: there is none for them. */
  folder(viewer: Viewer, id: string): Promise<SeenFolder | null>;
  createFolder(
    given: { name: string; note: string; parent: string; owner: string | null },
    by: string,
    id?: string,
  ): Promise<string>;
  /** Whether no folder has an id, also none that was deleted. */
  isFolderFree(id: string): Promise<boolean>;
  changeFolder(
    id: string,
    given: { name?: string; note?: string; publishing?: Publishing | null; inherits?: boolean },
    by: string,
  ): Promise<void>;
  /** False: it would be in itself. */
  moveFolder(id: string, parent: string, by: string): Promise<boolean>;
  setAsideFolder(id: string): Promise<void>;
  /** The own folder of a person, which is made when they first have something in it. */
  personal(user: string): Promise<string>;
  /** `more`: there are others after them. */
  things(viewer: Viewer, asked: AskedThings): Promise<{ things: SeenThing[]; more: boolean }>;
  /** Null: there is none for them. `binned`: of those that were deleted. */
  thing(viewer: Viewer, id: string, binned?: boolean): Promise<SeenThing | null>;
  /** What they could restore, newest first. */
  bin(viewer: Viewer): Promise<Binned[]>;
  /** A deleted folder that they could restore. */
  binnedFolder(viewer: Viewer, id: string): Promise<Binned | null>;
  /** Brings a folder back with what was in it. */
  restoreFolder(id: string): Promise<void>;
  changeThing(
    id: string,
    given: { note?: string; tags?: string[]; folder?: string; inherits?: boolean; isTemplate?: boolean },
  ): Promise<void>;
  /** Ids of the entries of all recipes and connections that were not deleted themselves. */
  entries(): Promise<string[]>;
  /** Whether nothing has an id, also nothing that was deleted. */
  isFree(id: string): Promise<boolean>;
  /** What is in a folder and in those inside it, whoever may see it. */
  within(folder: string): Promise<{ id: string; name: string }[]>;
  star(user: string, id: string, isStarred: boolean): Promise<void>;
  noteOpened(user: string, id: string): Promise<void>;
}

/** Things that are run, and so have readers who wait for what is published. */
const RUN = ['report', 'sketch'] as const satisfies StoredKind[];
export const isRun = ({ kind }: { kind: StoredKind }): boolean => RUN.some((one) => one === kind);

const byName = new Intl.Collator('en', { numeric: true });
const moment = (value: Date | string): string => new Date(value).toISOString();

/** `kept`: things that were read, none of which is given as it was before it is written to. */
export const createLibraryStore = (db: StoreDatabase, reaches: Reaches, kept: Kept<unknown>): LibraryStore => {
  const reachOf = (viewer: Viewer): Promise<Reach> => reaches.of(viewer);
  /** Writes to folders; what is in them may be there no more, or again. */
  const writing = <R>(write: () => Promise<R>): Promise<R> => kept.writeAny(() => reaches.write(write));

  const markOf = (viewer: Viewer): SQL => and(eq(marks.reportId, reports.id), eq(marks.user, viewer.user ?? ''))!;
  const rowsOf = (viewer: Viewer) =>
    db
      .select({ report: thingColumns, isStarred: marks.isStarred, openedAt: marks.openedAt })
      .from(reports)
      .leftJoin(marks, markOf(viewer))
      .$dynamic();
  const asThing = (
    reach: Reach,
    { report, isStarred, openedAt }: { report: ThingRow; isStarred: boolean | null; openedAt: Date | null },
  ): SeenThing => ({
    ...asStored(report),
    folder: reach.folderOf(report),
    may: levelAt(reach.rankOf(report))!,
    publishing: isRun(report) ? reach.folders.get(report.folder)!.publishing : 'each-save',
    isStarred: isStarred ?? false,
    openedAt: openedAt && moment(openedAt),
  });
  const isThere = isNull(reports.deletedAt);

  const isIn = (reach: Reach, viewer: Viewer, { place, folder }: AskedThings): SQL | undefined => {
    switch (place) {
      case 'folder':
        return reach.folderOf({ folder: folder ?? ROOT }) === null ? sql`false` : eq(reports.folder, folder ?? ROOT);
      case 'all':
        return undefined;
      case 'recent':
        return isNotNull(marks.openedAt);
      case 'starred':
        return eq(marks.isStarred, true);
      case 'mine':
        return eq(reports.owner, viewer.user ?? '');
      case 'shared':
        return reach.isShared;
      default:
        return place satisfies never;
    }
  };
  /** Whoever may only read sees no more of the library than what they read. */
  const isListed = ({ most }: Viewer): SQL | undefined => (most === 'see' ? inArray(reports.kind, RUN) : undefined);
  const isOfKind = ({ kind }: AskedThings): SQL | undefined => {
    if (kind === undefined) return undefined;
    if (kind === 'run') return inArray(reports.kind, RUN);
    if (kind === 'data') return inArray(reports.kind, ['recipe', 'connection']);
    return kind === 'template' ? eq(reports.isTemplate, true) : eq(reports.kind, kind);
  };
  const doesMention = ({ mentions: named }: AskedThings): SQL | undefined =>
    named &&
    sql`exists (select 1 from ${mentions} where ${mentions.reportId} = ${reports.id} and ${mentions.kind} = ${named.kind} and ${mentions.value} = ${named.value})`;
  const name = sql`lower(${reports.name})`;
  const orderOf = ({ sort, descending }: AskedThings): SQL[] => {
    const by = descending ? desc : asc;
    if (sort === 'changed') return [by(reports.changedAt), asc(name)];
    if (sort === 'opened') return [sql`${by(marks.openedAt)} nulls last`, asc(name)];
    return [by(name), by(reports.id)];
  };
  /** Things with some words in what may be seen of them. A text without a letter or digit stands nowhere. */
  const seenWith = (reach: Reach, words: SQL | null): SQL =>
    words
      ? reach.seen({
          ofNewest: sql`${reports.search} @@ ${words}`,
          ofPublished: sql`${reports.publishedSearch} @@ ${words}`,
        })
      : sql`false`;

  const asFolder = (reach: Reach, one: FolderReach, count: number): SeenFolder => {
    const { row, publishing, isForeign } = one;
    const { id, owner, note, isPersonal, inherits } = row;
    const parent = row.parent !== null && (reach.folders.get(row.parent)?.rank ?? 0) > 0 ? row.parent : null;
    return {
      ...{ id, parent, name: row.name, note, owner, isPersonal, isForeign, inherits, publishing },
      ownPublishing: row.publishing,
      may: levelAt(one.rank)!,
      things: count,
    };
  };
  const countsFor = (viewer: Viewer, reach: Reach): Promise<Counts> =>
    reaches.counts(viewer, async () => {
      const rows = await db
        .select({ folder: reports.folder, count: sql<number>`count(*)::int` })
        .from(reports)
        .where(and(isThere, isListed(viewer), reach.seen()))
        .groupBy(reports.folder);
      return new Map(rows.map(({ folder, count }) => [folder, count]));
    });
  const seenFolders = (reach: Reach): FolderReach[] =>
    [...reach.folders.values()].filter(({ rank, isGone }) => rank > 0 && !isGone);
  /** What was deleted inside one that is gone itself comes up once that one is back. */
  const binnedFolders = (reach: Reach): Binned[] =>
    [...reach.folders.values()]
      .filter(({ row, rank, isAroundGone }) => row.deletedAt !== null && !isAroundGone && rank >= rankOf('change'))
      .map(({ row: { id, name, deletedAt } }) => ({ kind: 'folder', id, name, deletedAt: moment(deletedAt!) }));

  const setMark = async (user: string, reportId: string, set: Partial<typeof marks.$inferInsert>): Promise<void> => {
    await unlessGone(
      db
        .insert(marks)
        .values({ user, reportId, ...set })
        .onConflictDoUpdate({ target: [marks.user, marks.reportId], set }),
    );
  };

  return {
    async folders(viewer) {
      const reach = await reachOf(viewer);
      const counts = await countsFor(viewer, reach);
      return seenFolders(reach)
        .map((one) => asFolder(reach, one, counts.get(one.row.id) ?? 0))
        .sort((a, b) => byName.compare(a.name, b.name) || (a.id < b.id ? -1 : 1));
    },
    async folder(viewer, id) {
      const reach = await reachOf(viewer);
      const one = reach.folders.get(id);
      if (!one || one.rank === 0 || one.isGone) return null;
      return asFolder(reach, one, (await countsFor(viewer, reach)).get(id) ?? 0);
    },
    createFolder: ({ name: called, note, parent, owner }, by, id = randomUUID()) =>
      writing(async () => {
        await db.insert(folders).values({ id, name: called, note, parent, owner, changedBy: by });
        return id;
      }),
    async isFolderFree(id) {
      return (await db.select({ id: folders.id }).from(folders).where(eq(folders.id, id))).length === 0;
    },
    changeFolder: (id, given, by) =>
      writing(async () => {
        await db
          .update(folders)
          .set({ ...given, changedBy: by, changedAt: new Date() })
          .where(eq(folders.id, id));
      }),
    moveFolder: (id, parent, by) =>
      writing(() =>
        db.transaction(async (transaction) => {
          // Of two that are moved into each other at once, the second one is refused.
          await transaction.execute(sql`select id from ${folders} where parent_id is null for update`);
          const around = sql`
            with recursive around as (
              select id, parent_id from ${folders} where id = ${parent}
              union all
              select f.id, f.parent_id from ${folders} f join around a on f.id = a.parent_id
            )
            select 1 from around where id = ${id}`;
          const moved = await transaction
            .update(folders)
            .set({ parent, changedBy: by, changedAt: new Date() })
            .where(and(eq(folders.id, id), sql`not exists (${around})`))
            .returning({ id: folders.id });
          return moved.length > 0;
        }),
      ),
    setAsideFolder: (id) =>
      writing(() =>
        db.transaction(async (transaction) => {
          // What was deleted too long ago goes for good, with all that is in it.
          const over = new Date(Date.now() - RESTORABLE_FOR);
          const old = sql`(
            with recursive old as (
              select f.id from ${folders} f where f.deleted_at < ${over.toISOString()}::timestamptz
              union
              select f.id from ${folders} f join old o on f.parent_id = o.id
            )
            select id from old
          )`;
          await transaction.delete(reports).where(sql`${reports.folder} in ${old}`);
          await transaction.delete(folders).where(sql`${folders.id} in ${old}`);
          await transaction.update(folders).set({ deletedAt: new Date() }).where(eq(folders.id, id));
        }),
      ),
    async personal(user) {
      const isTheirs = and(eq(folders.owner, user), eq(folders.isPersonal, true));
      const own = { id: randomUUID(), name: user, owner: user, isPersonal: true, publishing: 'each-save' as const };
      await writing(() =>
        db
          .insert(folders)
          .values({ ...own, changedBy: user })
          .onConflictDoNothing(),
      );
      const [row] = await db.select({ id: folders.id }).from(folders).where(isTheirs);
      return row!.id;
    },
    async things(viewer, asked) {
      const reach = await reachOf(viewer);
      const { find, sort, from, count } = asked;
      const words = wanted(find);
      const isFound = find.trim() === '' ? reach.seen() : seenWith(reach, words);
      // Those that are called so come before those that say so.
      const isCalled = sort === 'best' && words ? [desc(sql`${reports.nameSearch} @@ ${words}`)] : [];
      const found = await rowsOf(viewer)
        .where(and(isThere, isListed(viewer), isOfKind(asked), doesMention(asked), isIn(reach, viewer, asked), isFound))
        .orderBy(...isCalled, ...orderOf(asked))
        .limit(count + 1)
        .offset(from);
      return { things: found.slice(0, count).map((row) => asThing(reach, row)), more: found.length > count };
    },
    async thing(viewer, id, binned = false) {
      const reach = await reachOf(viewer);
      const isOne = binned ? isNotNull(reports.deletedAt) : isThere;
      const [row] = await rowsOf(viewer).where(and(eq(reports.id, id), isOne, reach.seen()));
      return row ? asThing(reach, row) : null;
    },
    async bin(viewer) {
      const reach = await reachOf(viewer);
      const rows = await db
        .select(thingColumns)
        .from(reports)
        .where(and(isNotNull(reports.deletedAt), reach.seen()));
      const things = rows
        .filter((row) => reach.rankOf(row) >= rankOf('change'))
        .map(({ kind, id, name: called, deletedAt }) => ({ kind, id, name: called, deletedAt: moment(deletedAt!) }));
      return [...things, ...binnedFolders(reach)].sort((a, b) => (a.deletedAt < b.deletedAt ? 1 : -1));
    },
    async binnedFolder(viewer, id) {
      return binnedFolders(await reachOf(viewer)).find((one) => one.id === id) ?? null;
    },
    restoreFolder: (id) =>
      writing(async () => {
        await db.update(folders).set({ deletedAt: null }).where(eq(folders.id, id));
      }),
    changeThing: (id, given) =>
      kept.write(id, () =>
        db.transaction(async (transaction) => {
          await transaction.update(reports).set(given).where(eq(reports.id, id));
          if (given.note !== undefined || given.tags) await gatherWords(transaction, id);
        }),
      ),
    async entries() {
      const isEntry = inArray(reports.kind, ['recipe', 'connection']);
      const rows = await db.select({ id: reports.id }).from(reports).where(and(isEntry, isThere));
      return rows.map(({ id }) => id);
    },
    async isFree(id) {
      return (await db.select({ id: reports.id }).from(reports).where(eq(reports.id, id))).length === 0;
    },
    async within(folder) {
      const inside = sql`(
        with recursive inside as (
          select f.id from ${folders} f where f.id = ${folder}
          union
          select f.id from ${folders} f join inside i on f.parent_id = i.id
        )
        select id from inside
      )`;
      const isInside = sql`${reports.folder} in ${inside}`;
      return db.select({ id: reports.id, name: reports.name }).from(reports).where(and(isThere, isInside));
    },
    star: (user, id, isStarred) => setMark(user, id, { isStarred }),
    noteOpened: (user, id) => setMark(user, id, { openedAt: new Date() }),
  };
};
