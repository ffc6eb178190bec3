import { type ChildProcess, spawn } from 'node:child_process';
import type { ShellWindow } from '../shell.ts';

export interface ChildOptions {
  env?: Readonly<Record<string, string>>;
  /** What is written to its standard input to bring it to the front; left out where it takes nothing. */
  focus?: string;
}

/** A window that is a process of its own. Rejects `closed` when the program cannot be started. */
export const childWindow = (
  program: string,
  args: readonly string[],
  { env, focus }: ChildOptions = {},
): ShellWindow => {
  const child: ChildProcess = spawn(program, args, {
    stdio: ['pipe', 'ignore', 'ignore'],
    env: { ...process.env, ...env },
  });
  // It may end while something is written to it.
  child.stdin?.on('error', () => {});
  const closed = new Promise<void>((ended, failed) => {
    child.once('exit', () => ended());
    child.once('error', (error) => failed(new Error(`${program} cannot be started: ${error.message}`)));
  });
  return {
    closed,
    focus: () => {
      if (focus) child.stdin?.write(focus);
    },
    close: () => void child.kill(),
  };
};
