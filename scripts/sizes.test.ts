import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { gzipSync } from 'node:zlib';
import { expect, it } from 'vitest';

const folder = fileURLToPath(new URL('../packages/web/dist/assets/', import.meta.url));
const files = readdirSync(folder).filter((file) => file.endsWith('.js'));
const named = (name: string): string => {
  const found = files.filter((file) => new RegExp(`^${name}-[\\w-]{8}\\.js$`).test(file));
  expect(found, name).toHaveLength(1);
  return found[0]!;
};

/** A script and all that it needs before it can run. */
const closure = (file: string, seen = new Set<string>()): Set<string> => {
  if (seen.has(file)) return seen;
  seen.add(file);
  const text = readFileSync(folder + file, 'utf8');
  for (const [, needed] of text.matchAll(/(?:from|import)\s*"\.\/([^"]+\.js)"/g)) closure(needed!, seen);
  return seen;
};

const kilobytes = (list: Iterable<string>): number => {
  let bytes = 0;
  for (const file of list) bytes += gzipSync(readFileSync(folder + file)).length;
  return bytes / 1000;
};

/** What every screen needs: React, the router, what asks the server, and the words of a language apart. */
const start = closure(named('index'));

const own = (screen: string): Set<string> => new Set([...closure(named(screen))].filter((file) => !start.has(file)));

it('keeps what a browser fetches for a screen before it shows something, gzipped, below a budget', () => {
  expect(kilobytes(start)).toBeLessThan(137);
  const budgets = { 'viewer-screen': 110, 'library-screen': 120, 'designer-screen': 620, 'sketch-screen': 490 };
  for (const [screen, budget] of Object.entries(budgets)) expect(kilobytes(own(screen)), screen).toBeLessThan(budget);
});
