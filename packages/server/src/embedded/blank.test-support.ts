import type { PGlite } from '@electric-sql/pglite';
import { openEmbedded } from './empty-database.ts';

/** Databases that a test is done with: emptied, so that the next one need not wait for another to start. */
const free: PGlite[] = [];

/** A database with nothing in it, in memory; to close it gives it back to the next test that asks. */
export const openBlank = async (): Promise<PGlite> => {
  const database = free.pop() ?? (await openEmbedded());
  return new Proxy(database, {
    get: (target, name) => {
      if (name === 'close') return () => empty(target);
      const value = Reflect.get(target, name, target);
      return typeof value === 'function' ? value.bind(target) : value;
    },
  });
};

const empty = async (database: PGlite): Promise<void> => {
  for (const words of ['rollback', 'discard all']) await database.exec(words);
  const { rows } = await database.query<{ name: string }>(
    `select nspname as name from pg_namespace where nspname not like 'pg\\_%' and nspname <> 'information_schema'`,
  );
  for (const { name } of rows) await database.exec(`drop schema "${name}" cascade`);
  await database.exec('create schema public');
  free.push(database);
};
