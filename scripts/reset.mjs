import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './setup.mjs';

rmSync(join(root, '.data', 'store'), { recursive: true, force: true });
console.log('The demo’s reports will be as they came at the next start.');
