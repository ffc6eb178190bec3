import { existsSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './setup.mjs';

const claim = join(root, '.data', 'store.pid');

const isRunning = () => {
  try {
    process.kill(Number(readFileSync(claim, 'utf8')), 0);
    return true;
  } catch {
    return false;
  }
};

if (existsSync(claim) && isRunning()) {
  console.error('The demo is running on these reports. Stop it first (Ctrl C), then reset.');
  process.exit(1);
}
rmSync(join(root, '.data', 'store'), { recursive: true, force: true });
rmSync(claim, { force: true });
console.log('The demo’s reports will be as they came at the next start.');
