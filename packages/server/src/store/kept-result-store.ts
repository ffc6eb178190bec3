import type { GivenValue, Heading, RunState } from '@gaveta/core/internal';
import { and, arrayOverlaps, asc, desc, eq, lt, lte, or, sql } from 'drizzle-orm';
import type { DeliveryFile, FileFacts } from './delivery-records.ts';
import { keptFiles, keptPages, keptPictures, keptResults } from './delivery-schema.ts';
import type { StoreDatabase } from './opened-database.ts';
import { principalsOf, type Viewer } from './viewer.ts';

/** A result that stays as it was. */
export interface KeptResult {
  id: string;
  /** Null: it came of none, or that is gone. */
  delivery: string | null;
  report: string;
  name: string;
  owner: string;
  /** Who else may see it, as grants name them. */
  principals: string[];
  values: Record<string, GivenValue>;
  /** ISO 8601. */
  madeAt: string;
  pages: number;
  rows: number;
  run: { state: RunState; headings: Heading[] };
}

/** Pages that stand together, packed; `first`: the number of the first, from 1. */
export interface PackedPages {
  first: number;
  bytes: Uint8Array;
}

export interface KeptResultStore {
  /** Keeps a result with all that belongs to it, or nothing; false: it is kept already. */
  create(
    result: Omit<KeptResult, 'madeAt'>,
    parts: {
      pages: readonly PackedPages[];
      pictures: ReadonlyMap<string, Uint8Array>;
      files: readonly DeliveryFile[];
    },
  ): Promise<boolean>;
  /** Those that somebody may see, the newest first. */
  list(
    viewer: Viewer,
    asked: { report?: string | undefined; delivery?: string | undefined; before?: string | undefined; count: number },
  ): Promise<KeptResult[]>;
  get(viewer: Viewer, id: string): Promise<KeptResult | null>;
  /** The pack that a page is in; null: there is none. */
  pages(id: string, page: number): Promise<PackedPages | null>;
  /** A picture on pages that somebody may see. */
  picture(viewer: Viewer, hash: string): Promise<Uint8Array | null>;
  fileFacts(id: string): Promise<FileFacts[]>;
  file(id: string, place: number): Promise<DeliveryFile | null>;
  remove(id: string): Promise<void>;
}

export const createKeptResultStore = (db: StoreDatabase): KeptResultStore => {
  const asResult = (row: typeof keptResults.$inferSelect): KeptResult => {
    const { deliveryId: delivery, reportId: report, madeAt, run, ...rest } = row;
    return { ...rest, delivery, report, madeAt: madeAt.toISOString(), run: run as KeptResult['run'] };
  };
  // Whatever else somebody may see in the library: on these pages are the rows that the owner sees.
  const isSeenBy = (viewer: Viewer) =>
    viewer.user === null
      ? undefined
      : or(eq(keptResults.owner, viewer.user), arrayOverlaps(keptResults.principals, principalsOf(viewer)));
  return {
    create: ({ delivery, report, ...result }, { pages, pictures, files }) =>
      db.transaction(async (transaction) => {
        const made = await transaction
          .insert(keptResults)
          .values({ ...result, deliveryId: delivery, reportId: report })
          .onConflictDoNothing()
          .returning({ id: keptResults.id });
        if (made.length === 0) return false;
        const resultId = result.id;
        for (const one of pages) await transaction.insert(keptPages).values({ resultId, ...one });
        for (const [hash, bytes] of pictures) await transaction.insert(keptPictures).values({ resultId, hash, bytes });
        for (const [place, { name, mime, bytes }] of files.entries())
          await transaction.insert(keptFiles).values({ resultId, place, name, mime, size: bytes.byteLength, bytes });
        return true;
      }),
    async list(viewer, { report, delivery, before, count }) {
      const rows = await db
        .select()
        .from(keptResults)
        .where(
          and(
            isSeenBy(viewer),
            report === undefined ? undefined : eq(keptResults.reportId, report),
            delivery === undefined ? undefined : eq(keptResults.deliveryId, delivery),
            before === undefined ? undefined : lt(keptResults.madeAt, new Date(before)),
          ),
        )
        .orderBy(desc(keptResults.madeAt))
        .limit(count);
      return rows.map(asResult);
    },
    async get(viewer, id) {
      const [row] = await db
        .select()
        .from(keptResults)
        .where(and(isSeenBy(viewer), eq(keptResults.id, id)));
      return row ? asResult(row) : null;
    },
    async pages(id, page) {
      const { first, bytes } = keptPages;
      const [row] = await db
        .select({ first, bytes })
        .from(keptPages)
        .where(and(eq(keptPages.resultId, id), lte(first, page)))
        .orderBy(desc(first))
        .limit(1);
      return row ?? null;
    },
    async picture(viewer, hash) {
      const [row] = await db
        .select({ bytes: keptPictures.bytes })
        .from(keptPictures)
        .innerJoin(keptResults, eq(keptResults.id, keptPictures.resultId))
        .where(and(isSeenBy(viewer), eq(keptPictures.hash, hash)))
        .limit(1);
      return row?.bytes ?? null;
    },
    async fileFacts(id) {
      const { place, name, mime, size } = keptFiles;
      return db
        .select({ place, name, mime, size })
        .from(keptFiles)
        .where(eq(keptFiles.resultId, id))
        .orderBy(asc(place));
    },
    async file(id, place) {
      const { name, mime, bytes } = keptFiles;
      const [row] = await db
        .select({ name, mime, bytes })
        .from(keptFiles)
        .where(and(eq(keptFiles.resultId, id), eq(keptFiles.place, place)));
      return row ?? null;
    },
    async remove(id) {
      await db.delete(keptResults).where(sql`${keptResults.id} = ${id}`);
    },
  };
};
