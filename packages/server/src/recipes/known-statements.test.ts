import { cp, mkdtemp, readFile, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { PGlite } from '@electric-sql/pglite';
import { type Report, readDefinition } from '@gaveta/core/internal';
import { drizzle } from 'drizzle-orm/pglite';
import { migrate } from 'drizzle-orm/pglite/migrator';
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import type { Session } from '../access/session.ts';
import { openBlank } from '../embedded/blank.test-support.ts';
import { openStore, type Store } from '../store/store.ts';
import { mayUseStatements } from './known-statements.ts';
import { fieldUsers, usersOf } from './users.ts';

const MIGRATIONS = fileURLToPath(new URL('../../drizzle', import.meta.url));

const written = (text: string) => ({ step: 'sql', model: 'own', text, columns: [{ name: 'kept', type: 'number' }] });
const report = (name: string, extra: Record<string, unknown> = {}): Report => {
  const read = readDefinition({ gaveta: 2, name, model: 'own', ...extra });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.report;
};
const withStatement = (name: string, text: string): Report =>
  report(name, { queries: [{ name: 'rows', label: 'Rows', steps: [written(text)] }] });
const maker: Session = { user: 'maker', rights: ['view', 'design'], claims: {} };

/** The migrations up to the one of this number, as an older release had them. */
const olderMigrations = async (last: number): Promise<string> => {
  const folder = await mkdtemp(join(tmpdir(), 'gaveta-migrations-'));
  await cp(MIGRATIONS, folder, { recursive: true });
  const file = join(folder, 'meta', '_journal.json');
  const journal = JSON.parse(await readFile(file, 'utf8')) as { entries: { idx: number }[] };
  journal.entries = journal.entries.filter(({ idx }) => idx <= last);
  await writeFile(file, JSON.stringify(journal));
  return folder;
};

let database: PGlite;
let store: Store;
beforeAll(async () => {
  database = await openBlank();
  // A store of an older release, with a report of two revisions in it.
  await migrate(drizzle(database), { migrationsFolder: await olderMigrations(2) });
  await database.query(`insert into report (id, name, revision, changed_by) values ('old', 'Old', 2, 'ines')`);
  const revision = `insert into revision (report_id, number, definition, author) values ('old', $1, $2, 'ines')`;
  await database.query(revision, [1, withStatement('Old', 'select 1 as gone')]);
  await database.query(revision, [2, withStatement('Old', 'select 1 as kept')]);
  store = await openStore(database);
  for (let i = 0; i < 40; i++) await store.create(report(`Report ${i}`), 'ines', `report-${i}`);
});
afterAll(() => database.close());

it('knows what is written in reports of an older store, as they were last saved', async () => {
  expect(await mayUseStatements(store, maker, [written('select 1 as kept')])).toBe(true);
  expect(await mayUseStatements(store, maker, [written('select 1 as gone')])).toBe(false);
});

it('asks one statement, however many reports there are', async () => {
  const asked = vi.spyOn(database, 'query');
  expect(await mayUseStatements(store, maker, withStatement('New', 'select 1 as kept'))).toBe(true);
  expect(asked.mock.calls.length).toBeLessThanOrEqual(2);
  asked.mockClear();
  await usersOf(store, 'a-recipe');
  expect(asked.mock.calls.length).toBeLessThanOrEqual(2);
  asked.mockClear();
  await fieldUsers(store, 'own', [{ field: 'name', change: 'gone' }]);
  expect(asked.mock.calls.length).toBeLessThanOrEqual(2);
  asked.mockRestore();
});

it('forgets what a newer revision does not mention any more', async () => {
  const { revision } = await store.create(withStatement('Changing', 'select 2 as two'), 'ines', 'changing');
  expect(await mayUseStatements(store, maker, written('select 2 as two'))).toBe(true);
  await store.save('changing', withStatement('Changing', 'select 3 as three'), revision, 'ines', '');
  expect(await mayUseStatements(store, maker, written('select 3 as three'))).toBe(true);
  expect(await mayUseStatements(store, maker, written('select 2 as two'))).toBe(false);
});

it('finds the reports that take rows of a recipe', async () => {
  const queries = [{ name: 'rows', label: 'Rows', steps: [{ step: 'take', from: { recipe: 'nights' } }] }];
  await store.create(report('Nights', { queries }), 'ines', 'nights-report');
  expect(await usersOf(store, 'nights')).toEqual([{ kind: 'report', id: 'nights-report', name: 'Nights' }]);
});
