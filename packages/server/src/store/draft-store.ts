import { type Read, type Report, readDefinition } from '@gaveta/core/internal';
import { and, desc, eq } from 'drizzle-orm';
import type { StoreDatabase } from './opened-database.ts';
import { drafts } from './schema.ts';

/** Work that is not saved yet, without its definition. */
export interface DraftHead {
  key: string;
  /** The stored report that it changes; null for a new one. */
  report: string | null;
  name: string;
  base: number;
  savedAt: string;
}

/** What people are working on and have not saved. Everybody sees their own alone. */
export interface DraftStore {
  list(author: string): Promise<DraftHead[]>;
  get(author: string, key: string): Promise<{ head: DraftHead; read: Read } | null>;
  put(
    author: string,
    key: string,
    given: { report: string | null; base: number; definition: Report },
  ): Promise<DraftHead>;
  /** `savedAt`: only as long as nothing newer was put by there; null whatever there is. */
  remove(author: string, key: string, savedAt?: string | null): Promise<boolean>;
}

export const createDraftStore = (db: StoreDatabase): DraftStore => {
  const headOf = (row: typeof drafts.$inferSelect): DraftHead => ({
    key: row.key,
    report: row.reportId,
    name: row.definition.name,
    base: row.base,
    savedAt: row.savedAt.toISOString(),
  });
  const one = (author: string, key: string) => and(eq(drafts.author, author), eq(drafts.key, key));
  return {
    async list(author) {
      return (await db.select().from(drafts).where(eq(drafts.author, author)).orderBy(desc(drafts.savedAt))).map(
        headOf,
      );
    },
    async get(author, key) {
      const [row] = await db.select().from(drafts).where(one(author, key));
      return row ? { head: headOf(row), read: readDefinition(row.definition) } : null;
    },
    async put(author, key, { report, base, definition }) {
      const row = { reportId: report, base, definition, savedAt: new Date() };
      const [put] = await db
        .insert(drafts)
        .values({ author, key, ...row })
        .onConflictDoUpdate({ target: [drafts.author, drafts.key], set: row })
        .returning();
      return headOf(put!);
    },
    async remove(author, key, savedAt = null) {
      const [row] = savedAt === null ? [] : await db.select().from(drafts).where(one(author, key));
      if (savedAt !== null && row?.savedAt.toISOString() !== savedAt) return false;
      return (await db.delete(drafts).where(one(author, key)).returning()).length > 0;
    },
  };
};
