import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { expect, it } from 'vitest';
import en from './en.json';

const folder = fileURLToPath(new URL('..', import.meta.url));
const sources = (readdirSync(folder, { recursive: true }) as string[]).filter(
  (f) => /\.tsx?$/.test(f) && !/\.test\./.test(f),
);

const find = (path: string): unknown =>
  path.split('.').reduce<unknown>((at, part) => (at as Record<string, unknown> | undefined)?.[part], en);

it('holds every text that the interface asks for', () => {
  const missing = new Set<string>();
  for (const file of sources) {
    for (const [, key] of readFileSync(`${folder}${file}`, 'utf8').matchAll(/\bt\(\s*'([a-zA-Z]+\.[\w.-]+)'/g)) {
      if (typeof find(key!) !== 'string' && typeof find(`${key}_other`) !== 'string') missing.add(`${file}: ${key}`);
    }
  }
  expect([...missing]).toEqual([]);
});
