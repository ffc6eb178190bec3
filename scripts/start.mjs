import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { prepare, root } from './setup.mjs';

console.log('Gaveta, with the Cumeeira demo');
await prepare();
const child = spawn(
  process.execPath,
  ['--import', 'tsx', join(root, 'examples', 'office', 'src', 'main.ts'), ...process.argv.slice(2)],
  {
    cwd: root,
    stdio: 'inherit',
  },
);
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => child.kill(signal));
child.on('exit', (code) => process.exit(code ?? 0));
