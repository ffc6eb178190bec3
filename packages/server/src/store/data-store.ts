import { randomUUID } from 'node:crypto';
import { connectionSecret } from '@gaveta/core/contract';
import type { StoredRecipe } from '@gaveta/core/internal';
import { and, asc, eq, isNotNull, isNull, lt, sql } from 'drizzle-orm';
import type { Seal } from '../secrets/seal.ts';
import type { ConnectionSecret, FoundModel, StoredSource } from '../sources/stored.ts';
import { entryId } from './entries.ts';
import { Kept } from './kept.ts';
import type { StoreDatabase } from './opened-database.ts';
import { connections, ROOT, recipes, reports } from './schema.ts';
import { gatherWords } from './search-words.ts';
import { RESTORABLE_FOR, type Where } from './stored-report.ts';

export type SavedRecipe =
  | { ok: true; stored: StoredRecipe }
  | { ok: false; reason: 'conflict'; current: StoredRecipe }
  | { ok: false; reason: 'missing' };

export interface StoredConnection {
  source: StoredSource;
  found: FoundModel;
  /** Whether it has a secret, which is never told itself. */
  hasSecret: boolean;
  /** The secret is there and cannot be opened: it was sealed with another key. */
  isLocked: boolean;
  changedAt: string;
  changedBy: string;
}

/**
 * Shared recipes, and connections that were made by hand, in PostgreSQL; each has an entry in the library (store/entries.ts). Nobody
 * is asked who they are.
 */
export interface DataStore {
  /** Those that were not deleted, by name. */
  recipes(): Promise<StoredRecipe[]>;
  recipe(id: string): Promise<StoredRecipe | null>;
  createRecipe(
    given: Pick<StoredRecipe, 'name' | 'steps' | 'parameters'>,
    author: string,
    id?: string,
    where?: Where,
  ): Promise<StoredRecipe>;
  /** Replaces a recipe if `base` is still its newest revision. */
  saveRecipe(
    id: string,
    given: Pick<StoredRecipe, 'name' | 'steps' | 'parameters'>,
    base: number,
    author: string,
  ): Promise<SavedRecipe>;
  /** Deletes a recipe so that its entry can be restored for 30 days. */
  removeRecipe(id: string): Promise<boolean>;
  connections(): Promise<StoredConnection[]>;
  /** Makes or replaces a connection. Throws when it has a secret and there is no seal. */
  putConnection(source: StoredSource, found: FoundModel, author: string, where?: Where): Promise<void>;
  /** Gives a connection another label. */
  labelConnection(name: string, label: string, author: string): Promise<void>;
  removeConnection(name: string): Promise<boolean>;
  /** Lets go of what was read: entries were written to. */
  forget(): void;
}

/** The one thing that is kept of recipes. */
const ALL = 'recipes';

const hasSecrets = (secret: ConnectionSecret): boolean =>
  Object.values(secret).some((v) => v !== undefined && v !== '');

export interface DataStoreParts {
  /** Others write to the same database. */
  isShared: boolean;
  /** Told when entries were written to. */
  changed: () => void;
}

export const createDataStore = (
  db: StoreDatabase,
  seal: Seal | null,
  { isShared, changed: told }: DataStoreParts,
): DataStore => {
  type Transaction = Parameters<Parameters<typeof db.transaction>[0]>[0];
  const kept = new Kept<StoredRecipe[]>(isShared ? 0 : 1, () => true, told);
  const writing = <R>(write: (transaction: Transaction) => Promise<R>): Promise<R> =>
    kept.write(ALL, () => db.transaction(write));

  const isEntry = sql`${reports.id} = 'recipe:' || ${recipes.id}`;
  /** Its entry went with a folder that was deleted long ago. */
  const hasNoEntry = sql`not exists (select 1 from ${reports} where ${isEntry})`;
  const asRecipe = (row: typeof recipes.$inferSelect): StoredRecipe => ({
    ...row,
    changedAt: row.changedAt.toISOString(),
  });
  const asConnection = (row: typeof connections.$inferSelect): StoredConnection => {
    const opened = row.secret === null ? null : (seal?.open(row.secret, row.name) ?? null);
    const secret: ConnectionSecret = opened === null ? {} : connectionSecret.parse(JSON.parse(opened));
    const { name, label, settings, data } = row;
    return {
      source: { name, label, settings, secret, data },
      found: row.model,
      hasSecret: row.secret !== null,
      isLocked: row.secret !== null && opened === null,
      changedAt: row.changedAt.toISOString(),
      changedBy: row.changedBy,
    };
  };
  /** What the library tells of a recipe or connection that was written: a new entry stands where it says. */
  const writeEntry = async (
    transaction: Transaction,
    kind: 'recipe' | 'connection',
    { key, name, author }: { key: string; name: string; author: string },
    { folder = ROOT, note = '', owner = null }: Where = {},
  ): Promise<void> => {
    const id = entryId(kind, key);
    await transaction
      .insert(reports)
      .values({ id, kind, name, folder, note, owner, revision: 1, published: 1, changedBy: author })
      .onConflictDoUpdate({
        target: reports.id,
        set: {
          ...{ name, changedBy: author, changedAt: new Date(), deletedAt: null },
          revision: sql`${reports.revision} + 1`,
          published: sql`${reports.revision} + 1`,
        },
      });
    await gatherWords(transaction, id);
  };
  return {
    recipes: () =>
      kept.read(ALL, async () => {
        const rows = await db
          .select({ recipe: recipes })
          .from(recipes)
          .innerJoin(reports, and(isEntry, isNull(reports.deletedAt)))
          .orderBy(asc(recipes.name));
        return rows.map(({ recipe }) => asRecipe(recipe));
      }),
    async recipe(id) {
      return (await this.recipes()).find((one) => one.id === id) ?? null;
    },
    createRecipe: (given, author, id = randomUUID(), where = {}) =>
      writing(async (transaction) => {
        const values = { ...given, id, revision: 1, changedBy: author };
        // A new recipe takes the place of a deleted one of its id.
        await transaction
          .delete(reports)
          .where(and(eq(reports.id, entryId('recipe', id)), isNotNull(reports.deletedAt)));
        await transaction.delete(recipes).where(and(eq(recipes.id, id), hasNoEntry));
        const [row] = await transaction.insert(recipes).values(values).returning();
        await writeEntry(transaction, 'recipe', { key: id, name: given.name, author }, where);
        return asRecipe(row!);
      }),
    async saveRecipe(id, given, base, author) {
      const changed = { ...given, revision: base + 1, changedAt: new Date(), changedBy: author };
      const there = await this.recipe(id);
      if (!there) return { ok: false, reason: 'missing' };
      // The condition and the write are one statement, so of two people saving at once one is told.
      const isBase = and(eq(recipes.id, id), eq(recipes.revision, base));
      const saved = await writing(async (transaction) => {
        const [row] = await transaction.update(recipes).set(changed).where(isBase).returning();
        if (row) await writeEntry(transaction, 'recipe', { key: id, name: given.name, author });
        return row ? asRecipe(row) : null;
      });
      if (saved) return { ok: true, stored: saved };
      const current = await this.recipe(id);
      return current ? { ok: false, reason: 'conflict', current } : { ok: false, reason: 'missing' };
    },
    removeRecipe: (id) =>
      writing(async (transaction) => {
        const now = new Date();
        const isOld = and(eq(reports.kind, 'recipe'), lt(reports.deletedAt, new Date(now.getTime() - RESTORABLE_FOR)));
        await transaction.delete(reports).where(isOld);
        // Those whose entries went with a folder, too.
        await transaction.delete(recipes).where(hasNoEntry);
        const isOne = and(eq(reports.id, entryId('recipe', id)), isNull(reports.deletedAt));
        const gone = await transaction.update(reports).set({ deletedAt: now }).where(isOne).returning();
        return gone.length > 0;
      }),
    async connections() {
      return (await db.select().from(connections).orderBy(asc(connections.name))).map(asConnection);
    },
    async putConnection({ name, label, settings, secret, data }, found, author, where) {
      if (hasSecrets(secret) && !seal) throw new Error('there is no encryptionKey');
      const sealed = hasSecrets(secret) ? seal!.close(JSON.stringify(secret), name) : null;
      const row = { label, settings, secret: sealed, data, model: found, changedAt: new Date(), changedBy: author };
      await writing(async (transaction) => {
        await transaction
          .insert(connections)
          .values({ name, ...row })
          .onConflictDoUpdate({ target: connections.name, set: row });
        await writeEntry(transaction, 'connection', { key: name, name: label, author }, where);
      });
    },
    labelConnection: (name, label, author) =>
      writing(async (transaction) => {
        await transaction.update(connections).set({ label }).where(eq(connections.name, name));
        await writeEntry(transaction, 'connection', { key: name, name: label, author });
      }),
    removeConnection: (name) =>
      writing(async (transaction) => {
        await transaction.delete(reports).where(eq(reports.id, entryId('connection', name)));
        return (await transaction.delete(connections).where(eq(connections.name, name)).returning()).length > 0;
      }),
    forget: () => kept.clear(),
  };
};
