import { and, eq, gte, inArray, sql } from 'drizzle-orm';
import type { StoreDatabase } from './opened-database.ts';
import { firstPages, runDays } from './schema.ts';
import { unlessGone } from './unless-gone.ts';

/** A small picture of a first page as somebody sees it. */
export interface FirstPage {
  revision: number;
  /** A PNG; null: there is none to be had. */
  picture: Uint8Array | null;
  /** Milliseconds since 1970. */
  madeAt: number;
}

/** How often a thing ran in the last thirty days, and how long a run took on average. */
export interface RunsOfThing {
  runs: number;
  milliseconds: number;
}

/** What is known of things by running them. */
export interface FirstPageStore {
  get(id: string, seenBy: string): Promise<FirstPage | null>;
  put(id: string, seenBy: string, page: Omit<FirstPage, 'madeAt'>): Promise<void>;
  noteRun(id: string, milliseconds: number): Promise<void>;
  /** Of those that ran. */
  runsOf(ids: readonly string[]): Promise<Map<string, RunsOfThing>>;
}

/** Pictures that are kept; those that were made first go first. */
const MOST = 20_000;
/** One in so many times that a picture is put, those over that are removed. */
const SWEEP = 200;
/** Days of runs that are counted. */
const DAYS = 30;

const dayOf = (moment: number): string => new Date(moment).toISOString().slice(0, 10);

export const createFirstPageStore = (db: StoreDatabase): FirstPageStore => {
  let put = 0;
  return {
    async get(id, seenBy) {
      const [row] = await db
        .select()
        .from(firstPages)
        .where(and(eq(firstPages.reportId, id), eq(firstPages.seenBy, seenBy)));
      return row ? { revision: row.revision, picture: row.picture, madeAt: row.madeAt.getTime() } : null;
    },
    async put(reportId, seenBy, { revision, picture }) {
      const made = { revision, picture, madeAt: new Date() };
      await unlessGone(
        db
          .insert(firstPages)
          .values({ reportId, seenBy, ...made })
          .onConflictDoUpdate({ target: [firstPages.reportId, firstPages.seenBy], set: made }),
      );
      put++;
      if (put % SWEEP === 0)
        await db.execute(sql`
          delete from ${firstPages} where made_at < (
            select made_at from ${firstPages} order by made_at desc offset ${MOST} limit 1
          )`);
    },
    async noteRun(reportId, milliseconds) {
      const now = Date.now();
      const noting = db
        .insert(runDays)
        .values({ reportId, day: dayOf(now), runs: 1, milliseconds: Math.round(milliseconds) })
        .onConflictDoUpdate({
          target: [runDays.reportId, runDays.day],
          set: {
            runs: sql`${runDays.runs} + 1`,
            milliseconds: sql`${runDays.milliseconds} + excluded.milliseconds`,
          },
        });
      await unlessGone(noting);
    },
    async runsOf(ids) {
      if (ids.length === 0) return new Map();
      const since = dayOf(Date.now() - DAYS * 24 * 3600 * 1000);
      const rows = await db
        .select({
          id: runDays.reportId,
          runs: sql<number>`sum(${runDays.runs})::int`,
          milliseconds: sql<number>`(sum(${runDays.milliseconds}) / sum(${runDays.runs}))::float8`,
        })
        .from(runDays)
        .where(and(inArray(runDays.reportId, [...ids]), gte(runDays.day, since)))
        .groupBy(runDays.reportId);
      return new Map(rows.map(({ id, runs, milliseconds }) => [id, { runs, milliseconds }]));
    },
  };
};
