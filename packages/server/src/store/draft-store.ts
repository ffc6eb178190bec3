import { type Read, type Report, readDefinition, type Sketch, sketchSchema } from '@gaveta/core/internal';
import { and, desc, eq } from 'drizzle-orm';
import type { StoreDatabase } from './opened-database.ts';
import { type Definition, drafts } from './schema.ts';

/** Work that is not saved yet, without its definition. */
export interface DraftHead {
  key: string;
  kind: 'report' | 'sketch';
  /** The stored report or sketch that it changes; null for a new one. */
  report: string | null;
  name: string;
  base: number;
  savedAt: string;
}

/** What people are working on and have not saved. Everybody sees their own alone. */
export interface DraftStore {
  list(author: string): Promise<DraftHead[]>;
  /** `sketch`: null where it is none that can be read. */
  get(author: string, key: string): Promise<{ head: DraftHead; read: Read; sketch: Sketch | null } | null>;
  put(
    author: string,
    key: string,
    given: { report: string | null; base: number; definition: Report | Sketch },
  ): Promise<DraftHead>;
  /** `savedAt`: only as long as nothing newer was put by there; null whatever there is. */
  remove(author: string, key: string, savedAt?: string | null): Promise<boolean>;
}

const kindOf = (definition: Report | Sketch): DraftHead['kind'] => ('sketch' in definition ? 'sketch' : 'report');

/** A sketch as it was stored; null for what is none, or cannot be read any more. */
export const sketchIn = (definition: Definition): Sketch | null => sketchSchema.safeParse(definition).data ?? null;

export const createDraftStore = (db: StoreDatabase): DraftStore => {
  const headOf = (row: typeof drafts.$inferSelect): DraftHead => ({
    key: row.key,
    kind: kindOf(row.definition),
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
      if (!row) return null;
      return { head: headOf(row), read: readDefinition(row.definition), sketch: sketchIn(row.definition) };
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
