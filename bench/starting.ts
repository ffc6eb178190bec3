import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { median } from './measure.ts';

/**
 * A server of the packed packages (`npm run pack` first), installed in a folder of its own, over a store that is there: from the start
 * of its process until it takes calls. The baseline is PGlite alone over the same folder, until it has answered one.
 */
const RUNS = Number(process.argv[2] ?? 9);
const packed = resolve(import.meta.dirname, '..', 'build', 'tarballs');
const tarballs = readdirSync(packed).map((file) => join(packed, file));
const folder = mkdtempSync(join(tmpdir(), 'gaveta-starting-'));

const GAVETA = `
import { createGaveta } from '@gaveta/server';
const gaveta = await createGaveta({ store: 'store', models: [], connections: {}, secret: 'x'.repeat(40), doctor: false });
console.log(performance.now());
await gaveta.close();`;
const ALONE = `
import { PGlite } from '@electric-sql/pglite';
const database = await PGlite.create('store');
await database.query('select 1');
console.log(performance.now());
await database.close();`;

/** Milliseconds from the start of the process. */
const started = (file: string): number => {
  const { stdout, stderr } = spawnSync(process.execPath, [file], { cwd: folder, encoding: 'utf8' });
  const time = Number(stdout);
  if (!stdout || Number.isNaN(time)) throw new Error(stderr);
  return time;
};

try {
  writeFileSync(join(folder, 'package.json'), JSON.stringify({ name: 'starting', private: true, type: 'module' }));
  writeFileSync(join(folder, 'gaveta.js'), GAVETA);
  writeFileSync(join(folder, 'alone.js'), ALONE);
  execFileSync('npm', ['install', '--no-audit', '--no-fund', '--prefer-offline', ...tarballs], {
    cwd: folder,
    stdio: 'ignore',
  });
  started('gaveta.js');
  const [alone, gaveta]: [number[], number[]] = [[], []];
  for (let run = 0; run < RUNS; run++) {
    alone.push(started('alone.js'));
    gaveta.push(started('gaveta.js'));
  }
  const seconds = (list: readonly number[]): string => (median(list) / 1000).toFixed(2);
  console.log(`starting: PGlite alone ${seconds(alone)} s, Gaveta ${seconds(gaveta)} s (medians of ${RUNS} processes)`);
  console.log(
    `  ${(median(gaveta) / median(alone)).toFixed(2)} times; ${((median(gaveta) - median(alone)) / 1000).toFixed(2)} s more, aim 1 s at most`,
  );
} finally {
  rmSync(folder, { recursive: true, force: true });
}
