import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { prepare, root } from './setup.mjs';

await prepare({ chromium: 'chromium', chromedriver: 'chromium-driver' });
const { status } = spawnSync(
  process.execPath,
  ['--import', 'tsx', join(root, 'bench', 'bench.ts'), ...process.argv.slice(2)],
  {
    cwd: root,
    stdio: 'inherit',
  },
);
process.exit(status ?? 1);
