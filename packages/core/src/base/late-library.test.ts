import { expect, it } from 'vitest';
import { lateLibrary } from './late-library.ts';

it('is there once somebody has waited for it, and says so before', async () => {
  let brought = 0;
  const library = lateLibrary('the reader of tides', async () => ({ times: ++brought }));
  expect(() => library.get()).toThrow('the reader of tides is used before it was loaded');
  await library.load();
  await library.load();
  expect([library.get().times, brought]).toEqual([1, 1]);
});

it('that could not be loaded is tried again by the next one who needs it', async () => {
  let tries = 0;
  const library = lateLibrary('the reader of tides', async () => {
    if (++tries === 1) throw new Error('not now');
    return 'here';
  });
  await expect(library.load()).rejects.toThrow('not now');
  await library.load();
  expect(library.get()).toBe('here');
});
