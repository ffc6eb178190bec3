import type { GivenValue } from '@gaveta/core/internal';
import { and, desc, eq, isNull, sql } from 'drizzle-orm';
import type { Claims } from '../access/claims.ts';
import type { StoreDatabase } from './opened-database.ts';
import { links } from './schema.ts';

/** A link by which people without an account read one report, as whoever shared it sees it. */
export interface StoredLink {
  id: string;
  report: string;
  /** Who it is for, in words of whoever shared it. */
  label: string;
  /** Who shared it, with all that decides on what is seen. */
  by: string;
  groups: string[];
  /** They saw everything, whatever was granted. */
  managesAll: boolean;
  claims: Claims;
  hostParameters: Record<string, GivenValue>;
  /** Values of the report’s parameters, which readers cannot change. */
  values: Record<string, GivenValue>;
  madeAt: string;
  endsAt: string;
  revokedAt: string | null;
  /** How often it was opened, and when last. */
  opened: number;
  openedAt: string | null;
}

export interface LinkStore {
  create(link: Omit<StoredLink, 'madeAt' | 'revokedAt' | 'opened' | 'openedAt'>): Promise<StoredLink>;
  get(id: string): Promise<StoredLink | null>;
  /** Of one report, the newest first; also those that ended. */
  list(report: string): Promise<StoredLink[]>;
  /** False: there is none that still leads anywhere. */
  revoke(report: string, id: string): Promise<boolean>;
  noteOpened(id: string): Promise<void>;
}

export const createLinkStore = (db: StoreDatabase): LinkStore => {
  const asLink = (row: typeof links.$inferSelect): StoredLink => {
    const { madeAt, endsAt, revokedAt, openedAt, reportId: report, ...rest } = row;
    return {
      ...rest,
      report,
      madeAt: madeAt.toISOString(),
      endsAt: endsAt.toISOString(),
      revokedAt: revokedAt?.toISOString() ?? null,
      openedAt: openedAt?.toISOString() ?? null,
    };
  };
  return {
    async create({ report, endsAt, ...given }) {
      const [row] = await db
        .insert(links)
        .values({ ...given, reportId: report, endsAt: new Date(endsAt) })
        .returning();
      return asLink(row!);
    },
    async get(id) {
      const [row] = await db.select().from(links).where(eq(links.id, id));
      return row ? asLink(row) : null;
    },
    async list(report) {
      const rows = await db.select().from(links).where(eq(links.reportId, report)).orderBy(desc(links.madeAt));
      return rows.map(asLink);
    },
    async revoke(report, id) {
      const isOne = and(eq(links.id, id), eq(links.reportId, report), isNull(links.revokedAt));
      return (await db.update(links).set({ revokedAt: new Date() }).where(isOne).returning()).length > 0;
    },
    async noteOpened(id) {
      await db
        .update(links)
        .set({ opened: sql`${links.opened} + 1`, openedAt: new Date() })
        .where(eq(links.id, id));
    },
  };
};
