import { stat } from 'node:fs/promises';
import { resolve } from 'node:path';
import { loadEquipment } from '@gaveta/output';
import { withConfig } from '../config.ts';
import { readDefinitions } from '../definitions.ts';
import { workbenchOf } from '../own-workbench.ts';
import { CASE_ENDING, filesEnding, KEPT_ENDING, type ReportCase, readCase } from './case-file.ts';
import { differencesOf, differenceText } from './differences.ts';
import { type ShownCase, writeDifferences } from './differences-page.ts';
import { readKept, writeKept } from './kept.ts';
import { type Bench, runCase } from './run-case.ts';

export interface TestOptions {
  config?: string;
  /** Keeps what cases come to now. */
  accept: boolean;
  /** Only cases with one of these in their path; all when empty. */
  only: string[];
  /** HTML file that shows what differs. */
  html?: string;
}

/** Differences of a case that are printed; the file shows all of them. */
const MOST_LINES = 20;

type Verdict = { kind: 'passed' | 'accepted' } | { kind: 'failed'; said: string[]; shown: ShownCase | null };

/** Runs the cases of a folder and holds them to what is kept beside them; gives the exit code. */
export const test = (folder: string, options: TestOptions): Promise<number> =>
  withConfig(options.config, async (config) => {
    if (!(await stat(folder).catch(() => null))?.isDirectory()) {
      console.error(
        `gaveta: there is no folder “${folder}”. Make one, with a file such as “ledger${CASE_ENDING}” for each run to be tested.`,
      );
      return 2;
    }
    const wanted = (path: string): boolean =>
      options.only.length === 0 || options.only.some((word) => path.includes(word));
    const paths = (await filesEnding(folder, CASE_ENDING)).filter(wanted);
    if (paths.length === 0) {
      console.error(
        `gaveta: there is no file that ends with “${CASE_ENDING}” in “${folder}”, or none that is asked for.`,
      );
      return 2;
    }
    const definitions = await readDefinitions(config);
    const workbench = workbenchOf(config);
    const bench: Bench = {
      definitions,
      connections: new Map(Object.entries(await config.connections())),
      claims: config.claims,
      equipment: await loadEquipment(),
      workbench: workbench.open,
    };
    const shown: ShownCase[] = [];
    let failed = 0;
    try {
      for (const path of paths) {
        const read = await readCase(folder, path);
        const verdict: Verdict = read.ok
          ? await tried(read.case, bench, options.accept)
          : { kind: 'failed', said: [read.said], shown: null };
        const id = path.slice(0, -CASE_ENDING.length);
        console.log(`${verdict.kind} ${id}`);
        if (verdict.kind !== 'failed') continue;
        failed++;
        for (const said of verdict.said.slice(0, MOST_LINES)) console.log(`  ${said.replaceAll('\n', '\n  ')}`);
        if (verdict.said.length > MOST_LINES) console.log(`  and ${verdict.said.length - MOST_LINES} more`);
        if (verdict.shown) shown.push(verdict.shown);
      }
    } finally {
      await workbench.close();
    }
    await tellStrays(folder, wanted);
    if (shown.length > 0) {
      const file = resolve(options.html ?? `${folder}/differences.html`);
      await writeDifferences(file, shown, await bench.equipment.book());
      console.log(`${file} shows the pages that differ. If they are intended, run with --accept.`);
    }
    console.log(`${paths.length - failed} passed, ${failed} failed`);
    return failed === 0 ? 0 : 1;
  });

const tried = async (one: ReportCase, bench: Bench, accept: boolean): Promise<Verdict> => {
  const file = one.file.slice(0, -CASE_ENDING.length) + KEPT_ENDING;
  try {
    const run = await runCase(one, bench);
    if ('failed' in run) return { kind: 'failed', said: [run.failed], shown: null };
    const { now, failures, pictures } = run;
    const pages = one.pages === false ? [] : now.pages;
    if (accept) {
      await writeKept(file, { ...now, pages });
      return failures.length === 0 ? { kind: 'accepted' } : { kind: 'failed', said: failures, shown: null };
    }
    const before = await readKept(file);
    if (!before)
      return {
        kind: 'failed',
        said: [
          ...failures,
          'Nothing has been accepted for it yet. Run with --accept to keep its pages and totals as they are now.',
        ],
        shown: null,
      };
    const { pages: differences, totals } = differencesOf(before, { ...now, pages });
    if (failures.length + totals.length + differences.length === 0) return { kind: 'passed' };
    const said = [...failures, ...totals];
    return {
      kind: 'failed',
      said: [...said, ...differences.map(differenceText)],
      shown:
        differences.length > 0 ? { id: one.id, said, differences, before: before.pages, now: pages, pictures } : null,
    };
  } catch (error) {
    return { kind: 'failed', said: [error instanceof Error ? error.message : String(error)], shown: null };
  }
};

/** What is kept of cases that are gone. */
const tellStrays = async (folder: string, wanted: (path: string) => boolean): Promise<void> => {
  const cases = new Set((await filesEnding(folder, CASE_ENDING)).map((path) => path.slice(0, -CASE_ENDING.length)));
  for (const path of (await filesEnding(folder, KEPT_ENDING)).filter(wanted))
    if (!cases.has(path.slice(0, -KEPT_ENDING.length)))
      console.log(`${path} belongs to no case any more. Delete it, or give the case its old name back.`);
};
