import { spawnSync } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { buildWeb, installDebian, installPackages, packDatabase, root, say } from './setup.mjs';

installPackages();
installDebian({
  chromium: 'chromium',
  chromedriver: 'chromium-driver',
  pdftotext: 'poppler-utils',
  pg_ctlcluster: 'postgresql',
});
buildWeb();
packDatabase();

let passed = 0;
let failed = 0;
const bin = (name) => join(root, 'node_modules', '.bin', name);
const run = (command, args) => spawnSync(command, args, { cwd: root, stdio: 'inherit' }).status === 0;

/** A check that either holds or does not counts as one test. */
const check = (name, command, args) => {
  say(name);
  if (run(command, args)) passed++;
  else failed++;
};
check('Types', bin('tsc'), ['-p', 'tsconfig.json']);
check('Lint and format', bin('biome'), ['check', '.']);
check('Direction of imports', bin('depcruise'), [
  '--config',
  '.dependency-cruiser.cjs',
  'packages',
  'examples',
  'e2e',
  'bench',
]);

for (const project of ['unit', 'e2e']) {
  say(project === 'unit' ? 'Unit tests' : 'Browser tests');
  const report = join(root, '.data', `${project}.json`);
  rmSync(report, { force: true });
  const fine = run(bin('vitest'), [
    'run',
    '--project',
    project,
    // Two files at once also on a machine of two cores; browser tests have it to themselves (vitest.config.ts).
    ...(project === 'unit' ? ['--maxWorkers=2'] : []),
    '--reporter=default',
    '--reporter=json',
    `--outputFile.json=${report}`,
  ]);
  let result = { numPassedTests: 0, numFailedTests: 0 };
  try {
    result = JSON.parse(readFileSync(report, 'utf8'));
  } catch {
    // Without a report the run itself failed, which counts below.
  }
  passed += result.numPassedTests;
  failed += result.numFailedTests + (!fine && result.numFailedTests === 0 ? 1 : 0);
}
console.log(`tests: ${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
