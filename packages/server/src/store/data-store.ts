import { randomUUID } from 'node:crypto';
import { connectionSecret } from '@gaveta/core/contract';
import type { StoredRecipe } from '@gaveta/core/internal';
import { and, asc, eq } from 'drizzle-orm';
import type { Seal } from '../secrets/seal.ts';
import type { ConnectionSecret, FoundModel, StoredSource } from '../sources/stored.ts';
import { Kept } from './kept.ts';
import type { StoreDatabase } from './opened-database.ts';
import { connections, recipes } from './schema.ts';

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

/** Shared recipes, and connections that were made by hand, in PostgreSQL. */
export interface DataStore {
  recipes(): Promise<StoredRecipe[]>;
  recipe(id: string): Promise<StoredRecipe | null>;
  createRecipe(
    given: Pick<StoredRecipe, 'name' | 'steps' | 'parameters'>,
    author: string,
    id?: string,
  ): Promise<StoredRecipe>;
  /** Replaces a recipe if `base` is still its newest revision. */
  saveRecipe(
    id: string,
    given: Pick<StoredRecipe, 'name' | 'steps' | 'parameters'>,
    base: number,
    author: string,
  ): Promise<SavedRecipe>;
  removeRecipe(id: string): Promise<boolean>;
  connections(): Promise<StoredConnection[]>;
  /** Makes or replaces a connection. Throws when it has a secret and there is no seal. */
  putConnection(source: StoredSource, found: FoundModel, author: string): Promise<void>;
  removeConnection(name: string): Promise<boolean>;
}

/** The one thing that is kept of recipes. */
const ALL = 'recipes';

const hasSecrets = (secret: ConnectionSecret): boolean =>
  Object.values(secret).some((v) => v !== undefined && v !== '');

export const createDataStore = (db: StoreDatabase, seal: Seal | null, isShared: boolean): DataStore => {
  const kept = new Kept<StoredRecipe[]>(isShared ? 0 : 1);
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
  return {
    recipes: () =>
      kept.read(ALL, async () => (await db.select().from(recipes).orderBy(asc(recipes.name))).map(asRecipe)),
    async recipe(id) {
      const [row] = await db.select().from(recipes).where(eq(recipes.id, id));
      return row ? asRecipe(row) : null;
    },
    async createRecipe(given, author, id = randomUUID()) {
      const values = { ...given, id, revision: 1, changedBy: author };
      const [row] = await kept.write(ALL, () => db.insert(recipes).values(values).returning());
      return asRecipe(row!);
    },
    async saveRecipe(id, given, base, author) {
      const changed = { ...given, revision: base + 1, changedAt: new Date(), changedBy: author };
      // The condition and the write are one statement, so of two people saving at once one is told.
      const isBase = and(eq(recipes.id, id), eq(recipes.revision, base));
      const [row] = await kept.write(ALL, () => db.update(recipes).set(changed).where(isBase).returning());
      if (row) return { ok: true, stored: asRecipe(row) };
      const current = await this.recipe(id);
      return current ? { ok: false, reason: 'conflict', current } : { ok: false, reason: 'missing' };
    },
    async removeRecipe(id) {
      const gone = await kept.write(ALL, () => db.delete(recipes).where(eq(recipes.id, id)).returning());
      return gone.length > 0;
    },
    async connections() {
      return (await db.select().from(connections).orderBy(asc(connections.name))).map(asConnection);
    },
    async putConnection({ name, label, settings, secret, data }, found, author) {
      if (hasSecrets(secret) && !seal) throw new Error('there is no encryptionKey');
      const sealed = hasSecrets(secret) ? seal!.close(JSON.stringify(secret), name) : null;
      const row = { label, settings, secret: sealed, data, model: found, changedAt: new Date(), changedBy: author };
      await db
        .insert(connections)
        .values({ name, ...row })
        .onConflictDoUpdate({ target: connections.name, set: row });
    },
    async removeConnection(name) {
      return (await db.delete(connections).where(eq(connections.name, name)).returning()).length > 0;
    },
  };
};
