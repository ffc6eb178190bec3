import type { DeliveryRunState, DeliveryState, PartState, Right, RunReason } from '@gaveta/core/contract';
import type { Delivery, GivenValue, Problem, RunState, TargetKind, WireRow } from '@gaveta/core/internal';
import { index, integer, json, jsonb, pgTable, primaryKey, text, timestamp, uniqueIndex } from 'drizzle-orm/pg-core';
import type { Claims } from '../access/claims.ts';
import { bytes } from './column-types.ts';

/** Reports that come by themselves. */
export const deliveries = pgTable(
  'delivery',
  {
    id: text('id').primaryKey(),
    name: text('name').notNull(),
    /** Id of a thing of the library, which may be gone. */
    reportId: text('report_id').notNull(),
    definition: json('definition').$type<Delivery>().notNull(),
    revision: integer('revision').notNull(),
    /** Who it runs as, with all that decides on what they see, as they were when they saved it. */
    owner: text('owner').notNull(),
    groups: text('groups').array().notNull(),
    rights: text('rights').array().$type<Right[]>().notNull(),
    claims: jsonb('claims').$type<Claims>().notNull(),
    hostParameters: jsonb('host_parameters').$type<Record<string, GivenValue>>().notNull(),
    state: text('state').$type<DeliveryState>().notNull().default('on'),
    /** Why it was stopped. */
    said: jsonb('said').$type<Problem>(),
    /** When it goes next, or looks for rows next; null: not by itself. */
    nextAt: timestamp('next_at', { withTimezone: true }),
    /** Digests of the rows that it found when it looked last; null: it never did. */
    found: jsonb('found').$type<string[]>(),
    changedAt: timestamp('changed_at', { withTimezone: true }).notNull().defaultNow(),
    changedBy: text('changed_by').notNull(),
  },
  (table) => [
    index('delivery_next').on(table.nextAt),
    index('delivery_report').on(table.reportId),
    index('delivery_owner').on(table.owner),
  ],
);

/** Each time that a delivery went. */
export const deliveryRuns = pgTable(
  'delivery_run',
  {
    id: text('id').primaryKey(),
    deliveryId: text('delivery_id')
      .notNull()
      .references(() => deliveries.id, { onDelete: 'cascade' }),
    /** What it went for, so that it never goes twice for the same. */
    key: text('key').notNull(),
    why: text('why').$type<RunReason>().notNull(),
    dueAt: timestamp('due_at', { withTimezone: true }).notNull(),
    /** The delivery as it was then. */
    definition: json('definition').$type<Delivery>().notNull(),
    state: text('state').$type<DeliveryRunState>().notNull().default('waiting'),
    said: jsonb('said').$type<Problem>(),
    tries: integer('tries').notNull().default(0),
    /** When it is tried next; null where nothing waits. */
    nextTry: timestamp('next_try', { withTimezone: true }),
    /** Until when somebody works on it. */
    heldUntil: timestamp('held_until', { withTimezone: true }),
    begunAt: timestamp('begun_at', { withTimezone: true }),
    endedAt: timestamp('ended_at', { withTimezone: true }),
  },
  (table) => [
    uniqueIndex('delivery_run_key').on(table.deliveryId, table.key),
    index('delivery_run_due').on(table.deliveryId, table.dueAt),
    index('delivery_run_try').on(table.nextTry),
  ],
);

/** What is made for a run: one for each row that gets a part of its own, or one alone. */
export const deliveryContents = pgTable(
  'delivery_content',
  {
    id: text('id').primaryKey(),
    runId: text('run_id')
      .notNull()
      .references(() => deliveryRuns.id, { onDelete: 'cascade' }),
    /** From 0. */
    place: integer('place').notNull(),
    /** What it is told apart by. */
    label: text('label').notNull(),
    /** The row that it is for, and the person; null where there is none. */
    row: json('row').$type<WireRow>(),
    person: text('person'),
    values: jsonb('values').$type<Record<string, GivenValue>>().notNull(),
    state: text('state').$type<PartState>().notNull().default('waiting'),
    said: jsonb('said').$type<Problem>(),
    pages: integer('pages'),
    rows: integer('rows'),
    tries: integer('tries').notNull().default(0),
    nextTry: timestamp('next_try', { withTimezone: true }),
    heldUntil: timestamp('held_until', { withTimezone: true }),
  },
  (table) => [
    uniqueIndex('delivery_content_place').on(table.runId, table.place),
    index('delivery_content_try').on(table.nextTry),
  ],
);

/** Files that were made, as they are sent. */
export const deliveryFiles = pgTable(
  'delivery_file',
  {
    contentId: text('content_id')
      .notNull()
      .references(() => deliveryContents.id, { onDelete: 'cascade' }),
    place: integer('place').notNull(),
    name: text('name').notNull(),
    mime: text('mime').notNull(),
    size: integer('size').notNull(),
    bytes: bytes('bytes').notNull(),
  },
  (table) => [primaryKey({ columns: [table.contentId, table.place] })],
);

/** Each place where a content goes. Its id is known to the receiver, so that it is taken once. */
export const deliveryParts = pgTable(
  'delivery_part',
  {
    id: text('id').primaryKey(),
    runId: text('run_id')
      .notNull()
      .references(() => deliveryRuns.id, { onDelete: 'cascade' }),
    contentId: text('content_id')
      .notNull()
      .references(() => deliveryContents.id, { onDelete: 'cascade' }),
    /** Which of the delivery’s targets, from 0. */
    target: integer('target').notNull(),
    kind: text('kind').$type<TargetKind>().notNull(),
    /** Addresses of mails, with commas between them; else the name of the target. */
    to: text('sent_to').notNull(),
    /** Words of a mail, filled in; null: there are none, or not yet. */
    message: json('message').$type<{ subject: string; words: string }>(),
    state: text('state').$type<PartState>().notNull().default('waiting'),
    said: jsonb('said').$type<Problem>(),
    receipt: text('receipt'),
    sentAt: timestamp('sent_at', { withTimezone: true }),
    tries: integer('tries').notNull().default(0),
    nextTry: timestamp('next_try', { withTimezone: true }),
    heldUntil: timestamp('held_until', { withTimezone: true }),
  },
  (table) => [
    index('delivery_part_run').on(table.runId),
    index('delivery_part_content').on(table.contentId),
    index('delivery_part_try').on(table.nextTry),
  ],
);

/** Results that stay as they were. */
export const keptResults = pgTable(
  'kept_result',
  {
    id: text('id').primaryKey(),
    deliveryId: text('delivery_id').references(() => deliveries.id, { onDelete: 'set null' }),
    reportId: text('report_id').notNull(),
    name: text('name').notNull(),
    owner: text('owner').notNull(),
    /** Who else may see it, as grants name them. */
    principals: text('principals').array().notNull(),
    values: jsonb('values').$type<Record<string, GivenValue>>().notNull(),
    madeAt: timestamp('made_at', { withTimezone: true }).notNull().defaultNow(),
    pages: integer('pages').notNull(),
    rows: integer('rows').notNull(),
    /** The run as it was when it ended, with its headings. */
    run: json('run').$type<{ state: RunState; headings: unknown[] }>().notNull(),
  },
  (table) => [index('kept_result_report').on(table.reportId, table.madeAt), index('kept_result_made').on(table.madeAt)],
);

/** Pages of kept results, several together, packed. */
export const keptPages = pgTable(
  'kept_page',
  {
    resultId: text('result_id')
      .notNull()
      .references(() => keptResults.id, { onDelete: 'cascade' }),
    /** The first page of them, from 1. */
    first: integer('first').notNull(),
    bytes: bytes('bytes').notNull(),
  },
  (table) => [primaryKey({ columns: [table.resultId, table.first] })],
);

/** Pictures on kept pages, by their hashes. */
export const keptPictures = pgTable(
  'kept_picture',
  {
    resultId: text('result_id')
      .notNull()
      .references(() => keptResults.id, { onDelete: 'cascade' }),
    hash: text('hash').notNull(),
    bytes: bytes('bytes').notNull(),
  },
  (table) => [primaryKey({ columns: [table.resultId, table.hash] }), index('kept_picture_hash').on(table.hash)],
);

/** Files that were made of a kept result. */
export const keptFiles = pgTable(
  'kept_file',
  {
    resultId: text('result_id')
      .notNull()
      .references(() => keptResults.id, { onDelete: 'cascade' }),
    place: integer('place').notNull(),
    name: text('name').notNull(),
    mime: text('mime').notNull(),
    size: integer('size').notNull(),
    bytes: bytes('bytes').notNull(),
  },
  (table) => [primaryKey({ columns: [table.resultId, table.place] })],
);
