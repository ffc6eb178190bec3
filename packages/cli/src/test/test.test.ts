import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { beforeEach, expect, it } from 'vitest';
import { gaveta } from '../cli.test-support.ts';

/** Huts, without a database. */
const CONFIG = 'packages/cli/src/test/config.test-support.ts';

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'gaveta-test-'));
  return () => rmSync(folder, { recursive: true });
});

const put = (name: string, content: unknown): void => writeFileSync(join(folder, name), JSON.stringify(content));
const text = (name: string): string => readFileSync(join(folder, name), 'utf8');

/** What a call of `gaveta test` over the folder prints and answers. */
const tested = async (...more: string[]): Promise<{ status: number; said: string }> => {
  const { status, stdout, stderr } = await gaveta('--config', CONFIG, 'test', folder, ...more);
  return { status, said: `${stderr}${stdout}` };
};

const field = (id: string, formula: string, x: number) => ({
  kind: 'field',
  id,
  formula,
  x,
  y: 0,
  width: 60,
  height: 5,
});

const report = (more: Record<string, unknown> = {}) => ({
  gaveta: 2,
  name: 'Beds',
  model: 'beds',
  body: [
    {
      id: 'h',
      name: 'hut',
      rows: { entity: 'hut' },
      detail: { height: 6, items: [field('name', 'name', 0), field('beds', 'beds', 80)] },
    },
  ],
  ...more,
});

const hut = (id: number, name: string, beds: number | null) => ({ id, name, beds });
const ROWS = { hut: [hut(1, 'Pedra Longa', 24), hut(2, 'Vale Frio', 9)] };

const putCase = (more: Record<string, unknown> = {}): void => {
  put('beds.json', report());
  put('beds.case.json', { report: 'beds.json', rows: ROWS, totals: { beds: 'SUM(beds)' }, ...more });
};

it('holds a run to what was accepted, tells what became of it, and shows its pages side by side', async () => {
  putCase({ checks: ['SUM(beds) = 33', 'page.count < 2'] });
  const first = await tested();
  expect(first).toEqual({
    status: 1,
    said: expect.stringContaining('failed beds\n  Nothing has been accepted for it yet.'),
  });
  expect(await tested('--accept')).toEqual({ status: 0, said: 'accepted beds\n1 passed, 0 failed\n' });
  expect(JSON.parse(text('beds.kept.json'))).toMatchObject({ pageCount: 1, totals: { beds: '33' } });
  // A line for each text, so that a comparison of the file is read.
  expect(
    text('beds.kept.json')
      .split('\n')
      .filter((line) => line.includes('"kind":"text"')),
  ).toHaveLength(4);
  expect(await tested()).toEqual({ status: 0, said: 'passed beds\n1 passed, 0 failed\n' });

  put('beds.case.json', {
    report: 'beds.json',
    rows: { hut: [hut(1, 'Pedra Longa & Curta', 25), hut(2, 'Vale Frio', null)] },
    totals: { beds: 'SUM(beds)' },
    checks: ['SUM(beds) = 33', 'page.count < 2', 'MIN(beds) > LEN("a")'],
  });
  const { status, said } = await tested();
  expect(status).toBe(1);
  expect(said.split('\n').slice(0, 6)).toEqual([
    'failed beds',
    '  Check “SUM(beds) = 33” does not hold: SUM(beds) is 25.',
    '  Total “beds” was 33, is 25',
    expect.stringMatching(/^ {2}page 1: “Pedra Longa” became “Pedra Longa & Curta” at [\d.]+, [\d.]+ pt$/),
    expect.stringMatching(/^ {2}page 1: “24” became “25” at /),
    expect.stringMatching(/^ {2}page 1: “9” at .* is gone$/),
  ]);
  const html = text('differences.html');
  expect(html.match(/<figcaption>(Accepted|Now)<\/figcaption><svg/g)).toHaveLength(2);
  expect(html).toContain('Pedra Longa &amp; Curta');
  expect(html).not.toMatch(/(src|href)="(?!#)/);

  expect((await tested('--accept', '--only', 'other')).status).toBe(2);
  expect(JSON.parse(text('beds.kept.json')).totals).toEqual({ beds: '33' });
});

it('what cannot be worked out, and every problem that is not allowed, fails with its words', async () => {
  putCase({ checks: ['SUM(bedz) = 33', 'SUM('] });
  const { said } = await tested();
  expect(said).toContain('Check “SUM(bedz) = 33”: “bedz” is not a field');
  expect(said).toMatch(/Check “SUM\(”: The formula ends too early/);

  put(
    'beds.json',
    report({
      header: {
        height: 4,
        items: [
          {
            kind: 'text',
            id: 'tall',
            content: ['A line that does not fit'],
            x: 0,
            y: 0,
            width: 8,
            height: 4,
            grow: false,
          },
        ],
      },
    }),
  );
  put('beds.case.json', { report: 'beds.json', rows: ROWS });
  const cut = await tested('--accept');
  expect(cut).toEqual({ status: 1, said: expect.stringContaining('item “tall”: Text is cut off here') });
  expect(cut.said).toContain('(text-cut-off)');
  put('beds.case.json', { report: 'beds.json', rows: ROWS, allow: ['text-cut-off'] });
  expect((await tested('--accept')).status).toBe(0);
});

it('says what is wrong with a case, and runs the others', async () => {
  putCase();
  put('clerk.case.json', { report: 'beds.json', chekcs: [] });
  put('gone.case.json', { report: 'no-such-report' });
  put('rows.case.json', { report: 'beds.json', rows: { stay: [] } });
  put('types.case.json', { report: 'beds.json', rows: { hut: [hut(1, 'Pedra Longa', 'many' as never)] } });
  put('when.case.json', { report: 'beds.json', runAt: 'yesterday' });
  writeFileSync(join(folder, 'torn.case.json'), '{');
  writeFileSync(join(folder, 'old.kept.json'), '{}');
  const { status, said } = await tested('--accept');
  expect(status).toBe(1);
  for (const words of [
    'accepted beds',
    'Unrecognized key: "chekcs"',
    'There is no report “no-such-report” that can be read.',
    'The rows of the case cannot be used: there are none of “hut” among them.',
    'The rows of the case cannot be used: row 1: “beds” is not a number.',
    'no moment, as 2026-03-14T07:30',
    'failed torn',
    'old.kept.json belongs to no case any more',
    '1 passed, 6 failed',
  ])
    expect(said).toContain(words);
  writeFileSync(join(folder, 'beds.kept.json'), '<<<<<<< theirs');
  expect((await tested('--only', 'beds')).said).toContain('Restore it, or write it anew with --accept.');
});

it('a folder without cases is no success', async () => {
  expect(await tested()).toEqual({ status: 2, said: expect.stringContaining('“.case.json”') });
  const { status, stderr } = await gaveta('test', join(folder, 'nowhere'));
  expect([status, stderr]).toEqual([2, expect.stringContaining('there is no folder')]);
});

it('the cases that come with the demo hold', async () => {
  const { status, stdout } = await gaveta(
    'test',
    'examples/cumeeira/report-tests',
    '--html',
    join(folder, 'demo.html'),
  );
  expect({ status, stdout }).toEqual({
    status: 0,
    stdout: 'passed board-day\npassed one-folio\npassed season-ledger\n3 passed, 0 failed\n',
  });
}, 60_000);
