import { expect, it } from 'vitest';
import { Kept } from './kept.ts';

it('reads once until something is written, also while a reading is under way', async () => {
  const kept = new Kept<number>(10);
  let value = 1;
  let reads = 0;
  let letGo = (): void => {};
  const gate = new Promise<void>((resolve) => {
    letGo = resolve;
  });
  const find = async (): Promise<number> => {
    reads++;
    const found = value;
    await gate;
    return found;
  };
  const slow = kept.read('a', find);
  await kept.write('a', async () => {
    value = 2;
  });
  letGo();
  expect(await slow).toBe(1);
  expect(await kept.read('a', find)).toBe(2);
  expect(await kept.read('a', find)).toBe(2);
  expect(reads).toBe(2);
});

it('keeps nothing that is too large', async () => {
  const kept = new Kept<string>(10, (found) => found.length < 3);
  let reads = 0;
  const find = async (): Promise<string> => 'x'.repeat(++reads);
  const all = [];
  for (let i = 0; i < 2; i++) all.push(await kept.read('large', async () => `${await find()}--`));
  for (let i = 0; i < 2; i++) all.push(await kept.read('small', async () => `${++reads}`));
  expect(all).toEqual(['x--', 'xx--', '3', '3']);
});

it('keeps no failure, lets go of what failed to be written, and holds no more than it may', async () => {
  const kept = new Kept<string>(2);
  await expect(kept.read('a', () => Promise.reject(new Error('gone')))).rejects.toThrow('gone');
  expect(await kept.read('a', async () => 'there')).toBe('there');
  await expect(kept.write('a', () => Promise.reject(new Error('full')))).rejects.toThrow('full');
  expect(await kept.read('a', async () => 'read again')).toBe('read again');
  for (const key of ['b', 'c']) await kept.read(key, async () => key);
  expect(await kept.read('a', async () => 'read once more')).toBe('read once more');
  expect(await kept.read('c', async () => 'not asked')).toBe('c');
});
