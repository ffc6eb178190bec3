import type { Act } from '@gaveta/core/contract';
import { and, desc, eq, gte, ilike, inArray, lt, or, type SQL, sql } from 'drizzle-orm';
import type { StoreDatabase } from './opened-database.ts';
import type { Reaches } from './reach.ts';
import { activity, reports } from './schema.ts';
import type { Viewer } from './viewer.ts';

export interface Activity {
  id: number;
  at: string;
  user: string;
  act: Act;
  /** What it was done with; null: with no single thing. */
  thing: string | null;
  /** What that was called then. */
  name: string;
  data: Record<string, unknown>;
}

export interface AskedActivity {
  thing?: string | undefined;
  user?: string | undefined;
  act?: Act | undefined;
  /** Letters of who, or of what it is called. */
  find: string;
  /** Moments as ISO 8601; the second one is left out. */
  from?: string | undefined;
  until?: string | undefined;
  /** Only those before the one with this id. */
  before?: number | undefined;
  count: number;
}

/** Who did what. Rows are only added, and removed once they are old. */
export interface ActivityStore {
  add(entries: readonly Omit<Activity, 'id' | 'at'>[]): Promise<void>;
  /** The newest first, of what somebody may decide about. */
  list(viewer: Viewer, asked: AskedActivity): Promise<Activity[]>;
  /** Removes what is older than so many days. */
  sweep(days: number): Promise<void>;
}

const like = (text: string): string => `%${text.replace(/[\\%_]/g, '\\$&')}%`;

export const createActivityStore = (db: StoreDatabase, reaches: Reaches): ActivityStore => ({
  async add(entries) {
    if (entries.length > 0) await db.insert(activity).values([...entries]);
  },
  async list(viewer, { thing, user, act, find, from, until, before, count }) {
    const reach = await reaches.of(viewer);
    const managed = db.select({ id: reports.id }).from(reports).where(reach.managed());
    const all: (SQL | undefined)[] = [
      // What is gone for good is told to those who manage everything.
      or(
        inArray(activity.thing, managed),
        reach.seesAll ? sql`not exists (select 1 from ${reports} where ${reports.id} = ${activity.thing})` : undefined,
      ),
      thing === undefined ? undefined : eq(activity.thing, thing),
      user === undefined ? undefined : eq(activity.user, user),
      act === undefined ? undefined : eq(activity.act, act),
      find.trim() === ''
        ? undefined
        : or(ilike(activity.name, like(find.trim())), ilike(activity.user, like(find.trim()))),
      from === undefined ? undefined : gte(activity.at, new Date(from)),
      until === undefined ? undefined : lt(activity.at, new Date(until)),
      before === undefined ? undefined : lt(activity.id, before),
    ];
    const rows = await db
      .select()
      .from(activity)
      .where(and(...all))
      .orderBy(desc(activity.id))
      .limit(count);
    return rows.map(({ at, ...row }) => ({ ...row, at: at.toISOString() }));
  },
  async sweep(days) {
    await db.delete(activity).where(lt(activity.at, new Date(Date.now() - days * 24 * 3600 * 1000)));
  },
});
