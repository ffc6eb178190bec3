import { expect, it } from 'vitest';
import { RunFile } from './run-file.ts';

const never = new AbortController().signal;

const bytesOf = async (file: { chunks(): AsyncIterable<Buffer> } | null): Promise<string> => {
  let text = '';
  for await (const chunk of file!.chunks()) text += chunk.toString();
  return text;
};

it('is made once for all who ask, also for those who come later', async () => {
  let made = 0;
  const file = new RunFile(async (append) => {
    made++;
    await append(Buffer.from('one '));
    await append(Buffer.from('two'));
  });
  const all = await Promise.all([1, 2, 3].map(() => file.whole(never)));
  expect(await bytesOf(all[0]!)).toBe('one two');
  expect(await file.whole(never)).toBe(all[0]);
  expect(made).toBe(1);
  await file.close();
  await expect(bytesOf(all[0]!)).rejects.toThrow('let go');
});

it('is given up when the last one who waits goes away, and made anew for the next', async () => {
  const ended: boolean[] = [];
  let begun = 0;
  let isSlow = true;
  const file = new RunFile(async (append, signal) => {
    begun++;
    if (isSlow) await new Promise<void>((resolve) => signal.addEventListener('abort', () => resolve(), { once: true }));
    ended.push(signal.aborted);
    await append(Buffer.from('whole'));
  });
  const [first, second] = [new AbortController(), new AbortController()];
  const waiting = [first, second].map(({ signal }) => file.whole(signal));
  await expect.poll(() => begun).toBe(1);
  first.abort();
  expect(await waiting[0]).toBeNull();
  expect(ended).toEqual([]);
  second.abort();
  expect(await waiting[1]).toBeNull();
  await expect.poll(() => ended).toEqual([true]);
  isSlow = false;
  expect(await bytesOf(await file.whole(never))).toBe('whole');
  await file.close();
});

it('tells all who wait when it cannot be made, and tries again for the next', async () => {
  let tries = 0;
  const file = new RunFile(async () => {
    if (++tries === 1) throw new Error('the disk is full');
  });
  const waiting = await Promise.allSettled([file.whole(never), file.whole(never)]);
  expect(waiting.map((w) => w.status)).toEqual(['rejected', 'rejected']);
  expect((await file.whole(never))?.size).toBe(0);
  await file.close();
});
