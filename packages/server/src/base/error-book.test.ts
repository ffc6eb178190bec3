import { expect, it } from 'vitest';
import { ErrorBook } from './error-book.ts';

it('remembers the last errors, newest first, and counts those that come again', () => {
  const book = new ErrorBook();
  for (let i = 0; i < 60; i++) book.note(new Error(`error ${i}`));
  book.note('error 59');
  book.note(new Error('x'.repeat(9000)));
  const all = book.all();
  expect(all).toHaveLength(50);
  expect(all[0]!.said).toHaveLength(2000);
  expect(all[1]).toMatchObject({ said: 'error 59', times: 2 });
  expect(all.at(-1)!.said).toBe('error 11');
});
