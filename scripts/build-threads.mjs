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

/** Packages stay outside; those of this repository are part of the bundle. */
const packages = {
  name: 'packages',
  setup({ onResolve }) {
    onResolve({ filter: /^[^./]/ }, ({ path, kind }) =>
      kind === 'entry-point' || path.startsWith('@gaveta/') ? null : { path, external: true },
    );
  },
};

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
  metafile: true,
  logLevel: 'warning',
  plugins: [addresses, packages],
});

const inputs = Object.fromEntries(
  Object.keys(metafile.inputs).map((file) => [relative(outdir, join(root, file)), statSync(join(root, file)).mtimeMs]),
);
const stamp = join(outdir, 'inputs.json');
writeFileSync(`${stamp}.part`, JSON.stringify(inputs));
renameSync(`${stamp}.part`, stamp);
