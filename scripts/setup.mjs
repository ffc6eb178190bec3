import { spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = join(dirname(fileURLToPath(import.meta.url)), '..');

const [major, minor] = process.versions.node.split('.').map(Number);
if (major < 20 || (major === 20 && minor < 19)) {
  console.error(`Gaveta needs Node.js 20.19 or newer; this is ${process.versions.node}.`);
  process.exit(1);
}

export const say = (step) => console.log(`  ${step} …`);

export const run = (command, args, options = {}) =>
  new Promise((resolve, reject) => {
    const child = spawn(command, args, { cwd: root, stdio: 'inherit', ...options });
    child.on('error', reject);
    child.on('close', (code) => {
      if (code === 0) resolve();
      else reject(new Error(`${command} ${args.join(' ')} failed`));
    });
  });

/** Installs packages, and programs of Debian by the package that each is in, side by side. */
export const install = async (programs = {}) => {
  await Promise.all([installPackages(), installDebian(programs)]);
};

/** Builds what the product runs from, side by side. */
export const build = async () => {
  await Promise.all([buildWeb(), packDatabase(), buildThreads()]);
};

/** Everything that the product needs. */
export const prepare = async (programs = {}) => {
  await install(programs);
  await build();
};

/** Installs the packages of the lock file, unless they are there as it says. */
const installPackages = async () => {
  const wanted = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
  const stamp = join(root, 'node_modules', '.gaveta-lock');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return;
  say('Installing packages');
  await run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error']);
  writeFileSync(stamp, wanted);
};

/** Installs Debian packages whose programs, or files by their paths, are missing. */
const installDebian = async (programs) => {
  const isThere = (program) =>
    program.startsWith('/') ? existsSync(program) : spawnSync('which', [program]).status === 0;
  const missing = Object.entries(programs).filter(([program]) => !isThere(program));
  if (missing.length === 0) return;
  const packages = missing.map(([, name]) => name);
  say(`Installing ${packages.join(', ')} with apt`);
  const sudo = process.getuid?.() === 0 ? [] : ['sudo'];
  const apt = (...args) => {
    const [command, ...rest] = [...sudo, 'apt-get', '-qq', ...args];
    return run(command, rest, { env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } });
  };
  await apt('update');
  await apt('install', '-y', '--no-install-recommends', ...packages);
};

/** Packs an empty database, from which new ones start, unless it was done with these packages. */
const packDatabase = async () => {
  const file = join(root, 'packages', 'server', 'dist', 'empty-database.tar.gz');
  const stamp = `${file}.lock`;
  const wanted = readFileSync(join(root, 'node_modules', '.gaveta-lock'), 'utf8');
  if (existsSync(file) && existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return;
  say('Packing an empty database');
  await run(process.execPath, [join(root, 'scripts', 'pack-database.mjs')]);
  writeFileSync(stamp, wanted);
};

/** Puts the modules of the server’s threads together, so that they start quickly. */
const buildThreads = () => run(process.execPath, [join(root, 'scripts', 'build-threads.mjs')]);

/** Every file below a folder, without what is made. */
function* filesBelow(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1))) {
    if (['node_modules', 'dist', '.data'].includes(entry.name)) continue;
    const path = join(folder, entry.name);
    if (entry.isDirectory()) yield* filesBelow(path);
    else yield path;
  }
}

/** Builds the web application and the embedding script, unless nothing changed since the last time. */
const buildWeb = async () => {
  const hash = createHash('sha256').update(readFileSync(join(root, 'package-lock.json')));
  for (const name of ['core', 'client', 'web', 'embed']) {
    for (const file of filesBelow(join(root, 'packages', name)))
      hash.update(file.slice(root.length)).update(readFileSync(file));
  }
  const wanted = hash.digest('hex');
  const stamp = join(root, 'packages', 'web', 'dist', '.stamp');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return;
  say('Building the web application');
  const vite = join(root, 'node_modules', 'vite', 'bin', 'vite.js');
  for (const name of ['web', 'embed']) {
    await run(process.execPath, [vite, 'build', '--logLevel', 'warn'], { cwd: join(root, 'packages', name) });
  }
  writeFileSync(stamp, wanted);
};
