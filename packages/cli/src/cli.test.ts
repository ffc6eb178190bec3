import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, it } from 'vitest';

const folder = mkdtempSync(join(tmpdir(), 'gaveta-cli-'));
const gaveta = (...args: string[]) =>
  spawnSync(process.execPath, ['packages/cli/bin/gaveta.mjs', ...args], { encoding: 'utf8' });

it('renders a report by its name with parameters into a PDF', () => {
  const out = join(folder, 'ledger.pdf');
  const { status, stdout, stderr } = gaveta(
    'render',
    'Season ledger',
    '--param',
    'season=2024',
    '--param',
    'region_name=Ilha de Pedra',
    '--format',
    'pdf',
    '--out',
    out,
  );
  expect({ status, stderr }).toEqual({ status: 0, stderr: '' });
  expect(stdout).toMatch(/ledger\.pdf: \d+ pages from \d+ rows/);
  expect(readFileSync(out).subarray(0, 5).toString()).toBe('%PDF-');
});

it('answers a wrong call with what is wrong and code 2', () => {
  const unknown = gaveta('render', 'season-leger');
  expect([unknown.status, unknown.stderr]).toEqual([2, expect.stringContaining('Did you mean season-ledger?')]);
  const parameter = gaveta('render', 'season-ledger', '--param', 'season=never');
  expect([parameter.status, parameter.stderr]).toEqual([
    2,
    expect.stringContaining('“never” is not a value for “Season”'),
  ]);
  expect(gaveta('render', 'season-ledger', '--format', 'clay').status).toBe(2);
});

it('renders a definition file with a wrong formula, says so, and still writes the rest', () => {
  const file = join(folder, 'partly.json');
  const out = join(folder, 'partly.pdf');
  const definition = JSON.parse(readFileSync('examples/cumeeira/reports/warden-roster.json', 'utf8'));
  definition.body.detail.items[1].formula = '1 +';
  writeFileSync(file, JSON.stringify(definition));
  const { status, stdout, stderr } = gaveta('render', file, '--out', out);
  expect([status, stderr]).toEqual([
    1,
    expect.stringContaining('body/detail/items/1 at character 4: The formula ends too early.'),
  ]);
  expect(stdout).toContain('8 pages');
  const text = execFileSync('pdftotext', [out, '-']).toString();
  expect(text).toContain('#NAME?');
  expect(text).toContain('Warden roster');
});

it('checks a definition and prints problems by place, with code 1', () => {
  const file = join(folder, 'wrong.json');
  const definition = JSON.parse(readFileSync('examples/cumeeira/reports/warden-roster.json', 'utf8'));
  definition.body.detail.items[1].formula = 'nmae';
  definition.body.detail.items[3].report = 'no-such-report';
  writeFileSync(file, JSON.stringify(definition));
  const { status, stderr } = gaveta('check', file);
  expect(status).toBe(1);
  expect(stderr).toContain('error: body/detail/items/1 at character 1: “nmae” is not a field');
  expect(stderr).toContain('error: body/detail/items/3: There is no report “no-such-report”');
  expect(gaveta('check', 'examples/cumeeira/reports/season-ledger.json').status).toBe(0);
  writeFileSync(file, '{ not json');
  expect(gaveta('check', file).status).toBe(1);
  expect(gaveta('check', join(folder, 'missing.json')).status).toBe(2);
});
