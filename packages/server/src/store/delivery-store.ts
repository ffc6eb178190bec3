import { randomUUID } from 'node:crypto';
import type { DeliveryState, Right, RunReason } from '@gaveta/core/contract';
import type { Delivery, GivenValue, Problem } from '@gaveta/core/internal';
import { and, asc, eq, isNotNull, lte, min } from 'drizzle-orm';
import type { Claims } from '../access/claims.ts';
import { deliveries, deliveryRuns } from './delivery-schema.ts';
import type { StoreDatabase } from './opened-database.ts';

/** Who a delivery runs as, as they were when they saved it. */
export interface DeliveryOwner {
  owner: string;
  groups: string[];
  rights: Right[];
  claims: Claims;
  hostParameters: Record<string, GivenValue>;
}

export interface StoredDelivery extends DeliveryOwner {
  id: string;
  name: string;
  /** Id of the report, which may be gone. */
  report: string;
  definition: Delivery;
  revision: number;
  state: DeliveryState;
  /** Why it was stopped. */
  said: Problem | null;
  /** When it goes or looks for rows next, in milliseconds since 1970; null: not by itself. */
  nextAt: number | null;
  /** Digests of the rows that it found when it looked last; null: it never did. */
  found: string[] | null;
  changedAt: string;
  changedBy: string;
}

/** A time that a delivery goes. */
export interface NewRun {
  /** What it goes for: it goes once for each. */
  key: string;
  why: RunReason;
  /** Milliseconds since 1970. */
  dueAt: number;
}

export interface DeliveryStore {
  /** By name: those of one owner, and of one report. */
  list(of: { owner?: string | undefined; report?: string | undefined }): Promise<StoredDelivery[]>;
  get(id: string): Promise<StoredDelivery | null>;
  create(definition: Delivery, owner: DeliveryOwner, nextAt: number | null): Promise<StoredDelivery>;
  /** Null: it was changed since the revision `base`, or is gone. */
  save(
    id: string,
    base: number,
    definition: Delivery,
    owner: DeliveryOwner,
    nextAt: number | null,
  ): Promise<StoredDelivery | null>;
  setState(id: string, state: DeliveryState, said: Problem | null, nextAt: number | null): Promise<void>;
  /** False: there is none. */
  remove(id: string): Promise<boolean>;
  /** Those that go, or look for rows, by a moment. */
  due(now: number): Promise<StoredDelivery[]>;
  /** When the next one goes; null: none does. */
  nextDue(): Promise<number | null>;
  /** Adds the runs that are due of a delivery, and says when it goes next: both or none. False: somebody else did so first. */
  advance(
    delivery: StoredDelivery,
    to: { nextAt: number | null; found?: string[] },
    runs: readonly NewRun[],
  ): Promise<boolean>;
  /** Adds a run; null: it went for that key already. */
  addRun(delivery: StoredDelivery, run: NewRun): Promise<string | null>;
}

type Row = typeof deliveries.$inferSelect;

const asDelivery = ({ reportId, nextAt, changedAt, ...row }: Row): StoredDelivery => ({
  ...row,
  report: reportId,
  nextAt: nextAt?.getTime() ?? null,
  changedAt: changedAt.toISOString(),
});

const dateOf = (moment: number | null): Date | null => (moment === null ? null : new Date(moment));

export const createDeliveryStore = (db: StoreDatabase): DeliveryStore => {
  const runRow = ({ id, definition }: StoredDelivery, { key, why, dueAt }: NewRun) => ({
    ...{ id: randomUUID(), deliveryId: id, key, why, definition },
    ...{ dueAt: new Date(dueAt), nextTry: new Date(dueAt) },
  });
  return {
    async list({ owner, report }) {
      const rows = await db
        .select()
        .from(deliveries)
        .where(
          and(
            owner === undefined ? undefined : eq(deliveries.owner, owner),
            report === undefined ? undefined : eq(deliveries.reportId, report),
          ),
        )
        .orderBy(asc(deliveries.name), asc(deliveries.id));
      return rows.map(asDelivery);
    },
    async get(id) {
      const [row] = await db.select().from(deliveries).where(eq(deliveries.id, id));
      return row ? asDelivery(row) : null;
    },
    async create(definition, owner, nextAt) {
      const { name, report } = definition;
      const [row] = await db
        .insert(deliveries)
        .values({
          ...{ id: randomUUID(), name, reportId: report, definition, revision: 1 },
          ...{ ...owner, nextAt: dateOf(nextAt), changedBy: owner.owner },
        })
        .returning();
      return asDelivery(row!);
    },
    async save(id, base, definition, owner, nextAt) {
      const { name, report } = definition;
      const [row] = await db
        .update(deliveries)
        .set({
          ...{ name, reportId: report, definition, revision: base + 1, ...owner, nextAt: dateOf(nextAt) },
          // What it looked for may be other rows now.
          ...{ found: null, changedAt: new Date(), changedBy: owner.owner },
        })
        .where(and(eq(deliveries.id, id), eq(deliveries.revision, base)))
        .returning();
      return row ? asDelivery(row) : null;
    },
    async setState(id, state, said, nextAt) {
      await db
        .update(deliveries)
        .set({ state, said, nextAt: dateOf(nextAt) })
        .where(eq(deliveries.id, id));
    },
    async remove(id) {
      return (await db.delete(deliveries).where(eq(deliveries.id, id)).returning({ id: deliveries.id })).length > 0;
    },
    async due(now) {
      const isDue = and(eq(deliveries.state, 'on'), lte(deliveries.nextAt, new Date(now)));
      const rows = await db.select().from(deliveries).where(isDue).orderBy(asc(deliveries.nextAt)).limit(200);
      return rows.map(asDelivery);
    },
    async nextDue() {
      const isOn = and(eq(deliveries.state, 'on'), isNotNull(deliveries.nextAt));
      const [row] = await db
        .select({ at: min(deliveries.nextAt) })
        .from(deliveries)
        .where(isOn);
      return row?.at ? new Date(row.at).getTime() : null;
    },
    advance: (delivery, { nextAt, found }, runs) =>
      db.transaction(async (transaction) => {
        const { id, nextAt: before, revision } = delivery;
        const isAsRead = and(
          eq(deliveries.id, id),
          eq(deliveries.revision, revision),
          eq(deliveries.state, 'on'),
          eq(deliveries.nextAt, new Date(before!)),
        );
        const moved = await transaction
          .update(deliveries)
          .set({ nextAt: dateOf(nextAt), ...(found ? { found } : {}) })
          .where(isAsRead)
          .returning({ id: deliveries.id });
        if (moved.length === 0) return false;
        const rows = runs.map((run) => runRow(delivery, run));
        if (rows.length > 0) await transaction.insert(deliveryRuns).values(rows).onConflictDoNothing();
        return true;
      }),
    async addRun(delivery, run) {
      const [row] = await db
        .insert(deliveryRuns)
        .values(runRow(delivery, run))
        .onConflictDoNothing()
        .returning({ id: deliveryRuns.id });
      return row?.id ?? null;
    },
  };
};
