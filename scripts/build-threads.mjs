import { readFileSync, renameSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';

/**
 * Puts the modules of the server's threads together, each into one file of packages/server/dist/threads: a thread then starts in
 * a fraction of the time that reading hundreds of sources takes. `inputs.json` says what they were made from.
 */
const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const source = join(root, 'packages', 'server', 'src');
const outdir = join(root, 'packages', 'server', 'dist', 'threads');

/** Sources find files beside them by their own address, which a bundle has another of. */
const addresses = {
  name: 'addresses',
  setup({ onLoad }) {
    onLoad({ filter: /packages\/[^/]+\/src\/.*\.ts$/ }, ({ path }) => {
      const text = readFileSync(path, 'utf8');
      if (!text.includes('import.meta.url')) return null;
      const own = `new URL(${JSON.stringify(relative(outdir, path))}, import.meta.url).href`;
      return { contents: text.replaceAll('import.meta.url', own), loader: 'ts' };
    });
  },
};

/** Packages that find files of their own beside them, or are made for this machine, stay outside. */
const external = [
  '@electric-sql/pglite',
  '@expo-google-fonts/*',
  '@resvg/resvg-js',
  'libpg-query',
  'pdfkit',
  'piscina',
  'sharp',
  'subset-font',
  'tsx',
];

const { metafile } = await build({
  absWorkingDir: root,
  entryPoints: {
    'report-thread': join(source, 'threads', 'report-thread.ts'),
    'file-thread': join(source, 'threads', 'file-thread.ts'),
    'source-thread': join(source, 'sources', 'source-thread.ts'),
    'pglite-worker': join(source, 'connection', 'pglite-worker.ts'),
  },
  outdir,
  outExtension: { '.js': '.mjs' },
  bundle: true,
  splitting: true,
  format: 'esm',
  platform: 'node',
  target: 'node20',
  sourcemap: true,
  sourcesContent: false,
  minifyWhitespace: true,
  minifySyntax: true,
  metafile: true,
  legalComments: 'linked',
  logLevel: 'warning',
  // What is inside may be written for `require`, which a module has none of.
  banner: {
    js: "import { createRequire as requireOf } from 'node:module'; const require = requireOf(import.meta.url);",
  },
  external,
  plugins: [addresses],
});

/** Of packages, what was installed last says enough. */
const files = [
  ...Object.keys(metafile.inputs).filter((file) => !file.startsWith('node_modules/')),
  'node_modules/.package-lock.json',
];
const inputs = Object.fromEntries(
  files.map((file) => [relative(outdir, join(root, file)), statSync(join(root, file)).mtimeMs]),
);
const stamp = join(outdir, 'inputs.json');
writeFileSync(`${stamp}.part`, JSON.stringify(inputs));
renameSync(`${stamp}.part`, stamp);
