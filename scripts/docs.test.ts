import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { LIMITS } from '../packages/server/src/base/limits.ts';
import { errorsPage, formulasPage, outputsPage } from './docs.ts';
import { referencePage } from './reference.ts';

it('says in the documentation what the code says (mend with: npm run docs)', () => {
  expect(readFileSync('docs/formulas.md', 'utf8')).toBe(formulasPage());
  expect(readFileSync('docs/errors.md', 'utf8')).toBe(errorsPage());
  expect(readFileSync('docs/outputs.md', 'utf8')).toBe(outputsPage());
  expect(readFileSync('docs/embedding-reference.md', 'utf8')).toBe(referencePage());
});

it('says of everything that a host can use what it is', () => {
  const silent = referencePage()
    .split('\n')
    .filter((line) => / \|\s+\|$/.test(line));
  expect(silent).toEqual([]);
});

it('lists every limit with the number that it has', () => {
  const page = readFileSync('docs/security.md', 'utf8');
  for (const [name, value] of Object.entries(LIMITS))
    expect(page).toContain(`| \`${name}\` | ${value.toLocaleString('en')} |`);
});

it('names only tests that there are', () => {
  const tests = execFileSync('git', ['ls-files', '--cached', '--others', '--exclude-standard', '*.test.ts'])
    .toString()
    .split('\n');
  for (const [, name] of readFileSync('docs/security.md', 'utf8').matchAll(/`([\w/.-]+\.test\.ts)`/g))
    expect(
      tests.filter((test) => test.endsWith(`/${name}`) || test === name),
      name,
    ).toHaveLength(1);
});
