import type { Publishing } from '@gaveta/core/contract';
import { and, eq, inArray, isNotNull, or, type SQL, sql } from 'drizzle-orm';
import { Kept } from './kept.ts';
import type { StoreDatabase } from './opened-database.ts';
import { folders, grants, reports } from './schema.ts';
import type { ThingRow } from './stored-report.ts';
import { principalsOf, rankOf, type Viewer } from './viewer.ts';

export type FolderRow = typeof folders.$inferSelect;

/** What somebody may do with one folder. */
export interface FolderReach {
  row: FolderRow;
  /** Of the level, from 1; 0: they do not see it. */
  rank: number;
  publishing: Publishing;
  /** It, or one around it, was deleted. */
  isGone: boolean;
  isAroundGone: boolean;
  /** In the own folder of somebody else. */
  isForeign: boolean;
}

/** What was granted to one of the names that somebody has. */
type Granted = Pick<typeof grants.$inferSelect, 'folder' | 'report' | 'level'>;

/** People with the same names whose grants are kept. */
const MOST_PEOPLE = 500;

/** The one thing that is kept of folders: all of them. */
const ALL = 'folders';
const CHANGE = rankOf('change');

/**
 * What somebody may do with each folder and each thing, as it is granted at this moment. Folders are few, so that the way from the
 * root to each is walked here; things are many, so that the database picks those that may be seen. Every query about somebody’s
 * library stands on this.
 */
export class Reach {
  private constructor(
    private readonly viewer: Viewer,
    readonly folders: ReadonlyMap<string, FolderReach>,
    /** Ranks of what was granted on single things. */
    private readonly granted: ReadonlyMap<string, number>,
  ) {}

  static of(rows: readonly FolderRow[], granted: readonly Granted[], viewer: Viewer): Reach {
    const ofFolders = new Map<string, number>();
    const ofThings = new Map<string, number>();
    for (const { folder, report, level } of granted) {
      const [map, id] = folder === null ? [ofThings, report!] : [ofFolders, folder];
      map.set(id, Math.max(map.get(id) ?? 0, level));
    }
    return new Reach(viewer, walked(rows, viewer, ofFolders), ofThings);
  }

  /** What somebody may do with a thing: the rank of a level. */
  rankOf({ id, owner, inherits, folder }: ThingRow): number {
    const around = this.folders.get(folder);
    if (!around) return 0;
    const isOwner = this.viewer.user !== null && owner === this.viewer.user;
    const own = Math.max(this.granted.get(id) ?? 0, isOwner ? rankOf('manage') : 0);
    const seesAll = this.viewer.seesAll && !around.isForeign;
    const rank = seesAll ? rankOf('manage') : Math.max(own, inherits ? around.rank : 0);
    return Math.min(rank, rankOf(this.viewer.most));
  }

  /** Its folder; null where that may not be seen. */
  folderOf({ folder }: Pick<ThingRow, 'folder'>): string | null {
    return (this.folders.get(folder)?.rank ?? 0) > 0 ? folder : null;
  }

  /** Somebody else’s, who let them see it. */
  get isShared(): SQL {
    const { user } = this.viewer;
    if (user === null) return sql`false`;
    const hidden = this.ids(({ rank, isForeign }) => rank === 0 || isForeign);
    return and(
      sql`${reports.owner} is distinct from ${user}`,
      or(among(reports.folder, hidden), among(reports.id, [...this.granted.keys()])),
    )!;
  }

  /**
   * Things that may be seen: by what may be changed, and by what was published of the rest. `ofNewest` and `ofPublished` are asked
   * besides, each of those that are seen that way. Those in folders that were deleted are left out.
   */
  seen({ ofNewest, ofPublished }: { ofNewest?: SQL; ofPublished?: SQL } = {}): SQL {
    const gone = this.ids(({ isGone }) => isGone);
    const isThere = gone.length === 0 ? undefined : sql`not ${among(reports.folder, gone)}`;
    const mayChange = this.most >= CHANGE ? this.reaches(CHANGE) : sql`false`;
    return and(
      isThere,
      or(and(mayChange, ofNewest), and(isNotNull(reports.published), this.reaches(rankOf('see')), ofPublished)),
    )!;
  }

  /** Things about which they may decide. */
  managed(): SQL {
    return this.most >= rankOf('manage') ? this.reaches(rankOf('manage')) : sql`false`;
  }

  get seesAll(): boolean {
    return this.viewer.seesAll;
  }

  /** Things with which they may do as much as a rank says, whatever their token lets them. */
  private reaches(rank: number): SQL {
    const { user, seesAll } = this.viewer;
    const all = this.ids(({ isForeign }) => !isForeign);
    const inFolders = this.ids((folder) => folder.rank >= rank);
    const granted = [...this.granted].filter(([, own]) => own >= rank).map(([id]) => id);
    return or(
      seesAll ? among(reports.folder, all) : undefined,
      and(reports.inherits, among(reports.folder, inFolders)),
      user === null ? undefined : eq(reports.owner, user),
      granted.length === 0 ? undefined : among(reports.id, granted),
    )!;
  }

  private get most(): number {
    return rankOf(this.viewer.most);
  }

  private ids(are: (folder: FolderReach) => boolean): string[] {
    return [...this.folders.values()].filter(are).map(({ row }) => row.id);
  }
}

/** How many things somebody sees in each folder. */
export type Counts = ReadonlyMap<string, number>;

/**
 * What people may do, asked at any moment, and how much they see. Folders, grants and counts are kept until what they stand on is
 * written to, where nobody else writes.
 */
export class Reaches {
  private readonly folders: Kept<FolderRow[]>;
  private readonly granted: Kept<Granted[]>;
  private readonly counted: Kept<Counts>;

  constructor(
    private readonly db: StoreDatabase,
    isShared: boolean,
  ) {
    const most = isShared ? 0 : MOST_PEOPLE;
    const all = (): boolean => true;
    const recount = (): void => this.recount();
    this.folders = new Kept<FolderRow[]>(isShared ? 0 : 1, all, recount);
    this.granted = new Kept<Granted[]>(most, all, recount);
    this.counted = new Kept<Counts>(most);
  }

  async of(viewer: Viewer): Promise<Reach> {
    const { db } = this;
    const names = principalsOf(viewer);
    const { folder, report, level } = grants;
    // A query runs each time that it is waited for: what is kept is its rows.
    const rows = await this.folders.read(ALL, async () => await db.select().from(folders));
    const granted = await this.granted.read(
      JSON.stringify(names),
      async () => await db.select({ folder, report, level }).from(grants).where(inArray(grants.principal, names)),
    );
    return Reach.of(rows, granted, viewer);
  }

  /** How many things somebody sees in each folder, as `count` finds it. */
  counts({ user, groups, seesAll, most }: Viewer, count: () => Promise<Counts>): Promise<Counts> {
    return this.counted.read(JSON.stringify([user, groups, seesAll, most]), count);
  }

  /** Things were written to. */
  recount(): void {
    this.counted.clear();
  }

  /** Writes to folders, so that nobody is given them as they were before. */
  write<R>(write: () => Promise<R>): Promise<R> {
    return this.folders.write(ALL, write);
  }

  /** Writes to what was granted. */
  grant<R>(write: () => Promise<R>): Promise<R> {
    return this.granted.writeAny(write);
  }
}

/** As one value, so that the database looks them up in a table of its own. */
const among = (column: typeof reports.folder | typeof reports.id, ids: readonly string[]): SQL =>
  ids.length === 0 ? sql`false` : sql`${column} = any(${sql.param([...ids])}::text[])`;

/** From the roots inwards. */
const walked = (
  rows: readonly FolderRow[],
  viewer: Viewer,
  granted: ReadonlyMap<string, number>,
): Map<string, FolderReach> => {
  const { user, seesAll } = viewer;
  const inside = new Map<string | null, FolderRow[]>();
  for (const row of rows) inside.set(row.parent, [...(inside.get(row.parent) ?? []), row]);
  const found = new Map<string, FolderReach>();
  const queue: { row: FolderRow; around: (FolderReach & { whole: number }) | null }[] = [];
  for (const row of inside.get(null) ?? []) queue.push({ row, around: null });
  for (let next = queue.pop(); next; next = queue.pop()) {
    const { row, around } = next;
    const isOwner = user !== null && row.owner === user;
    const isForeign = around?.isForeign ?? (row.isPersonal && !isOwner && user !== null);
    const own = Math.max(granted.get(row.id) ?? 0, isOwner ? rankOf('manage') : 0);
    const inherited = row.inherits ? (around?.whole ?? 0) : 0;
    const whole = seesAll && !isForeign ? rankOf('manage') : Math.max(own, inherited);
    const reach = {
      row,
      rank: Math.min(whole, rankOf(viewer.most)),
      publishing: row.publishing ?? around?.publishing ?? 'each-save',
      isGone: row.deletedAt !== null || (around?.isGone ?? false),
      isAroundGone: around?.isGone ?? false,
      isForeign,
    };
    found.set(row.id, reach);
    for (const one of inside.get(row.id) ?? []) queue.push({ row: one, around: { ...reach, whole } });
  }
  return found;
};
