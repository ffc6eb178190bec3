import { spawn } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { build, install, root, say } from './setup.mjs';

/** Path at which Debian puts what GNOME’s JavaScript knows of a library. */
const typelib = (name) => {
  const machine = process.arch === 'arm64' ? 'aarch64' : 'x86_64';
  return `/usr/lib/${machine}-linux-gnu/girepository-1.0/${name}.typelib`;
};

await install({
  chromium: 'chromium',
  chromedriver: 'chromium-driver',
  pdftotext: 'poppler-utils',
  qpdf: 'qpdf',
  // An independent client of the Internet Printing Protocol.
  ipptool: 'cups-ipp-utils',
  pg_ctlcluster: 'postgresql',
  // Windows of the desktop application, on a screen that nobody sees.
  Xvfb: 'xvfb',
  xdotool: 'xdotool',
  gjs: 'gjs',
  [typelib('WebKit2-4.1')]: 'gir1.2-webkit2-4.1',
  // What reads documents and workbooks as people do; they come without programs of their own names.
  '/usr/lib/libreoffice/program/libswlo.so': 'libreoffice-writer-nogui',
  '/usr/lib/libreoffice/program/libsclo.so': 'libreoffice-calc-nogui',
  '/usr/lib/libreoffice/program/libsdlo.so': 'libreoffice-impress-nogui',
});

let passed = 0;
let failed = 0;
const bin = (name) => join(root, 'node_modules', '.bin', name);

/** Runs a command; gives whether it went well, and what it said. */
const run = (command, args, { isLive = false } = {}) =>
  new Promise((resolve) => {
    const child = spawn(command, args, { cwd: root, stdio: isLive ? 'inherit' : ['ignore', 'pipe', 'pipe'] });
    let said = '';
    const listen = (chunk) => {
      said += chunk;
    };
    child.stdout?.on('data', listen);
    child.stderr?.on('data', listen);
    child.on('error', (error) => resolve({ isFine: false, said: `${said}${error.message}\n` }));
    child.on('close', (code) => resolve({ isFine: code === 0, said }));
  });

/** A check that either holds or does not counts as one test. */
const check = async (name, command, args) => {
  const { isFine, said } = await run(command, args);
  if (isFine) passed++;
  else failed++;
  say(`${name}: ${isFine ? 'fine' : 'failed'}`);
  if (!isFine) process.stdout.write(said);
};

const suite = async (name, project, workers, options) => {
  const started = Date.now();
  const report = join(root, '.data', `${project}.json`);
  rmSync(report, { force: true });
  const { isFine, said } = await run(
    bin('vitest'),
    [
      'run',
      '--project',
      project,
      `--maxWorkers=${workers}`,
      '--reporter=default',
      '--reporter=json',
      `--outputFile.json=${report}`,
    ],
    options,
  );
  process.stdout.write(said);
  let result = { numPassedTests: 0, numFailedTests: 0 };
  try {
    result = JSON.parse(readFileSync(report, 'utf8'));
  } catch {
    // Without a report the run itself failed, which counts below.
  }
  passed += result.numPassedTests;
  failed += result.numFailedTests + (!isFine && result.numFailedTests === 0 ? 1 : 0);
  say(`${name}: ${result.numPassedTests} passed in ${Math.round((Date.now() - started) / 1000)} s`);
};

/** What needs no server, nor anything that is built: its output waits for its end, since the tests of the server run beside it. */
const small = async () => {
  await check('Types', 'npm', ['run', '--silent', 'types']);
  await check('Lint and format', bin('biome'), ['check', '.']);
  const folders = ['packages', 'examples', 'e2e', 'bench'];
  await check('Imports', bin('depcruise'), ['--config', '.dependency-cruiser.cjs', ...folders]);
  await suite('Tests of what computes', 'core', 1);
};

const server = async () => {
  const demo = run(process.execPath, ['--import', 'tsx', join(root, 'scripts', 'pack-demo.ts')]);
  await Promise.all([build(), demo]);
  await suite('Tests of the server', 'server', 2, { isLive: true });
};

say('Types, lint, imports, and tests without a browser');
await Promise.all([small(), server()]);
/** Packages, as a stranger installs them: half of that is waiting, so that it goes on beside the tests in the browser. */
const outside = async () => {
  // What it builds with is there only now.
  const { pack } = await import('./pack.mjs');
  await pack();
  await suite('Tests from outside', 'outside', 1);
};
say('Tests in the browser, and of packages as a stranger installs them');
await Promise.all([outside(), suite('Tests in the browser', 'e2e', 2, { isLive: true })]);
console.log(`tests: ${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
