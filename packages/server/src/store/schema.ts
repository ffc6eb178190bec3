import type { Report } from '@gaveta/core';
import { index, integer, jsonb, pgTable, primaryKey, text, timestamp } from 'drizzle-orm/pg-core';

/** A stored report; its definition stands in its revisions. */
export const reports = pgTable('report', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  folder: text('folder').notNull().default(''),
  /** Number of the newest revision, from 1. */
  revision: integer('revision').notNull(),
  changedAt: timestamp('changed_at', { withTimezone: true }).notNull().defaultNow(),
  changedBy: text('changed_by').notNull(),
});

/** Every save of a report. Rows are only added. */
export const revisions = pgTable(
  'revision',
  {
    reportId: text('report_id')
      .notNull()
      .references(() => reports.id, { onDelete: 'cascade' }),
    number: integer('number').notNull(),
    definition: jsonb('definition').$type<Report>().notNull(),
    author: text('author').notNull(),
    note: text('note').notNull().default(''),
    savedAt: timestamp('saved_at', { withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [primaryKey({ columns: [table.reportId, table.number] }), index('revision_saved_at').on(table.savedAt)],
);
