import { type ChildProcess, fork } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, test } from 'vitest';
import { openOutbox } from '../stand-ins/index.ts';

/** How often a process is killed; `GAVETA_LONGER=13 npm test` kills it a hundred times. */
const KILLS = Math.round(8 * Number(process.env.GAVETA_LONGER ?? 1));
/** Mails of one delivery. */
const MAILS = 30;
/** Milliseconds after which a process that is ready is killed at the latest. */
const LATEST = 2500;

type Message = { begun: string; subjects: string[] } | { ready: true } | { over: string };

test(
  'of mails that are sent while processes are killed, each arrives once and none is lost',
  async () => {
    const folder = mkdtempSync(join(tmpdir(), 'gaveta-kill-'));
    const outbox = await openOutbox({ most: 100_000 });
    const expected = new Set<string>();
    const states: string[] = [];
    let seed = 11;
    const random = (): number => {
      seed = (Math.imul(seed, 1_664_525) + 1_013_904_223) >>> 0;
      return seed / 4_294_967_296;
    };
    let kills = 0;
    let isOver = false;
    const delivering = async (mayKill: boolean): Promise<void> => {
      const child: ChildProcess = fork(
        fileURLToPath(new URL('delivering.test-support.ts', import.meta.url)),
        [join(folder, 'store'), outbox.address, String(MAILS)],
        { execArgv: ['--import', 'tsx'], stdio: ['ignore', 'inherit', 'inherit', 'ipc'] },
      );
      const exited = once(child, 'exit');
      child.on('message', (message: Message) => {
        if ('begun' in message) {
          isOver = false;
          for (const subject of message.subjects) expected.add(subject);
        }
        if ('ready' in message && mayKill)
          setTimeout(() => {
            if (child.exitCode === null && child.kill('SIGKILL')) kills++;
          }, random() * LATEST);
        if ('over' in message) {
          isOver = true;
          states.push(message.over);
          child.kill('SIGKILL');
        }
      });
      const [code] = (await exited) as [number | null];
      // It is killed, and never ends by itself.
      expect(code).toBeNull();
    };
    try {
      while (kills < KILLS) await delivering(true);
      // What is under way is brought to its end.
      while (!isOver) await delivering(false);
      const subjects = outbox.mails().map(({ subject }) => subject);
      expect(subjects.length).toBe(new Set(subjects).size);
      expect(new Set(subjects)).toEqual(expected);
      expect(new Set(states)).toEqual(new Set(['done']));
      expect(kills).toBeGreaterThanOrEqual(KILLS);
    } finally {
      await outbox.close();
      rmSync(folder, { recursive: true, force: true });
    }
  },
  KILLS * 60_000,
);
