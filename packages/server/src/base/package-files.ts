import { existsSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const NAME = '@gaveta/server';

/** Gaveta was put into one file with the host’s own code, away from files that it needs beside it. */
export class BundledError extends Error {
  constructor() {
    super(
      `${NAME} was bundled into another file, so its migrations and threads cannot be found. Leave it outside of the bundle: ` +
        "“external: ['@gaveta/*']” for esbuild, “--packages=external” on its command line, “ssr.external” for Vite.",
    );
    this.name = 'BundledError';
  }
}

let folder: string | null = null;

/** The folder of this package. Throws BundledError where this code is no longer in it. */
const packageFolder = (): string => {
  if (folder !== null) return folder;
  for (let at = dirname(fileURLToPath(import.meta.url)); ; at = dirname(at)) {
    const file = join(at, 'package.json');
    if (existsSync(file)) {
      if ((JSON.parse(readFileSync(file, 'utf8')) as { name?: string }).name !== NAME) throw new BundledError();
      folder = at;
      return at;
    }
    if (dirname(at) === at) throw new BundledError();
  }
};

/** Path of a file or folder that comes with this package, as `drizzle`. */
export const packageFile = (path: string): string => join(packageFolder(), path);

/**
 * Address of the module that a thread starts with, which lies beside the module at `beside`: one that reads sources, or as it was
 * built. Throws BundledError where there is none.
 */
export const threadStart = (name: string, beside: string): URL => {
  const address = ['mjs', 'js']
    .map((ending) => new URL(`./${name}-start.${ending}`, beside))
    .find((file) => existsSync(file));
  if (!address) throw new BundledError();
  return address;
};

/** Version of this package, which all of Gaveta’s share. */
export const ownVersion = (): string =>
  (JSON.parse(readFileSync(packageFile('package.json'), 'utf8')) as { version: string }).version;
