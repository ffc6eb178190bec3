import { expect, it } from 'vitest';
import { begun, changed, redone, undone } from './history.ts';

it('goes back and forth through what a value was, and forgets what was undone once it changes', () => {
  const twice = changed(changed(begun('a'), 'b'), 'c');
  expect(undone(twice).now).toBe('b');
  expect(undone(undone(twice)).now).toBe('a');
  expect(redone(undone(twice)).now).toBe('c');
  const other = changed(undone(twice), 'd');
  expect([other.now, redone(other).now, undone(other).now]).toEqual(['d', 'd', 'b']);
  const first = begun('a');
  expect(undone(first)).toBe(first);
});
