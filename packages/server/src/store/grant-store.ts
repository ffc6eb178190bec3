import type { AccessLevel } from '@gaveta/core/contract';
import { and, asc, eq, type SQL, sql } from 'drizzle-orm';
import type { StoreDatabase } from './opened-database.ts';
import type { Reaches } from './reach.ts';
import { folders, grants, people, reports } from './schema.ts';
import { levelAt, principalsOf, rankOf, type Viewer } from './viewer.ts';

/** What something was granted on. */
export type GrantTarget = { folder: string } | { thing: string };

export interface Grant {
  /** `user:…`, `group:…` or `everybody`. */
  principal: string;
  may: AccessLevel;
  by: string;
  at: string;
}

/** One place of the way from a thing, or a folder, up to the root, with what was granted there. */
export interface GrantPlace {
  /** Null: the thing itself. */
  folder: string | null;
  name: string;
  owner: string | null;
  /** Whether what holds around it holds here too. */
  inherits: boolean;
  grants: Grant[];
}

/** Who may do what. Whether a call may change it, services decide. */
export interface GrantStore {
  /** From itself outwards, as far as it inherits. */
  around(target: GrantTarget): Promise<GrantPlace[]>;
  /** Null: takes away what was granted there. */
  put(target: GrantTarget, principal: string, may: AccessLevel | null, by: string): Promise<void>;
  /** Notes who came, so that others find them. */
  notePeople(viewer: Viewer): Promise<void>;
  /** People and groups that came before, or that something was granted to. */
  people(search: string, most: number): Promise<string[]>;
}

export const createGrantStore = (db: StoreDatabase, reaches: Reaches): GrantStore => {
  const isOn = (target: GrantTarget): SQL =>
    'folder' in target ? eq(grants.folder, target.folder) : eq(grants.report, target.thing);

  const grantsOn = async (where: SQL) => {
    const rows = await db.select().from(grants).where(where).orderBy(asc(grants.principal));
    return rows.map(({ folder, principal, level, grantedBy, grantedAt }) => ({
      folder,
      grant: { principal, may: levelAt(level)!, by: grantedBy, at: grantedAt.toISOString() },
    }));
  };

  return {
    async around(target) {
      const found: GrantPlace[] = [];
      let next: string | null = 'folder' in target ? target.folder : null;
      if ('thing' in target) {
        const [thing] = await db.select().from(reports).where(eq(reports.id, target.thing));
        if (!thing) return [];
        const { name, owner, inherits } = thing;
        const own = (await grantsOn(isOn(target))).map(({ grant }) => grant);
        found.push({ folder: null, name, owner, inherits, grants: own });
        next = inherits ? thing.folder : null;
      }
      // Folders are not deep, and this is asked by single people.
      while (next !== null) {
        const [row] = await db.select().from(folders).where(eq(folders.id, next));
        if (!row) break;
        const { id, name, owner, inherits, parent } = row;
        const own = (await grantsOn(eq(grants.folder, id))).map(({ grant }) => grant);
        found.push({ folder: id, name, owner, inherits, grants: own });
        next = inherits ? parent : null;
      }
      return found;
    },
    put: (target, principal, may, by) =>
      reaches.grant(async () => {
        if (may === null) {
          await db.delete(grants).where(and(isOn(target), eq(grants.principal, principal)));
          return;
        }
        const on = 'folder' in target ? { folder: target.folder } : { report: target.thing };
        const granted = { level: rankOf(may), grantedBy: by, grantedAt: new Date() };
        await db
          .insert(grants)
          .values({ ...on, principal, ...granted })
          .onConflictDoUpdate({
            target: 'folder' in target ? [grants.folder, grants.principal] : [grants.report, grants.principal],
            set: granted,
          });
      }),
    async notePeople(viewer) {
      const names = principalsOf(viewer).filter((name) => name.includes(':'));
      if (names.length === 0) return;
      const now = new Date();
      await db
        .insert(people)
        .values(names.map((principal) => ({ principal, seenAt: now })))
        .onConflictDoUpdate({ target: people.principal, set: { seenAt: now } });
    },
    async people(search, most) {
      const like = `%${search.replace(/[\\%_]/g, '\\$&')}%`;
      const found = await db.execute(sql`
        select principal from (select principal from ${people} union select principal from ${grants}) as known
        where principal ilike ${like} and principal like '%:%' order by principal limit ${most}`);
      return (found as unknown as { rows: { principal: string }[] }).rows.map((row) => row.principal);
    },
  };
};
