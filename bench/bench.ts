import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';

/** Every benchmark in a process of its own, so that none warms another up; or the one that is named. */
const PARTS = [
  'formulas',
  'pdf',
  'outputs',
  'files',
  'scale',
  'nested',
  'recipes',
  'crosstab',
  'charts',
  'labels',
  'sources',
  'live',
  'folds',
  'board',
  'sketch',
  'library',
  'deliveries',
  'load',
  'finding',
  'reading',
  'opening',
  'starting',
] as const;

const [, , only] = process.argv;
let status = 0;
for (const part of PARTS) {
  if (only && only !== part) continue;
  const file = fileURLToPath(new URL(`${part}.ts`, import.meta.url));
  const result = spawnSync(process.execPath, ['--import', 'tsx', file], { stdio: 'inherit' });
  status ||= result.status ?? 1;
  console.log();
}
process.exit(status);
