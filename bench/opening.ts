import { type ChildProcess, fork } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { PGlite } from '@electric-sql/pglite';
import { median } from './measure.ts';

/**
 * A store whose process is killed while it saves, a hundred times: how long Gaveta takes to start over it the next time, and whether a
 * save that was acknowledged is gone. The baseline is an embedded PostgreSQL with nothing in it, opened from its folder.
 */
const KILLS = Number(process.argv[2] ?? 100);

interface Opened {
  opened: number;
  began: number;
  ready: number;
  revisions: number[];
}

const root = mkdtempSync(join(tmpdir(), 'gaveta-opening-'));
const start = (): ChildProcess =>
  fork(fileURLToPath(new URL('opening-store.ts', import.meta.url)), [join(root, 'store')], {
    execArgv: ['--import', 'tsx'],
  });

let acknowledged = 0;
let lost = 0;
const opened: number[] = [];
const ready: number[] = [];
for (let kill = 0; kill <= KILLS; kill++) {
  const child = start();
  const [told] = (await once(child, 'message')) as [Opened];
  if (kill > 0) {
    opened.push(told.opened);
    ready.push(told.ready - told.began);
    const there = new Set(told.revisions);
    for (let revision = 1; revision <= acknowledged; revision++) if (!there.has(revision)) lost++;
  }
  child.on('message', (message: { saved: number }) => {
    acknowledged = Math.max(acknowledged, message.saved);
  });
  // At another moment of its work each time.
  await new Promise((resolve) => setTimeout(resolve, (kill * 37) % 400));
  child.kill('SIGKILL');
  await once(child, 'exit');
}

await (await PGlite.create(join(root, 'empty'))).close();
const plain: number[] = [];
for (let i = 0; i < 5; i++) {
  const from = performance.now();
  const database = await PGlite.create(join(root, 'empty'));
  await database.query('select 1');
  plain.push(performance.now() - from);
  await database.close();
}
rmSync(root, { recursive: true, force: true });

const share = (list: readonly number[], part: number): number =>
  [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * part))]!;
const said = (list: readonly number[]): string =>
  `median ${median(list).toFixed(0)} ms, p95 ${share(list, 0.95).toFixed(0)} ms, most ${Math.max(...list).toFixed(0)} ms`;
console.log(`A store opened after each of ${KILLS} kills; ${acknowledged} saves were acknowledged`);
console.log(
  `  createGaveta: ${said(opened)}; ${(median(opened) / median(plain)).toFixed(2)} times an empty one closed well`,
);
console.log(`  from the process’s start until then: ${said(ready)}`);
console.log(`  an empty database, closed well: ${said(plain)}`);
console.log(`  acknowledged saves that were gone: ${lost}`);
