import { getTableColumns } from 'drizzle-orm';
import { reports, type StoredKind } from './schema.ts';

/** All of a row but the words that it is found by, which nobody reads. */
const { search: _, nameSearch: __, publishedSearch: ___, ...columns } = getTableColumns(reports);
export const thingColumns = columns;

export type ThingRow = Omit<typeof reports.$inferSelect, 'search' | 'nameSearch' | 'publishedSearch'>;

/** A thing of the library, without its definition. */
export interface StoredReport {
  id: string;
  kind: StoredKind;
  name: string;
  /** Id of the folder that it is in; null where that may not be told. */
  folder: string | null;
  note: string;
  tags: string[];
  /** Whether new reports may begin as it is. */
  isTemplate: boolean;
  /** User who may do everything with it; null: nobody by that alone. */
  owner: string | null;
  /** Number of the newest revision, from 1. */
  revision: number;
  /** The revision that readers see; null: none. */
  published: number | null;
  /** The revision that somebody asked to publish; null: none. */
  asked: { revision: number; by: string; note: string } | null;
  changedAt: string;
  changedBy: string;
}

export const asStored = (row: ThingRow): StoredReport => {
  const { id, kind, name, folder, note, tags, isTemplate, owner, revision, published, changedAt, changedBy } = row;
  const asked = row.asked === null ? null : { revision: row.asked, by: row.askedBy ?? '', note: row.askedNote ?? '' };
  return {
    ...{ id, kind, name, folder, note, tags, isTemplate, owner, revision, published, asked },
    changedAt: changedAt.toISOString(),
    changedBy,
  };
};

/** Milliseconds for which what was deleted can be restored. */
export const RESTORABLE_FOR = 30 * 24 * 3600 * 1000;

/** Where something new is kept, and whose it is. */
export interface Where {
  /** The root of the library when left out. */
  folder?: string;
  note?: string;
  /** Nobody’s in particular when left out. */
  owner?: string | null;
  /** Whether readers see it from now on; they do when left out. */
  publish?: boolean;
}
