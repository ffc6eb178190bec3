import { RowProblem } from '@gaveta/core/internal';
import { expect, it } from 'vitest';
import { RowSpool } from './row-spool.ts';

const bytes = (text: string): Uint8Array => Buffer.from(text);

it('keeps the batches of levels that come at once, each in its order, and says where rows broke off', async () => {
  const spool = await RowSpool.open(1000);
  await Promise.all(['a', 'bb', 'ccc'].flatMap((text) => [0, 1].map((level) => spool.add(level, bytes(text + level)))));
  spool.broke(1, { code: 'too-many-rows', data: { limit: 3 } });
  expect(spool.isWhole).toBe(false);
  expect(spool.complete()).toBe(true);
  const read = async (level: number): Promise<string[]> =>
    (await Promise.all([0, 1, 2].map((place) => spool.batch(level, place)))).map(String);
  expect(await read(0)).toEqual(['a0', 'bb0', 'ccc0']);
  expect(await read(1)).toEqual(['a1', 'bb1', 'ccc1']);
  expect(await spool.batch(0, 3)).toBeNull();
  expect(await spool.batch(7, 0)).toBeNull();
  await expect(spool.batch(1, 3)).rejects.toThrow(RowProblem);
  await spool.letGo();
});

it('keeps nothing more of rows that take too much room, and is not whole then', async () => {
  const spool = await RowSpool.open(10);
  expect(await spool.add(0, bytes('12345678'))).toBe(true);
  expect(await spool.add(0, bytes('9abcdef'))).toBe(false);
  expect(await spool.add(0, bytes('9'))).toBe(false);
  expect([spool.complete(), spool.isWhole, spool.bytes]).toEqual([false, false, 8]);
  await spool.letGo();
});

it('stays until the last run that shows its rows lets go of it', async () => {
  const spool = await RowSpool.open(100);
  await spool.add(0, bytes('rows'));
  spool.complete();
  spool.hold();
  await spool.letGo();
  expect([spool.isWhole, String(await spool.batch(0, 0))]).toEqual([true, 'rows']);
  await spool.letGo();
  expect([spool.isWhole, await spool.batch(0, 0)]).toEqual([false, null]);
});
