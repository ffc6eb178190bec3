import { cpSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { build } from 'tsdown';
import { root, run, say } from './setup.mjs';

/**
 * Makes the packages that strangers install: `npm run pack` builds each into `build/packages/<name>`, as ESM with declarations and
 * maps, and packs it to `build/tarballs`. The sources need no build among themselves; what is published never sees them.
 */
const staged = join(root, 'build', 'packages');
const tarballs = join(root, 'build', 'tarballs');
const declarations = join(root, 'build', 'declarations');

/**
 * What each package is made of besides the entries that its `package.json` names. `files`: what goes along, by where it lies in the
 * package.
 */
const PACKAGES = {
  core: { platform: 'neutral' },
  output: { threads: { 'png-thread-start': 'pdf/png-thread' } },
  server: {
    threads: {
      'report-thread-start': 'threads/report-thread',
      'file-thread-start': 'threads/file-thread',
      'source-thread-start': 'sources/source-thread',
      'pglite-worker-start': 'connection/pglite-worker',
    },
    files: ['drizzle', 'dist/empty-database.tar.gz'],
  },
  web: { files: ['dist'] },
  client: { platform: 'browser' },
  embed: { platform: 'browser' },
  cli: { bin: { gaveta: 'bin' } },
};

const read = (file) => JSON.parse(readFileSync(file, 'utf8'));

/** The modules that a package exports, by what they are asked for as: `./in-code` → `in-code/index`. */
const entriesOf = (name) =>
  Object.fromEntries(
    Object.entries(read(join(root, 'packages', name, 'package.json')).exports)
      .filter(([, file]) => file.startsWith('./src/'))
      .map(([entry, file]) => [entry, file.slice('./src/'.length).replace(/\.tsx?$/, '')]),
  );

/**
 * Packages that stay packages of their own: those with files beside them or made for a machine, and those whose objects the host
 * hands over. All others are put inside, so that a server or a thread starts in less time.
 * (`mime-types` is among the project's own packages so that all that use it share one: five tables of it took longer to read.)
 */
const OUTSIDE = [
  '@electric-sql/pglite',
  '@expo-google-fonts/noto-sans-arabic',
  '@expo-google-fonts/source-code-pro',
  '@expo-google-fonts/source-sans-3',
  '@expo-google-fonts/source-serif-4',
  '@resvg/resvg-js',
  'commander',
  'libpg-query',
  'pdfkit',
  'piscina',
  'react',
  'sharp',
  'subset-font',
  'tsx',
  'zod',
];

const isOutside = (dependency) =>
  OUTSIDE.includes(dependency) || dependency.startsWith('@gaveta/') || dependency.startsWith('@types/');

/** What only sources need. */
const SOURCES_ONLY = { output: ['tsx'], server: ['tsx'] };

/** The `package.json` of a package as strangers get it. */
const manifestOf = (name) => {
  const { bin } = PACKAGES[name];
  const {
    private: _,
    scripts: _scripts,
    devDependencies: _dev,
    exports: _exports,
    ...own
  } = read(join(root, 'packages', name, 'package.json'));
  const left = SOURCES_ONLY[name] ?? [];
  const dependencies = Object.fromEntries(
    Object.entries(own.dependencies ?? {})
      .filter(([dependency]) => isOutside(dependency) && !left.includes(dependency))
      .map(([dependency, range]) => [dependency, dependency.startsWith('@gaveta/') ? own.version : range]),
  );
  const exported = Object.fromEntries(
    Object.keys(entriesOf(name)).map((entry) => {
      const file = `./dist/${fileOf(entry)}`;
      return [entry, { types: `${file}.d.ts`, default: `${file}.js` }];
    }),
  );
  return {
    ...own,
    exports: { ...exported, './package.json': './package.json' },
    ...(bin
      ? { bin: Object.fromEntries(Object.entries(bin).map(([command, file]) => [command, `./dist/${file}.js`])) }
      : {}),
    files: [
      'dist',
      ...(PACKAGES[name].files ?? []).filter((file) => !file.startsWith('dist')),
      'CHANGELOG.md',
      'THIRD-PARTY-LICENSES.txt',
    ],
    dependencies,
  };
};

const fileOf = (entry) => (entry === '.' ? 'index' : entry.slice(2));

const sourceOf = (name, path) => {
  const file = join(root, 'packages', name, 'src', path);
  return existsSync(`${file}.tsx`) ? `${file}.tsx` : `${file}.ts`;
};

/** Writes the declarations of all sources, each beside the others as the sources lie, for `stage` to put together. */
const declare = async () => {
  rmSync(declarations, { recursive: true, force: true });
  const config = join(root, 'build', 'tsconfig.json');
  const folders = Object.keys(PACKAGES).filter((name) => Object.keys(entriesOf(name)).length > 0);
  const tests = ['**/*.test.ts', '**/*.test.tsx', '**/*.test-support.ts'];
  writeFileSync(
    config,
    JSON.stringify({
      extends: '../tsconfig.json',
      compilerOptions: {
        noEmit: false,
        declaration: true,
        emitDeclarationOnly: true,
        outDir: 'declarations',
        rootDir: '../packages',
        types: ['node'],
      },
      include: folders.map((name) => `../packages/${name}/src`),
      exclude: tests.map((name) => `../packages/${name}`),
    }),
  );
  await run(process.execPath, [join(root, 'node_modules', '@typescript', 'native', 'bin', 'tsc'), '-p', config]);
  for (const entry of readdirSync(declarations, { recursive: true, withFileTypes: true })) {
    if (!entry.isFile()) continue;
    const file = join(entry.parentPath, entry.name);
    const text = readFileSync(file, 'utf8').replace(/((?:from |import\()['"]\.[^'"]*)\.tsx?(['"])/g, '$1.d.ts$2');
    writeFileSync(file, text);
  }
};

/** Whether an import is left to what is installed: by the name of its package, without the path in it. */
const isInstalled = (id) =>
  !id.startsWith('.') &&
  !id.startsWith('/') &&
  isOutside(
    id
      .split('/')
      .slice(0, id.startsWith('@') ? 2 : 1)
      .join('/'),
  );

/** Writes the licences of the packages that were put inside. */
const licences = (file) => ({
  name: 'licences',
  generateBundle(_options, bundle) {
    const modules = Object.values(bundle).flatMap((chunk) => Object.keys(chunk.modules ?? {}));
    const found = new Set();
    for (const id of modules) {
      const at = id.lastIndexOf('node_modules/');
      if (at < 0) continue;
      const parts = id.slice(at + 'node_modules/'.length).split('/');
      found.add(join(id.slice(0, at), 'node_modules', ...parts.slice(0, parts[0].startsWith('@') ? 2 : 1)));
    }
    const texts = [...found].sort().map((folder) => {
      const { name, version, license = '' } = read(join(folder, 'package.json'));
      const own = readdirSync(folder).find((entry) => /^licen[cs]e/i.test(entry));
      return `${name} ${version} (${license})\n\n${own ? readFileSync(join(folder, own), 'utf8').trim() : ''}\n`;
    });
    if (texts.length > 0) writeFileSync(file, texts.join(`\n${'-'.repeat(80)}\n\n`));
  },
});

/** Builds one package into its folder. */
const stage = async (name) => {
  const { threads = {}, bin = {}, files = [], platform = 'node' } = PACKAGES[name];
  const folder = join(staged, name);
  const dist = join(folder, 'dist');
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(dist, { recursive: true });
  const made = Object.entries(entriesOf(name)).map(([entry, path]) => [fileOf(entry), sourceOf(name, path)]);
  const common = {
    cwd: join(root, 'packages', name),
    outDir: dist,
    format: 'esm',
    platform,
    target: 'es2022',
    tsconfig: join(root, 'tsconfig.json'),
    sourcemap: true,
    // Names stay, for traces. What browsers load is as short as it can be; on servers, traces show lines that can be read.
    minify: { compress: true, mangle: false, codegen: { removeWhitespace: platform !== 'node' } },
    clean: false,
    config: false,
    logLevel: 'warn',
    outExtensions: () => ({ js: '.js', dts: '.d.ts' }),
    deps: {
      neverBundle: isInstalled,
      alwaysBundle: (id) => !isInstalled(id),
      onlyBundle: false,
    },
    // What is for browsers too finds its packages as they do.
    ...(platform === 'neutral' ? { inputOptions: { resolve: { mainFields: ['browser', 'module', 'main'] } } } : {}),
    plugins: [licences(join(folder, 'THIRD-PARTY-LICENSES.txt'))],
  };
  if (made.length > 0) {
    const inside = [...Object.entries(threads), ...Object.values(bin).map((file) => [file, file])].map(
      ([file, path]) => [file, sourceOf(name, path)],
    );
    await build({ ...common, entry: Object.fromEntries([...made, ...inside]), dts: false });
    const declared = made.map(([file, path]) => [
      file,
      path.replace(join(root, 'packages'), declarations).replace(/\.tsx?$/, '.d.ts'),
    ]);
    await build({ ...common, entry: Object.fromEntries(declared), dts: { dtsInput: true, emitDtsOnly: true } });
  }
  for (const file of files)
    cpSync(join(root, 'packages', name, file), join(folder, file), { recursive: true, dereference: true });
  writeFileSync(join(folder, 'package.json'), `${JSON.stringify(manifestOf(name), null, 2)}\n`);
  for (const file of ['LICENSE', 'CHANGELOG.md'])
    if (existsSync(join(root, file))) cpSync(join(root, file), join(folder, file));
  const readme = join(root, 'packages', name, 'README.md');
  if (existsSync(readme)) cpSync(readme, join(folder, 'README.md'));
};

/** Builds and packs them all, or those named. */
export const pack = async (names = Object.keys(PACKAGES)) => {
  mkdirSync(tarballs, { recursive: true });
  for (const file of readdirSync(tarballs))
    if (names.some((name) => file.startsWith(`gaveta-${name}-`))) rmSync(join(tarballs, file));
  await declare();
  for (const name of names) {
    say(`Packing @gaveta/${name}`);
    await stage(name);
    await run('npm', ['pack', '--silent', '--pack-destination', tarballs], {
      cwd: join(staged, name),
      stdio: ['ignore', 'ignore', 'inherit'],
    });
  }
};

if (process.argv[1] === new URL(import.meta.url).pathname) {
  await pack(process.argv.length > 2 ? process.argv.slice(2) : undefined);
}
