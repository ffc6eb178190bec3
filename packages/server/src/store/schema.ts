import type { ConnectionSettings, GivenValue, Parameter, Report, Sketch, Step } from '@gaveta/core/internal';
import {
  boolean,
  customType,
  index,
  integer,
  json,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
  uniqueIndex,
} from 'drizzle-orm/pg-core';
import type { FoundModel } from '../sources/stored.ts';
import type { MentionKind } from './mentions.ts';

/** What a definition is one of. */
export type StoredKind = 'report' | 'sketch';

const bytes = customType<{ data: Uint8Array }>({ dataType: () => 'bytea' });

/** A stored report or sketch; its definition stands in its revisions. */
export const reports = pgTable('report', {
  id: text('id').primaryKey(),
  kind: text('kind').$type<StoredKind>().notNull().default('report'),
  name: text('name').notNull(),
  folder: text('folder').notNull().default(''),
  /** Number of the newest revision, from 1. */
  revision: integer('revision').notNull(),
  changedAt: timestamp('changed_at', { withTimezone: true }).notNull().defaultNow(),
  changedBy: text('changed_by').notNull(),
  /** When somebody deleted it; it can be restored for a while. */
  deletedAt: timestamp('deleted_at', { withTimezone: true }),
});

/** Every save of a report. Rows are only added. */
export const revisions = pgTable(
  'revision',
  {
    reportId: text('report_id')
      .notNull()
      .references(() => reports.id, { onDelete: 'cascade' }),
    number: integer('number').notNull(),
    definition: json('definition').$type<Report | Sketch>().notNull(),
    author: text('author').notNull(),
    note: text('note').notNull().default(''),
    savedAt: timestamp('saved_at', { withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [primaryKey({ columns: [table.reportId, table.number] }), index('revision_saved_at').on(table.savedAt)],
);

/** Work of one person that is not saved yet; of a report that is stored, or of a new one. */
export const drafts = pgTable(
  'draft',
  {
    author: text('author').notNull(),
    /** Id of the report, or one of its own for a report that is new. */
    key: text('key').notNull(),
    reportId: text('report_id').references(() => reports.id, { onDelete: 'cascade' }),
    /** The revision that the work was begun on; 0 for a report that is new. */
    base: integer('base').notNull(),
    definition: json('definition').$type<Report | Sketch>().notNull(),
    savedAt: timestamp('saved_at', { withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [primaryKey({ columns: [table.author, table.key] })],
);

/** Values of a report’s parameters that a reader gave a name. */
export const valueSets = pgTable(
  'value_set',
  {
    id: text('id').primaryKey(),
    reportId: text('report_id')
      .notNull()
      .references(() => reports.id, { onDelete: 'cascade' }),
    owner: text('owner').notNull(),
    /** The owner’s name. */
    by: text('by').notNull(),
    name: text('name').notNull(),
    values: jsonb('values').$type<Record<string, GivenValue>>().notNull(),
    isShared: boolean('is_shared').notNull(),
    savedAt: timestamp('saved_at', { withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [uniqueIndex('value_set_name').on(table.reportId, table.owner, table.name)],
);

/** A recipe that reports share. */
export const recipes = pgTable('recipe', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  steps: jsonb('steps').$type<Step[]>().notNull(),
  parameters: jsonb('parameters').$type<Parameter[]>().notNull(),
  revision: integer('revision').notNull(),
  changedAt: timestamp('changed_at', { withTimezone: true }).notNull().defaultNow(),
  changedBy: text('changed_by').notNull(),
});

/** A connection that was made by hand. What is secret of it is sealed; see secrets/seal.ts. */
export const connections = pgTable('connection', {
  name: text('name').primaryKey(),
  label: text('label').notNull(),
  settings: jsonb('settings').$type<ConnectionSettings>().notNull(),
  secret: text('secret'),
  /** An uploaded file. */
  data: bytes('data'),
  /** Tables and fields as they were found last, in the order in which they were. */
  model: json('model').$type<FoundModel>().notNull(),
  changedAt: timestamp('changed_at', { withTimezone: true }).notNull().defaultNow(),
  changedBy: text('changed_by').notNull(),
});

/** What the newest revision of a report names; see store/mentions.ts. */
export const mentions = pgTable(
  'mention',
  {
    reportId: text('report_id')
      .notNull()
      .references(() => reports.id, { onDelete: 'cascade' }),
    kind: text('kind').$type<MentionKind>().notNull(),
    value: text('value').notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.reportId, table.kind, table.value] }),
    index('mention_value').on(table.kind, table.value),
  ],
);
