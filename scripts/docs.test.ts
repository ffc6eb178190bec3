import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { errorsPage, formulasPage } from './docs.ts';

it('says in the documentation what the code says (mend with: npm run docs)', () => {
  expect(readFileSync('docs/formulas.md', 'utf8')).toBe(formulasPage());
  expect(readFileSync('docs/errors.md', 'utf8')).toBe(errorsPage());
});
