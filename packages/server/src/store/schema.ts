import type { Act, LibraryKind } from '@gaveta/core/contract';
import type {
  ConnectionSettings,
  GivenValue,
  HouseThing,
  Parameter,
  Publishing,
  Report,
  Sketch,
  Step,
} from '@gaveta/core/internal';
import { sql } from 'drizzle-orm';
import {
  type AnyPgColumn,
  bigint,
  bigserial,
  boolean,
  check,
  customType,
  date,
  index,
  integer,
  json,
  jsonb,
  pgTable,
  primaryKey,
  serial,
  smallint,
  text,
  timestamp,
  uniqueIndex,
} from 'drizzle-orm/pg-core';
import type { Claims } from '../access/claims.ts';
import type { FoundModel } from '../sources/stored.ts';
import { bytes } from './column-types.ts';
import type { MentionKind } from './mentions.ts';

/**
 * What a thing of the library is. The definition of most stands in its revisions; recipes and connections have tables of their own,
 * and here what is told of them, under the ids that store/entries.ts gives them.
 */
export type StoredKind = LibraryKind;

/** What stands in a revision. */
export type Definition = Report | Sketch | HouseThing;

const searchWords = customType<{ data: string }>({ dataType: () => 'tsvector' });

/** The folder that all others are in, but for those of single people. */
export const ROOT = 'root';

/** A folder of the library. */
export const folders = pgTable(
  'folder',
  {
    id: text('id').primaryKey(),
    /** Null of the root, and of each person’s own folder. */
    parent: text('parent_id').references((): AnyPgColumn => folders.id),
    name: text('name').notNull(),
    note: text('note').notNull().default(''),
    /** User who may do everything with it; null: nobody by that alone. */
    owner: text('owner'),
    /** The owner’s own, which nobody else sees unless they are let. */
    isPersonal: boolean('is_personal').notNull().default(false),
    /** Whether what somebody may do with the folder around it holds here too. */
    inherits: boolean('inherits').notNull().default(true),
    /** Null: as in the folder around it. */
    publishing: text('publishing').$type<Publishing>(),
    changedAt: timestamp('changed_at', { withTimezone: true }).notNull().defaultNow(),
    changedBy: text('changed_by').notNull(),
    /** When somebody deleted it with all that is in it; it can be restored for a while. */
    deletedAt: timestamp('deleted_at', { withTimezone: true }),
  },
  (table) => [
    index('folder_parent').on(table.parent),
    uniqueIndex('folder_of_person').on(table.owner).where(sql`${table.isPersonal}`),
  ],
);

/** A thing of the library; its definition stands in its revisions. */
export const reports = pgTable(
  'report',
  {
    id: text('id').primaryKey(),
    kind: text('kind').$type<StoredKind>().notNull().default('report'),
    name: text('name').notNull(),
    folder: text('folder')
      .notNull()
      .default(ROOT)
      .references(() => folders.id),
    note: text('note').notNull().default(''),
    tags: text('tags').array().notNull().default([]),
    /** Whether new reports may begin as it is. */
    isTemplate: boolean('is_template').notNull().default(false),
    /** User who may do everything with it; null: nobody by that alone. */
    owner: text('owner'),
    /** Whether what somebody may do with its folder holds for it too. */
    inherits: boolean('inherits').notNull().default(true),
    /** Number of the newest revision, from 1. */
    revision: integer('revision').notNull(),
    /** The revision that readers see; null: none. */
    published: integer('published'),
    /** The revision that somebody asked to publish, and who; null: none. */
    asked: integer('asked'),
    askedBy: text('asked_by'),
    askedNote: text('asked_note'),
    changedAt: timestamp('changed_at', { withTimezone: true }).notNull().defaultNow(),
    changedBy: text('changed_by').notNull(),
    /** When somebody deleted it; it can be restored for a while. */
    deletedAt: timestamp('deleted_at', { withTimezone: true }),
    /** Words to find it by; null: not gathered yet. */
    search: searchWords('search'),
    /** Those of its name alone. */
    nameSearch: searchWords('name_search'),
    /** As `search`, of what readers see, so that nobody finds out what is in the rest. */
    publishedSearch: searchWords('published_search'),
  },
  (table) => [
    index('report_folder').on(table.folder),
    index('report_owner').on(table.owner),
    index('report_name').on(sql`lower(${table.name})`, table.id),
    index('report_changed').on(table.changedAt),
    index('report_search').using('gin', table.search),
    index('report_name_search').using('gin', table.nameSearch),
    index('report_published_search').using('gin', table.publishedSearch),
  ],
);

/** Who may do what with a folder or with one thing. `principal`: `user:…`, `group:…` or `everybody`. */
export const grants = pgTable(
  'grants',
  {
    id: serial('id').primaryKey(),
    folder: text('folder_id').references(() => folders.id, { onDelete: 'cascade' }),
    report: text('report_id').references(() => reports.id, { onDelete: 'cascade' }),
    principal: text('principal').notNull(),
    /** Place in ACCESS_LEVELS, from 1. */
    level: smallint('level').notNull(),
    grantedAt: timestamp('granted_at', { withTimezone: true }).notNull().defaultNow(),
    grantedBy: text('granted_by').notNull(),
  },
  (table) => [
    uniqueIndex('grants_of_folder').on(table.folder, table.principal),
    uniqueIndex('grants_of_report').on(table.report, table.principal),
    index('grants_of_principal').on(table.principal),
    check('grants_of_one', sql`(${table.folder} is null) <> (${table.report} is null)`),
  ],
);

/** What one person starred, and when they opened it last. */
export const marks = pgTable(
  'mark',
  {
    user: text('user_name').notNull(),
    reportId: text('report_id')
      .notNull()
      .references(() => reports.id, { onDelete: 'cascade' }),
    isStarred: boolean('is_starred').notNull().default(false),
    openedAt: timestamp('opened_at', { withTimezone: true }),
  },
  (table) => [primaryKey({ columns: [table.user, table.reportId] }), index('mark_report').on(table.reportId)],
);

/** Revisions as they came before readers, and were taken back; the last one holds. Rows are only added. */
export const publications = pgTable(
  'publication',
  {
    id: serial('id').primaryKey(),
    reportId: text('report_id')
      .notNull()
      .references(() => reports.id, { onDelete: 'cascade' }),
    /** Null: from then on readers saw none. */
    revision: integer('revision'),
    by: text('published_by').notNull(),
    note: text('note').notNull().default(''),
    at: timestamp('published_at', { withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [index('publication_report').on(table.reportId, table.id)],
);

/** Small pictures of first pages, each as one person sees it with what they may see. */
export const firstPages = pgTable(
  'first_page',
  {
    reportId: text('report_id')
      .notNull()
      .references(() => reports.id, { onDelete: 'cascade' }),
    /** Digest of who sees it, and with which claims. */
    seenBy: text('seen_by').notNull(),
    revision: integer('revision').notNull(),
    /** A PNG; null: there is none to be had. */
    picture: bytes('picture'),
    madeAt: timestamp('made_at', { withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [primaryKey({ columns: [table.reportId, table.seenBy] }), index('first_page_made').on(table.madeAt)],
);

/** How often a thing ran on one day, and how long that took. */
export const runDays = pgTable(
  'run_day',
  {
    reportId: text('report_id')
      .notNull()
      .references(() => reports.id, { onDelete: 'cascade' }),
    /** In UTC. */
    day: date('day').notNull(),
    runs: integer('runs').notNull(),
    milliseconds: bigint('milliseconds', { mode: 'number' }).notNull(),
  },
  (table) => [primaryKey({ columns: [table.reportId, table.day] })],
);

/** Links by which people without an account read one report; see access/link-tokens.ts. */
export const links = pgTable(
  'link',
  {
    id: text('id').primaryKey(),
    reportId: text('report_id')
      .notNull()
      .references(() => reports.id, { onDelete: 'cascade' }),
    label: text('label').notNull(),
    by: text('shared_by').notNull(),
    groups: text('groups').array().notNull(),
    managesAll: boolean('manages_all').notNull(),
    claims: jsonb('claims').$type<Claims>().notNull(),
    hostParameters: jsonb('host_parameters').$type<Record<string, GivenValue>>().notNull(),
    values: jsonb('values').$type<Record<string, GivenValue>>().notNull(),
    madeAt: timestamp('made_at', { withTimezone: true }).notNull().defaultNow(),
    endsAt: timestamp('ends_at', { withTimezone: true }).notNull(),
    revokedAt: timestamp('revoked_at', { withTimezone: true }),
    opened: integer('opened').notNull().default(0),
    openedAt: timestamp('opened_at', { withTimezone: true }),
  },
  (table) => [index('link_report').on(table.reportId)],
);

/** Who did what, with what it was called then; a thing that is gone for good leaves its rows here. */
export const activity = pgTable(
  'activity',
  {
    id: bigserial('id', { mode: 'number' }).primaryKey(),
    at: timestamp('at', { withTimezone: true }).notNull().defaultNow(),
    user: text('user_name').notNull(),
    act: text('act').$type<Act>().notNull(),
    thing: text('thing_id'),
    name: text('name').notNull(),
    data: jsonb('data').$type<Record<string, unknown>>().notNull(),
  },
  (table) => [index('activity_at').on(table.at), index('activity_thing').on(table.thing, table.id)],
);

/** People and groups that came with a token, so that others find them when they decide who may. */
export const people = pgTable('person', {
  principal: text('principal').primaryKey(),
  seenAt: timestamp('seen_at', { withTimezone: true }).notNull().defaultNow(),
});

/** Every save of a report. Rows are only added. */
export const revisions = pgTable(
  'revision',
  {
    reportId: text('report_id')
      .notNull()
      .references(() => reports.id, { onDelete: 'cascade' }),
    number: integer('number').notNull(),
    definition: json('definition').$type<Definition>().notNull(),
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
