import { and, asc, count, desc, eq, inArray, lt } from 'drizzle-orm';
import {
  asContent,
  asPart,
  asRun,
  type DeliveryFile,
  type FileFacts,
  type PartCounts,
  type StoredContent,
  type StoredDeliveryRun,
  type StoredPart,
} from './delivery-records.ts';
import { deliveryContents, deliveryFiles, deliveryParts, deliveryRuns } from './delivery-schema.ts';
import type { StoreDatabase } from './opened-database.ts';

/** What became of deliveries each time that they went. */
export interface DeliveryHistory {
  get(id: string): Promise<StoredDeliveryRun | null>;
  /** Of a delivery, the newest first. */
  list(delivery: string, asked: { before?: string | undefined; count: number }): Promise<StoredDeliveryRun[]>;
  /** The last one of each delivery. */
  lastOf(deliveries: readonly string[]): Promise<StoredDeliveryRun[]>;
  countsOf(runs: readonly string[]): Promise<Map<string, PartCounts>>;
  contents(run: string, from: number, count: number): Promise<StoredContent[]>;
  contentCount(run: string): Promise<number>;
  content(id: string): Promise<StoredContent | null>;
  parts(contents: readonly string[]): Promise<StoredPart[]>;
  part(id: string): Promise<StoredPart | null>;
  fileFacts(contents: readonly string[]): Promise<Map<string, FileFacts[]>>;
  files(content: string): Promise<DeliveryFile[]>;
  file(content: string, place: number): Promise<DeliveryFile | null>;
}

export const createDeliveryHistory = (db: StoreDatabase): DeliveryHistory => ({
  async get(id) {
    const [row] = await db.select().from(deliveryRuns).where(eq(deliveryRuns.id, id));
    return row ? asRun(row) : null;
  },
  async list(delivery, { before, count: most }) {
    const isOne = and(
      eq(deliveryRuns.deliveryId, delivery),
      before === undefined ? undefined : lt(deliveryRuns.dueAt, new Date(before)),
    );
    const rows = await db.select().from(deliveryRuns).where(isOne).orderBy(desc(deliveryRuns.dueAt)).limit(most);
    return rows.map(asRun);
  },
  async lastOf(ids) {
    if (ids.length === 0) return [];
    const rows = await db
      .selectDistinctOn([deliveryRuns.deliveryId])
      .from(deliveryRuns)
      .where(inArray(deliveryRuns.deliveryId, [...ids]))
      .orderBy(deliveryRuns.deliveryId, desc(deliveryRuns.dueAt));
    return rows.map(asRun);
  },
  async countsOf(runs) {
    if (runs.length === 0) return new Map();
    const rows = await db
      .select({ run: deliveryParts.runId, state: deliveryParts.state, count: count() })
      .from(deliveryParts)
      .where(inArray(deliveryParts.runId, [...runs]))
      .groupBy(deliveryParts.runId, deliveryParts.state);
    const found = new Map<string, PartCounts>();
    for (const { run, state, count: many } of rows) {
      const counts = found.get(run) ?? { parts: 0, sent: 0, failed: 0, open: 0 };
      counts.parts += many;
      if (state === 'done') counts.sent += many;
      else if (state === 'failed') counts.failed += many;
      else if (state === 'waiting' || state === 'working') counts.open += many;
      found.set(run, counts);
    }
    return found;
  },
  async contents(run, from, most) {
    const rows = await db
      .select()
      .from(deliveryContents)
      .where(eq(deliveryContents.runId, run))
      .orderBy(asc(deliveryContents.place))
      .offset(from)
      .limit(most);
    return rows.map(asContent);
  },
  async contentCount(run) {
    const [row] = await db.select({ count: count() }).from(deliveryContents).where(eq(deliveryContents.runId, run));
    return row?.count ?? 0;
  },
  async content(id) {
    const [row] = await db.select().from(deliveryContents).where(eq(deliveryContents.id, id));
    return row ? asContent(row) : null;
  },
  async parts(contents) {
    if (contents.length === 0) return [];
    const rows = await db
      .select()
      .from(deliveryParts)
      .where(inArray(deliveryParts.contentId, [...contents]))
      .orderBy(asc(deliveryParts.target), asc(deliveryParts.to));
    return rows.map(asPart);
  },
  async part(id) {
    const [row] = await db.select().from(deliveryParts).where(eq(deliveryParts.id, id));
    return row ? asPart(row) : null;
  },
  async fileFacts(contents) {
    const found = new Map<string, FileFacts[]>();
    if (contents.length === 0) return found;
    const { contentId: content, place, name, mime, size } = deliveryFiles;
    const rows = await db
      .select({ content, place, name, mime, size })
      .from(deliveryFiles)
      .where(inArray(content, [...contents]))
      .orderBy(asc(place));
    for (const { content: of, ...facts } of rows) found.set(of, [...(found.get(of) ?? []), facts]);
    return found;
  },
  async files(content) {
    const { name, mime, bytes, place } = deliveryFiles;
    return db
      .select({ name, mime, bytes })
      .from(deliveryFiles)
      .where(eq(deliveryFiles.contentId, content))
      .orderBy(asc(place));
  },
  async file(content, place) {
    const { name, mime, bytes } = deliveryFiles;
    const isOne = and(eq(deliveryFiles.contentId, content), eq(deliveryFiles.place, place));
    const [row] = await db.select({ name, mime, bytes }).from(deliveryFiles).where(isOne);
    return row ?? null;
  },
});
