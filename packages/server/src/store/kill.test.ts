import { fork } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, expect, it } from 'vitest';

let root: string;
beforeAll(() => {
  root = mkdtempSync(join(tmpdir(), 'gaveta-kill-'));
});
afterAll(() => rmSync(root, { recursive: true, force: true }));

type Message = { there: number[] } | { saved: number };

/** Opens the store in a process of its own, which is killed after so many saves. */
const killedAfter = async (saves: number): Promise<{ there: number[]; acknowledged: number }> => {
  const child = fork(fileURLToPath(new URL('saving.test-support.ts', import.meta.url)), [join(root, 'store')], {
    execArgv: ['--import', 'tsx'],
  });
  let there: number[] = [];
  let acknowledged = 0;
  let count = 0;
  child.on('message', (message: Message) => {
    if ('there' in message) there = message.there;
    else {
      acknowledged = message.saved;
      if (++count === saves) child.kill('SIGKILL');
    }
  });
  const [, signal] = (await once(child, 'exit')) as [number | null, string | null];
  expect(signal).toBe('SIGKILL');
  return { there, acknowledged };
};

it('no save that was acknowledged is gone after a kill', async () => {
  let before = 0;
  for (const saves of [7, 1]) {
    const { there, acknowledged } = await killedAfter(saves);
    // One more may have been written that nobody heard of any more.
    expect([...there].sort((a, b) => a - b)).toEqual(Array.from({ length: there.length }, (_, i) => i + 1));
    expect(there.length).toBeGreaterThanOrEqual(before);
    before = acknowledged;
  }
}, 240_000);
