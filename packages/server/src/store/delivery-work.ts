import { randomUUID } from 'node:crypto';
import type { DeliveryRunState, PartState } from '@gaveta/core/contract';
import type { Problem } from '@gaveta/core/internal';
import { and, asc, count, eq, inArray, isNotNull, isNull, lt, lte, or, sql } from 'drizzle-orm';
import { unionAll } from 'drizzle-orm/pg-core';
import {
  asContent,
  asPart,
  type Item,
  type MadeContent,
  type PlannedContent,
  type StoredContent,
  type StoredPart,
  type Work,
} from './delivery-records.ts';
import { deliveryContents, deliveryFiles, deliveryParts, deliveryRuns } from './delivery-schema.ts';
import type { StoreDatabase } from './opened-database.ts';

/** What of deliveries waits to be done, who does it until when, and what came of it. */
export interface DeliveryWork {
  /** What is to be done by a moment and nobody does: first what is begun, and then the longest waiting. */
  waiting(now: number, most: number): Promise<Work[]>;
  /** When the next of it is to be done; null: nothing waits. */
  nextTry(): Promise<number | null>;
  /** Takes a run that is to be planned, until a moment at the latest, which counts as a try; false: somebody else has it, or it is done. */
  holdRun(run: string, now: number, until: number): Promise<boolean>;
  /** Takes contents of a run that wait, some at most, as {@link holdRun} does; in their order. */
  holdContents(run: string, most: number, now: number, until: number): Promise<StoredContent[]>;
  /** Takes parts of a run that wait, some at most, as {@link holdRun} does. */
  holdParts(run: string, most: number, now: number, until: number): Promise<StoredPart[]>;
  /** Lets go of what was not done after all, which was no try. */
  letGo(items: readonly Item[]): Promise<void>;
  /** Lets go of all that is held, where nobody can be at work. */
  letGoAll(): Promise<void>;
  /** Has it tried again at a moment. */
  retry(item: Item, said: Problem, at: number): Promise<void>;
  fail(item: Item, said: Problem): Promise<void>;

  /** Writes what a run is made of, all of it or nothing; only once. */
  plan(run: string, contents: readonly PlannedContent[], now: number): Promise<void>;
  /** Writes the files of contents and the words of their mails by target, all of it or nothing, and lets their parts go. */
  made(made: readonly MadeContent[], now: number): Promise<void>;
  /** Notes that there is nothing to send. */
  nothing(content: string, facts: { pages: number; rows: number }): Promise<void>;
  /** Notes that parts arrived, each with what its receiver answered. */
  sent(parts: readonly { id: string; receipt: string }[], now: number): Promise<void>;
  /** Ends a run when all of it is over; true when that was now. */
  finish(run: string, now: number): Promise<boolean>;
  /** Has what failed tried again; false: nothing failed. */
  again(run: string, now: number): Promise<boolean>;
  /** Cancels what is not done and nobody works on. */
  cancel(run: string): Promise<void>;
  /** Removes files that were made before a moment, and runs before another one. */
  sweep(filesBefore: number, runsBefore: number): Promise<void>;
}

type AnyTable = typeof deliveryRuns | typeof deliveryContents | typeof deliveryParts;

const OPEN = ['waiting', 'working'] as const;

export const createDeliveryWork = (db: StoreDatabase): DeliveryWork => {
  const TABLES = { run: deliveryRuns, content: deliveryContents, part: deliveryParts } as const;
  return {
    async waiting(now, most) {
      const at = (table: AnyTable) => sql<string>`min(${table.nextTry})`.as('at');
      const of = (kind: Work['kind'], rank: number, run: typeof deliveryRuns.id, table: AnyTable) =>
        db
          .select({
            kind: sql<Work['kind']>`${kind}::text`.as('kind'),
            rank: sql<number>`${rank}::int`.as('rank'),
            run,
            at: at(table),
          })
          .from(table)
          .where(isFree(table, now))
          .groupBy(run);
      const found = await unionAll(
        of('send', 1, deliveryParts.runId as never, deliveryParts),
        of('make', 2, deliveryContents.runId as never, deliveryContents),
        of('plan', 3, deliveryRuns.id, deliveryRuns),
      )
        .orderBy(sql`rank`, sql`at`)
        .limit(most);
      return found.map(({ kind, run }) => ({ kind, run }));
    },
    async nextTry() {
      const next = (table: AnyTable) =>
        db
          .select({ at: sql<string | Date | null>`min(greatest(${table.nextTry}, ${table.heldUntil}))`.as('at') })
          .from(table)
          .where(and(inArray(table.state, [...OPEN]), isNotNull(table.nextTry)));
      const found = await unionAll(next(deliveryParts), next(deliveryContents), next(deliveryRuns));
      const moments = found.flatMap(({ at }) => (at === null ? [] : [new Date(at).getTime()]));
      return moments.length === 0 ? null : Math.min(...moments);
    },
    async holdRun(run, now, until) {
      const held = await db
        .update(deliveryRuns)
        .set({
          ...{ heldUntil: new Date(until), state: 'working', tries: sql`${deliveryRuns.tries} + 1` },
          begunAt: sql`coalesce(${deliveryRuns.begunAt}, ${new Date(now).toISOString()}::timestamptz)`,
        })
        .where(and(eq(deliveryRuns.id, run), isFree(deliveryRuns, now)))
        .returning({ id: deliveryRuns.id });
      return held.length > 0;
    },
    async holdContents(run, most, now, until) {
      const free = db
        .select({ id: deliveryContents.id })
        .from(deliveryContents)
        .where(and(eq(deliveryContents.runId, run), isFree(deliveryContents, now)))
        .orderBy(asc(deliveryContents.place))
        .limit(most)
        .for('update', { skipLocked: true });
      const rows = await db
        .update(deliveryContents)
        .set({ heldUntil: new Date(until), state: 'working', tries: sql`${deliveryContents.tries} + 1` })
        .where(inArray(deliveryContents.id, free))
        .returning();
      return rows.map(asContent).sort((a, b) => a.place - b.place);
    },
    async holdParts(run, most, now, until) {
      const free = db
        .select({ id: deliveryParts.id })
        .from(deliveryParts)
        .where(and(eq(deliveryParts.runId, run), isFree(deliveryParts, now)))
        .orderBy(asc(deliveryParts.nextTry))
        .limit(most)
        .for('update', { skipLocked: true });
      const rows = await db
        .update(deliveryParts)
        .set({ heldUntil: new Date(until), state: 'working', tries: sql`${deliveryParts.tries} + 1` })
        .where(inArray(deliveryParts.id, free))
        .returning();
      return rows.map(asPart);
    },
    async letGo(items) {
      for (const kind of ['run', 'content', 'part'] as const) {
        const ids = items.filter((item) => item.kind === kind).map(({ id }) => id);
        const table = TABLES[kind];
        const free = { heldUntil: null, tries: sql`greatest(${table.tries} - 1, 0)` };
        if (ids.length > 0) await db.update(table).set(free).where(inArray(table.id, ids));
      }
    },
    async letGoAll() {
      for (const table of Object.values(TABLES))
        await db.update(table).set({ heldUntil: null }).where(isNotNull(table.heldUntil));
    },
    async retry({ kind, id }, said, at) {
      const table = TABLES[kind];
      await db
        .update(table)
        .set({ state: 'waiting', said, nextTry: new Date(at), heldUntil: null })
        .where(and(eq(table.id, id), inArray(table.state, [...OPEN])));
    },
    async fail({ kind, id }, said) {
      const table = TABLES[kind];
      const failed = { state: 'failed' as const, said, nextTry: null, heldUntil: null };
      await db.transaction(async (transaction) => {
        const isOpen = and(eq(table.id, id), inArray(table.state, [...OPEN]));
        if (kind === 'run')
          await transaction
            .update(deliveryRuns)
            .set({ ...failed, endedAt: new Date() })
            .where(isOpen);
        else await transaction.update(table).set(failed).where(isOpen);
        // What cannot be made goes nowhere.
        if (kind === 'content')
          await transaction
            .update(deliveryParts)
            .set({ state: 'failed', said, nextTry: null })
            .where(and(eq(deliveryParts.contentId, id), inArray(deliveryParts.state, [...OPEN])));
      });
    },

    async plan(run, contents, now) {
      await db.transaction(async (transaction) => {
        const [own] = await transaction
          .update(deliveryRuns)
          .set({ nextTry: null, heldUntil: null, said: null })
          .where(and(eq(deliveryRuns.id, run), eq(deliveryRuns.state, 'working')))
          .returning({ id: deliveryRuns.id });
        const [there] = await transaction
          .select({ count: count() })
          .from(deliveryContents)
          .where(eq(deliveryContents.runId, run));
        if (!own || (there?.count ?? 0) > 0) return;
        for (const [from, some] of chunks(contents)) {
          const rows = some.map(({ parts: _, said = null, ...content }, i) => ({
            ...{ id: randomUUID(), runId: run, place: from + i, ...content, said },
            ...(said === null ? { nextTry: new Date(now) } : { state: 'failed' as const }),
          }));
          await transaction.insert(deliveryContents).values(rows);
          const parts = some.flatMap((content, i) =>
            content.parts.map((part) => {
              const { id: contentId } = rows[i]!;
              const said = rows[i]!.said ?? part.said ?? null;
              const begun = said === null ? {} : { state: 'failed' as const, said };
              return { id: randomUUID(), runId: run, contentId, ...part, ...begun };
            }),
          );
          for (const [, few] of chunks(parts)) await transaction.insert(deliveryParts).values(few);
        }
      });
    },
    made: (made, now) => db.transaction((transaction) => writeMade(transaction, made, now)),
    async nothing(content, { pages, rows }) {
      await db.transaction(async (transaction) => {
        await transaction
          .update(deliveryContents)
          .set({ state: 'nothing', pages, rows, nextTry: null, heldUntil: null })
          .where(and(eq(deliveryContents.id, content), eq(deliveryContents.state, 'working')));
        await transaction
          .update(deliveryParts)
          .set({ state: 'nothing' })
          .where(and(eq(deliveryParts.contentId, content), eq(deliveryParts.state, 'waiting')));
      });
    },
    async sent(parts, now) {
      if (parts.length === 0) return;
      const ids = parts.map(({ id }) => id);
      const receipts = parts.map(({ receipt }) => receipt);
      await db
        .update(deliveryParts)
        .set({
          ...{ state: 'done', receipt: sql`given.receipt`, sentAt: new Date(now) },
          ...{ said: null, nextTry: null, heldUntil: null },
        })
        .from(sql`unnest(${sql.param(ids)}::text[], ${sql.param(receipts)}::text[]) as given (id, receipt)`)
        .where(sql`${deliveryParts.id} = given.id`);
    },
    async finish(run, now) {
      const isOpen = (table: typeof deliveryContents | typeof deliveryParts) =>
        db
          .select({ id: table.id })
          .from(table)
          .where(and(eq(table.runId, run), inArray(table.state, [...OPEN])))
          .limit(1);
      if ((await isOpen(deliveryParts)).length + (await isOpen(deliveryContents)).length > 0) return false;
      const stateOf = (table: typeof deliveryContents | typeof deliveryParts) =>
        db.select({ state: table.state, count: count() }).from(table).where(eq(table.runId, run)).groupBy(table.state);
      const [contents, parts] = [await stateOf(deliveryContents), await stateOf(deliveryParts)];
      const many = (rows: readonly { state: PartState; count: number }[], ...states: PartState[]): number =>
        rows.reduce((sum, { state, count: own }) => sum + (states.includes(state) ? own : 0), 0);
      if (many(contents, ...OPEN) + many(parts, ...OPEN) > 0) return false;
      const [sent, failed, cancelled] = [
        many(parts, 'done'),
        many(parts, 'failed') + many(contents, 'failed'),
        many(parts, 'cancelled'),
      ];
      const state: DeliveryRunState =
        failed > 0 ? (sent > 0 ? 'partly' : 'failed') : cancelled > 0 ? 'cancelled' : sent > 0 ? 'done' : 'nothing';
      const ended = await db
        .update(deliveryRuns)
        .set({ state, endedAt: new Date(now), nextTry: null, heldUntil: null })
        .where(and(eq(deliveryRuns.id, run), eq(deliveryRuns.state, 'working'), isNull(deliveryRuns.nextTry)))
        .returning({ id: deliveryRuns.id });
      return ended.length > 0;
    },
    again: (run, now) =>
      db.transaction(async (transaction) => {
        const anew = { state: 'waiting' as const, nextTry: new Date(now), heldUntil: null, tries: 1 };
        const failedOf = (table: typeof deliveryContents | typeof deliveryParts) =>
          and(eq(table.runId, run), eq(table.state, 'failed'));
        // A run that failed as a whole is planned again; a content that was not made is made again, and its parts wait for it.
        const whole = await transaction
          .update(deliveryRuns)
          .set({ ...anew, endedAt: null })
          .where(
            and(
              eq(deliveryRuns.id, run),
              eq(deliveryRuns.state, 'failed'),
              sql`not exists (select 1 from ${deliveryContents} c where c.run_id = ${run})`,
            ),
          )
          .returning({ id: deliveryRuns.id });
        if (whole.length > 0) return true;
        const contents = await transaction
          .update(deliveryContents)
          .set(anew)
          .where(failedOf(deliveryContents))
          .returning({ id: deliveryContents.id });
        const made = contents.map(({ id }) => id);
        if (made.length > 0)
          await transaction
            .update(deliveryParts)
            .set({ ...anew, nextTry: null })
            .where(and(failedOf(deliveryParts), inArray(deliveryParts.contentId, made)));
        const parts = await transaction
          .update(deliveryParts)
          .set(anew)
          .where(failedOf(deliveryParts))
          .returning({ id: deliveryParts.id });
        if (made.length + parts.length === 0) return false;
        await transaction
          .update(deliveryRuns)
          .set({ state: 'working', endedAt: null, nextTry: null })
          .where(eq(deliveryRuns.id, run));
        return true;
      }),
    async cancel(run) {
      const off = { state: 'cancelled' as const, nextTry: null };
      await db.transaction(async (transaction) => {
        for (const table of [deliveryContents, deliveryParts])
          await transaction
            .update(table)
            .set(off)
            .where(and(eq(table.runId, run), eq(table.state, 'waiting')));
        await transaction
          .update(deliveryRuns)
          .set({ ...off, endedAt: new Date() })
          .where(and(eq(deliveryRuns.id, run), eq(deliveryRuns.state, 'waiting')));
      });
    },
    async sweep(filesBefore, runsBefore) {
      await db.execute(sql`
        delete from ${deliveryFiles} f using ${deliveryContents} c, ${deliveryRuns} r
        where f.content_id = c.id and c.run_id = r.id and r.ended_at < ${new Date(filesBefore).toISOString()}::timestamptz`);
      await db.delete(deliveryRuns).where(lt(deliveryRuns.endedAt, new Date(runsBefore)));
    },
  };
};

type Transaction = Parameters<Parameters<StoreDatabase['transaction']>[0]>[0];

/** Writes what was made of contents, unless somebody else did, and lets their parts go. */
const writeMade = async (transaction: Transaction, made: readonly MadeContent[], now: number): Promise<void> => {
  const ids = made.map(({ content }) => content);
  const given = sql`unnest(${sql.param(ids)}::text[], ${sql.param(made.map(({ pages }) => pages))}::int[],
    ${sql.param(made.map(({ rows }) => rows))}::int[]) as given (id, pages, rows)`;
  const own = await transaction
    .update(deliveryContents)
    .set({
      ...{ state: 'done', pages: sql`given.pages`, rows: sql`given.rows` },
      ...{ said: null, nextTry: null, heldUntil: null },
    })
    .from(given)
    .where(and(sql`${deliveryContents.id} = given.id`, eq(deliveryContents.state, 'working')))
    .returning({ id: deliveryContents.id });
  const taken = new Set(own.map(({ id }) => id));
  const written = made.filter(({ content }) => taken.has(content));
  if (written.length === 0) return;
  const files = written.flatMap(({ content: contentId, files }) =>
    files.map(({ name, mime, bytes }, place) => ({ contentId, place, name, mime, size: bytes.byteLength, bytes })),
  );
  if (files.length > 0) await transaction.insert(deliveryFiles).values(files);
  const isOpen = and(inArray(deliveryParts.contentId, [...taken]), eq(deliveryParts.state, 'waiting'));
  const messages = written.flatMap(({ content, messages }) =>
    [...messages].map(([target, message]) => ({ content, target, message: JSON.stringify(message) })),
  );
  if (messages.length > 0)
    await transaction.execute(sql`
      update ${deliveryParts} set message = given.message::jsonb
      from unnest(${sql.param(messages.map(({ content }) => content))}::text[],
        ${sql.param(messages.map(({ target }) => target))}::int[],
        ${sql.param(messages.map(({ message }) => message))}::text[]) as given (content, target, message)
      where ${deliveryParts.contentId} = given.content and ${deliveryParts.target} = given.target
        and ${deliveryParts.state} = 'waiting'`);
  await transaction
    .update(deliveryParts)
    .set({ nextTry: new Date(now) })
    .where(isOpen);
};

/** What is to be done by a moment, and nobody works on. */
const isFree = (table: AnyTable, now: number) =>
  and(
    inArray(table.state, [...OPEN]),
    lte(table.nextTry, new Date(now)),
    or(isNull(table.heldUntil), lt(table.heldUntil, new Date(now))),
  )!;

/** Some at a time, so that a statement does not grow without end, each with its place. */
const chunks = <T>(all: readonly T[], size = 200): [number, T[]][] =>
  Array.from({ length: Math.ceil(all.length / size) }, (_, i) => [i * size, all.slice(i * size, (i + 1) * size)]);
