import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { buildThreads, buildWeb, installDebian, installPackages, packDatabase, root } from './setup.mjs';

installPackages();
installDebian({ chromium: 'chromium', chromedriver: 'chromium-driver' });
buildWeb();
packDatabase();
buildThreads();
const { status } = spawnSync(
  process.execPath,
  ['--import', 'tsx', join(root, 'bench', 'bench.ts'), ...process.argv.slice(2)],
  {
    cwd: root,
    stdio: 'inherit',
  },
);
process.exit(status ?? 1);
