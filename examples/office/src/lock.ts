import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const isAlive = (pid: number): boolean => {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
};

/**
 * Claims the stored reports in `data` for this process: the embedded database takes one process at a time. False when
 * another one has them. Given up when the process ends.
 */
export const claimStore = (data: string): boolean => {
  const file = join(data, 'store.pid');
  if (existsSync(file)) {
    const pid = Number(readFileSync(file, 'utf8'));
    if (pid !== process.pid && isAlive(pid)) return false;
  }
  writeFileSync(file, String(process.pid));
  process.on('exit', () => rmSync(file, { force: true }));
  return true;
};
