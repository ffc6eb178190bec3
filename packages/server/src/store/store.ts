import { randomUUID } from 'node:crypto';
import {
  type HouseThing,
  isHouseThing,
  type Read,
  readDefinition,
  readHouseThing,
  type Sketch,
} from '@gaveta/core/internal';
import { and, asc, desc, eq, inArray, isNotNull, isNull, lt, sql } from 'drizzle-orm';
import type { OpenPGlite } from '../connection/pglite.ts';
import type { Seal } from '../secrets/seal.ts';
import { type ActivityStore, createActivityStore } from './activity-store.ts';
import type { AskServer } from './ask-server.ts';
import { createDataStore, type DataStore } from './data-store.ts';
import { openDatabase } from './database.ts';
import { createDeliveryRunStore, type DeliveryRunStore } from './delivery-run-store.ts';
import { createDeliveryStore, type DeliveryStore } from './delivery-store.ts';
import { createDraftStore, type DraftStore, sketchIn } from './draft-store.ts';
import { createFirstPageStore, type FirstPageStore } from './first-page-store.ts';
import { createGrantStore, type GrantStore } from './grant-store.ts';
import { Kept } from './kept.ts';
import { createKeptResultStore, type KeptResultStore } from './kept-result-store.ts';
import { createLibraryStore, type LibraryStore } from './library-store.ts';
import { createLinkStore, type LinkStore } from './link-store.ts';
import { type Mention, type MentionKind, mentionsOf } from './mentions.ts';
import { Reaches } from './reach.ts';
import {
  type Definition,
  folders,
  mentions,
  publications,
  ROOT,
  reports,
  revisions,
  type StoredKind,
} from './schema.ts';
import { gatherWords } from './search-words.ts';
import {
  asStored,
  RESTORABLE_FOR,
  type StoredReport,
  type ThingRow,
  thingColumns,
  type Where,
} from './stored-report.ts';
import { createValueSetStore, type ValueSetStore } from './value-set-store.ts';

/** Reports whose newest revision is kept in memory once it was read. */
const MOST_KEPT = 200;

/** Characters of a definition from which on it is read each time. */
const LARGE = 200_000;

export type { StoredReport, Where };

export interface Revision {
  number: number;
  author: string;
  note: string;
  savedAt: string;
}

/** What stands in a revision, upgraded to the current format. */
export interface KeptDefinition {
  /** Of a report; that of anything else says that it is none. */
  read: Read;
  /** Null where it is none that can be read. */
  sketch: Sketch | null;
  /** A picture or theme; null where it is none that can be read. */
  house: HouseThing | null;
}

/** A thing of the library as it was last saved. */
export interface Newest extends KeptDefinition {
  stored: StoredReport;
}

export type Saved =
  | { ok: true; stored: StoredReport }
  /** Somebody else saved first; nothing was written. */
  | { ok: false; reason: 'conflict'; current: StoredReport }
  | { ok: false; reason: 'missing' };

/** What came before readers, or was taken back. */
export interface Publication {
  /** Null: from then on they saw none. */
  revision: number | null;
  by: string;
  note: string;
  at: string;
}

/** What the library keeps with its revisions, in PostgreSQL. What is not in {@link LibraryStore} asks nobody who they are. */
export interface Store {
  /** The reports and sketches, by name. */
  list(): Promise<StoredReport[]>;
  /** The newest revision; null when there is no such report. */
  get(id: string): Promise<Newest | null>;
  /** Which of these values the newest revisions of reports mention, each once. */
  mentioned(kind: MentionKind, values: readonly string[]): Promise<string[]>;
  /** Newest revisions that mention something, by name. */
  mentioning(mention: Mention): Promise<Newest[]>;
  revisions(id: string): Promise<Revision[]>;
  /** One revision; null when there is none. */
  revision(id: string, number: number): Promise<KeptDefinition | null>;
  create(report: Definition, author: string, id?: string, where?: Where): Promise<StoredReport>;
  /** Adds a revision if `base` is still the newest one. `publish`: readers see it from then on. */
  save(id: string, report: Definition, base: number, author: string, note: string, publish?: boolean): Promise<Saved>;
  /** Lets readers see a revision, or none. */
  publish(id: string, revision: number | null, by: string, note: string): Promise<void>;
  /** Notes that somebody asks to publish a revision; null: that nobody does any more. */
  ask(id: string, asked: StoredReport['asked']): Promise<void>;
  /** Revisions as they came before readers, newest first. */
  publications(id: string): Promise<Publication[]>;
  /** Takes a report away with its revisions and drafts, for good; false when there is none. */
  remove(id: string): Promise<boolean>;
  /** Deletes a report so that it can be restored for 30 days; false when there is none. */
  setAside(id: string): Promise<boolean>;
  /** A report that was deleted and can be restored; null when there is none. */
  deleted(id: string): Promise<StoredReport | null>;
  /** Brings back what was deleted; null when there is nothing to bring back. */
  restore(id: string): Promise<StoredReport | null>;
  /** Shared recipes and connections. */
  data: DataStore;
  library: LibraryStore;
  grants: GrantStore;
  firstPages: FirstPageStore;
  links: LinkStore;
  activity: ActivityStore;
  drafts: DraftStore;
  valueSets: ValueSetStore;
  deliveries: DeliveryStore;
  deliveryRuns: DeliveryRunStore;
  keptResults: KeptResultStore;
  /** Other processes may write to it as well. */
  isShared: boolean;
  /** Asks a server with a statement of its own, for a queue that keeps its jobs beside; null where the store is embedded. */
  askServer: AskServer | null;
  close(): Promise<void>;
}

const kindOf = (definition: Definition): StoredKind =>
  'sketch' in definition
    ? 'sketch'
    : isHouseThing(definition)
      ? 'gavetaPicture' in definition
        ? 'picture'
        : 'theme'
      : 'report';

const keptIn = (definition: Definition): KeptDefinition => ({
  read: readDefinition(definition),
  sketch: 'sketch' in definition ? sketchIn(definition) : null,
  house: isHouseThing(definition) ? readHouseThing(definition).thing : null,
});

/** See {@link openDatabase} for what a database may be. */
export const openStore = async (database: OpenPGlite | string, seal: Seal | null = null): Promise<Store> => {
  const { db, isShared, ask, close } = await openDatabase(database);
  type Transaction = Parameters<Parameters<typeof db.transaction>[0]>[0];
  const isSmall = (found: KeptDefinition | null): boolean => found !== null && JSON.stringify(found).length < LARGE;
  const reaches = new Reaches(db, isShared);
  const data = createDataStore(db, seal, { isShared, changed: () => reaches.recount() });
  const newest = new Kept<Newest | null>(isShared ? 0 : MOST_KEPT, isSmall, () => {
    reaches.recount();
    data.forget();
  });
  // What is in a folder that was deleted is gone with it.
  const goneFolders = sql`(
    with recursive gone as (
      select f.id from ${folders} f where f.deleted_at is not null
      union
      select f.id from ${folders} f join gone g on f.parent_id = g.id
    )
    select id from gone
  )`;
  const isThere = and(isNull(reports.deletedAt), sql`${reports.folder} not in ${goneFolders}`)!;
  const saved = new Kept<KeptDefinition | null>(MOST_KEPT, isSmall);
  const isDeleted = (id: string) => and(eq(reports.id, id), isNotNull(reports.deletedAt));

  const asNewest = (row: { report: ThingRow; revision: typeof revisions.$inferSelect }): Newest => ({
    stored: asStored(row.report),
    ...keptIn(row.revision.definition),
  });
  const isNewest = and(eq(revisions.reportId, reports.id), eq(revisions.number, reports.revision));
  /** A few hundred rows at most, since a definition is at most so large. */
  const writeMentions = async (transaction: Transaction, reportId: string, report: Definition): Promise<void> => {
    const rows = mentionsOf(report).map((mention) => ({ reportId, ...mention }));
    await transaction.delete(mentions).where(eq(mentions.reportId, reportId));
    if (rows.length > 0) await transaction.insert(mentions).values(rows);
  };

  await gatherMissing();

  return {
    async list() {
      const isRun = inArray(reports.kind, ['report', 'sketch']);
      return (await db.select(thingColumns).from(reports).where(and(isThere, isRun)).orderBy(asc(reports.name))).map(
        asStored,
      );
    },

    get: (id) =>
      newest.read(id, async () => {
        const isOne = and(eq(reports.id, id), isThere);
        const [row] = await db
          .select({ report: thingColumns, revision: revisions })
          .from(reports)
          .innerJoin(revisions, isNewest)
          .where(isOne);
        return row ? asNewest(row) : null;
      }),

    async mentioned(kind, values) {
      if (values.length === 0) return [];
      const isOne = and(eq(mentions.kind, kind), inArray(mentions.value, [...values]));
      return (await db.selectDistinct({ value: mentions.value }).from(mentions).where(isOne)).map((row) => row.value);
    },

    async mentioning({ kind, value }) {
      const rows = await db
        .select({ report: thingColumns, revision: revisions })
        .from(mentions)
        .innerJoin(reports, eq(reports.id, mentions.reportId))
        .innerJoin(revisions, isNewest)
        .where(and(eq(mentions.kind, kind), eq(mentions.value, value), isThere))
        .orderBy(asc(reports.name));
      return rows.map(asNewest);
    },

    async revisions(id) {
      const rows = await db.select().from(revisions).where(eq(revisions.reportId, id)).orderBy(desc(revisions.number));
      return rows.map(({ number, author, note, savedAt }) => ({
        number,
        author,
        note,
        savedAt: savedAt.toISOString(),
      }));
    },

    // Saved once, a revision stays as it is.
    revision: (id, number) =>
      saved.read(`${number} ${id}`, async () => {
        const [row] = await db
          .select()
          .from(revisions)
          .where(and(eq(revisions.reportId, id), eq(revisions.number, number)));
        return row ? keptIn(row.definition) : null;
      }),

    create(report, author, id = randomUUID(), { folder = ROOT, note = '', owner = null, publish = true } = {}) {
      const write = async (transaction: Transaction): Promise<StoredReport> => {
        // A new report takes the place of a deleted one of its id.
        await transaction.delete(reports).where(isDeleted(id));
        const [row] = await transaction
          .insert(reports)
          .values({
            ...{ id, kind: kindOf(report), name: report.name, folder, note, owner, revision: 1, changedBy: author },
            published: publish ? 1 : null,
          })
          .returning();
        await transaction.insert(revisions).values({ reportId: id, number: 1, definition: report, author });
        await writeMentions(transaction, id, report);
        await gatherWords(transaction, id);
        return asStored(row!);
      };
      return newest.write(id, () => db.transaction(write));
    },

    save(id, report, base, author, note, publish = true) {
      const write = async (transaction: Transaction): Promise<Saved> => {
        const changed = {
          ...{ name: report.name, revision: base + 1, changedAt: new Date(), changedBy: author },
          ...(publish ? { published: base + 1, asked: null } : {}),
        };
        // The condition and the write are one statement, so of two people saving at once one is told.
        const [row] = await transaction
          .update(reports)
          .set(changed)
          .where(and(eq(reports.id, id), eq(reports.revision, base), isThere))
          .returning();
        if (!row) {
          const [current] = await transaction
            .select()
            .from(reports)
            .where(and(eq(reports.id, id), isThere));
          return current
            ? { ok: false, reason: 'conflict', current: asStored(current) }
            : { ok: false, reason: 'missing' };
        }
        await transaction
          .insert(revisions)
          .values({ reportId: id, number: base + 1, definition: report, author, note });
        await writeMentions(transaction, id, report);
        await gatherWords(transaction, id);
        return { ok: true, stored: asStored(row) };
      };
      return newest.write(id, () => db.transaction(write));
    },

    publish: (id, revision, by, note) =>
      newest.write(id, () =>
        db.transaction(async (transaction) => {
          await transaction.update(reports).set({ published: revision, asked: null }).where(eq(reports.id, id));
          await transaction.insert(publications).values({ reportId: id, revision, by, note });
          await gatherWords(transaction, id);
        }),
      ),

    ask: (id, asked) =>
      newest.write(id, async () => {
        const { revision = null, by = null, note = null } = asked ?? {};
        await db.update(reports).set({ asked: revision, askedBy: by, askedNote: note }).where(eq(reports.id, id));
      }),

    async publications(id) {
      const rows = await db
        .select()
        .from(publications)
        .where(eq(publications.reportId, id))
        .orderBy(desc(publications.id));
      return rows.map(({ revision, by, note, at }) => ({ revision, by, note, at: at.toISOString() }));
    },

    remove: (id) =>
      newest.write(id, async () => {
        // What belongs to it goes with it.
        const gone = await db.delete(reports).where(eq(reports.id, id)).returning({ id: reports.id });
        return gone.length > 0;
      }),

    setAside: (id) =>
      newest.write(id, async () => {
        const now = new Date();
        const over = new Date(now.getTime() - RESTORABLE_FOR);
        await db.delete(reports).where(lt(reports.deletedAt, over));
        const isOne = and(eq(reports.id, id), isThere);
        return (await db.update(reports).set({ deletedAt: now }).where(isOne).returning()).length > 0;
      }),

    async deleted(id) {
      const [row] = await db.select().from(reports).where(isDeleted(id));
      return row ? asStored(row) : null;
    },

    restore: (id) =>
      newest.write(id, async () => {
        const [row] = await db.update(reports).set({ deletedAt: null }).where(isDeleted(id)).returning();
        return row ? asStored(row) : null;
      }),

    data,
    library: createLibraryStore(db, reaches, newest as Kept<unknown>),
    grants: createGrantStore(db, reaches),
    firstPages: createFirstPageStore(db),
    links: createLinkStore(db),
    activity: createActivityStore(db, reaches),
    drafts: createDraftStore(db),
    valueSets: createValueSetStore(db),
    deliveries: createDeliveryStore(db),
    deliveryRuns: createDeliveryRunStore(db),
    keptResults: createKeptResultStore(db),
    isShared,
    askServer: ask,
    close,
  };

  /** Gathers what things are found by that were stored before there was a search. */
  async function gatherMissing(): Promise<void> {
    const rows = await db.select({ id: reports.id }).from(reports).where(isNull(reports.search));
    for (const { id } of rows) await gatherWords(db, id);
  }
};
