import { expect, it } from 'vitest';
import { begun, changed, redone, undone } from './history.ts';

it('goes back and forth through what a value was, and forgets what was undone once it changes', () => {
  const twice = changed(changed(begun('a'), 'b', 0), 'c', 1000);
  expect(undone(twice).now).toBe('b');
  expect(undone(undone(twice)).now).toBe('a');
  expect(redone(undone(twice)).now).toBe('c');
  const other = changed(undone(twice), 'd', 1001);
  expect([other.now, redone(other).now, undone(other).now]).toEqual(['d', 'd', 'b']);
  const first = begun('a');
  expect(undone(first)).toBe(first);
});

it('undoes what is typed into one box without a pause together, and nothing else', () => {
  const at = (name: string, files: string[] = ['pdf']) => ({ name, files });
  const typed = ['h', 'hu', 'hut'].reduce((history, name, i) => changed(history, at(name), i * 120), begun(at('')));
  expect(undone(typed).now.name).toBe('');
  const later = changed(typed, at('huts'), 5000);
  expect([undone(later).now.name, undone(undone(later)).now.name]).toEqual(['hut', '']);
  const picked = changed(typed, at('hut', ['csv']), 300);
  const added = changed(picked, at('hut', ['csv', 'xlsx']), 310);
  expect([undone(added).now, undone(undone(added)).now]).toEqual([at('hut', ['csv']), at('hut')]);
});
