import { randomUUID } from 'node:crypto';
import type { GivenValue } from '@gaveta/core/internal';
import { and, asc, count, eq, or } from 'drizzle-orm';
import type { StoreDatabase } from './opened-database.ts';
import { valueSets } from './schema.ts';

/** Values of a report’s parameters under a name. */
export interface ValueSet {
  id: string;
  name: string;
  values: Record<string, GivenValue>;
  isShared: boolean;
  isOwn: boolean;
  /** Whose it is. */
  by: string;
}

/** Sets of values that readers have named. Everybody sees their own, and those that are shared. */
export interface ValueSetStore {
  list(report: string, owner: string): Promise<ValueSet[]>;
  /** How many somebody has of a report. */
  count(report: string, owner: string): Promise<number>;
  /** One of the same name and owner is written over. */
  put(report: string, owner: string, given: Pick<ValueSet, 'name' | 'values' | 'isShared' | 'by'>): Promise<ValueSet>;
  /** `any`: also one of somebody else’s that is shared. */
  remove(report: string, owner: string, id: string, any: boolean): Promise<boolean>;
}

export const createValueSetStore = (db: StoreDatabase): ValueSetStore => {
  const read = ({ id, name, values, isShared, owner, by }: typeof valueSets.$inferSelect, asker: string): ValueSet => ({
    id,
    name,
    values,
    isShared,
    isOwn: owner === asker,
    by,
  });
  return {
    async list(report, owner) {
      const seen = or(eq(valueSets.owner, owner), eq(valueSets.isShared, true));
      const rows = await db
        .select()
        .from(valueSets)
        .where(and(eq(valueSets.reportId, report), seen))
        .orderBy(asc(valueSets.name));
      return rows.map((row) => read(row, owner));
    },
    async count(report, owner) {
      const [row] = await db
        .select({ count: count() })
        .from(valueSets)
        .where(and(eq(valueSets.reportId, report), eq(valueSets.owner, owner)));
      return row?.count ?? 0;
    },
    async put(report, owner, { name, values, isShared, by }) {
      const row = { values, isShared, by, savedAt: new Date() };
      const [put] = await db
        .insert(valueSets)
        .values({ id: randomUUID(), reportId: report, owner, name, ...row })
        .onConflictDoUpdate({ target: [valueSets.reportId, valueSets.owner, valueSets.name], set: row })
        .returning();
      return read(put!, owner);
    },
    async remove(report, owner, id, any) {
      const mine = eq(valueSets.owner, owner);
      const may = any ? or(mine, eq(valueSets.isShared, true)) : mine;
      const gone = await db
        .delete(valueSets)
        .where(and(eq(valueSets.reportId, report), eq(valueSets.id, id), may))
        .returning();
      return gone.length > 0;
    },
  };
};
