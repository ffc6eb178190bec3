import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import { afterAll, expect, it } from 'vitest';
import { gaveta } from './cli.test-support.ts';
import { loadConfig } from './config.ts';

const KEPT = 'packages/cli/src/kept-demo.test-support.ts';
const overDemo = (...args: string[]) => gaveta('--config', KEPT, ...args);
afterAll(async () => {
  const demo = (await loadConfig(KEPT)) as unknown as { end: () => Promise<void> };
  await demo.end();
});

const folder = mkdtempSync(join(tmpdir(), 'gaveta-cli-'));

it('answers a call for help as a program, for little processor time: it loads what a command needs', () => {
  const tellTime = join(folder, 'tell-time.mjs');
  writeFileSync(tellTime, `process.on('exit', () => console.error(process.cpuUsage().user / 1e6));`);
  const { status, stdout, stderr } = spawnSync(
    process.execPath,
    ['--import', tellTime, 'packages/cli/bin/gaveta.mjs', '--help'],
    { encoding: 'utf8' },
  );
  expect(status).toBe(0);
  expect(stdout).toContain('render');
  expect(Number(stderr.trim().split('\n').at(-1))).toBeLessThan(1.5);
});

it('renders a report by its name with parameters into a PDF', async () => {
  const out = join(folder, 'ledger.pdf');
  const { status, stdout, stderr } = await gaveta(
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

it('renders what can be opened and closed as it starts, all open or all closed', async () => {
  const out = join(folder, 'matrix.pdf');
  const text = async (folds: string): Promise<string> => {
    const { status } = await overDemo('render', 'nights-matrix', '--folds', folds, '--out', out);
    expect(status).toBe(0);
    return execFileSync('pdftotext', ['-layout', out, '-']).toString();
  };
  expect(await text('closed')).not.toContain('Casa da Brecha');
  expect((await text('open')).match(/\bJul\b/g)).toHaveLength(4);
  expect((await text('start')).match(/\bJul\b/g)).toHaveLength(2);
  expect((await overDemo('render', 'nights-matrix', '--folds', 'ajar')).status).toBe(2);
});

it('answers a wrong call with what is wrong and code 2', async () => {
  const unknown = await overDemo('render', 'season-leger');
  expect([unknown.status, unknown.stderr]).toEqual([2, expect.stringContaining('Did you mean season-ledger?')]);
  const parameter = await overDemo('render', 'season-ledger', '--param', 'season=never');
  expect([parameter.status, parameter.stderr]).toEqual([
    2,
    expect.stringContaining('“never” is not a value for “Season”'),
  ]);
  expect((await overDemo('render', 'season-ledger', '--format', 'clay')).status).toBe(2);
});

it('renders a definition file with a wrong formula, says so, and still writes the rest', async () => {
  const file = join(folder, 'partly.json');
  const out = join(folder, 'partly.pdf');
  const definition = JSON.parse(readFileSync('examples/cumeeira/reports/warden-roster.json', 'utf8'));
  definition.body[0].detail.items[1].formula = '1 +';
  writeFileSync(file, JSON.stringify(definition));
  const { status, stdout, stderr } = await overDemo('render', file, '--out', out);
  expect([status, stderr]).toEqual([
    1,
    expect.stringContaining('body/0/detail/items/1 at character 4: The formula ends too early.'),
  ]);
  expect(stdout).toContain('8 pages');
  const text = execFileSync('pdftotext', [out, '-']).toString();
  expect(text).toContain('#NAME?');
  expect(text).toContain('Warden roster');
});

it('writes several formats of a report into one zip, each with options of its own', async () => {
  const out = join(folder, 'tags.zip');
  const formats = [
    '--format',
    'pdf',
    '--format',
    'csv',
    '--option',
    'csv.separator=semicolon',
    '--option',
    'csv.bom=false',
  ];
  const { status, stderr } = await overDemo('render', 'bunk-tags', ...formats, '--out', out);
  expect({ status, stderr }).toEqual({ status: 0, stderr: '' });
  const files = unzipSync(readFileSync(out));
  expect(Object.keys(files)).toEqual(['Bunk tags.pdf', 'Bunk tags.csv']);
  expect(Buffer.from(files['Bunk tags.csv']!).toString().split('\n')[0]).toContain(';');
  const whose = await overDemo('render', 'bunk-tags', ...formats.slice(0, 4), '--option', 'separator=tab');
  expect([whose.status, whose.stderr]).toEqual([2, expect.stringContaining('--option pdf.separator=tab')]);
  const none = await overDemo('render', 'bunk-tags', ...formats.slice(0, 4), '--option', 'odt.fonts=false');
  expect([none.status, none.stderr]).toEqual([2, expect.stringContaining('“odt” is not among the formats pdf, csv')]);
});

it('joins several reports in one file, each under its name, with the parameters that it has', async () => {
  const out = join(folder, 'all.pdf');
  const joined = ['warden-roster', 'bunk-tags'];
  const { status, stderr, stdout } = await overDemo('render', ...joined, '--title', 'For the office', '--out', out);
  expect({ status, stderr }).toEqual({ status: 0, stderr: '' });
  const alone = await overDemo('render', joined[0]!, '--out', join(folder, 'alone.pdf'));
  const pages = (said: string): number => Number(/(\d+) pages/.exec(said)![1]);
  expect(pages(stdout)).toBeGreaterThan(pages(alone.stdout));
  expect(execFileSync('pdfinfo', [out]).toString()).toMatch(/Title:\s+For the office/);
  const { outlines } = JSON.parse(execFileSync('qpdf', ['--json', '--json-key=outlines', out]).toString());
  expect(outlines.map(({ title, destpageposfrom1 }: Record<string, unknown>) => [title, destpageposfrom1])).toEqual([
    ['Warden roster', 1],
    ['Bunk tags', 1 + pages(alone.stdout)],
  ]);
  expect((await overDemo('render', ...joined, '--param', 'colour=red')).stderr).toContain('a parameter “colour”');
  expect((await overDemo('render', ...joined, '--format', 'csv')).stderr).toContain('which “csv” has none of');
  expect((await overDemo('render', ...joined, '--format', 'pdf', '--format', 'png')).stderr).toContain('in one format');
});

it('checks a definition and prints problems by place, with code 1', async () => {
  const file = join(folder, 'wrong.json');
  const definition = JSON.parse(readFileSync('examples/cumeeira/reports/warden-roster.json', 'utf8'));
  definition.body[0].detail.items[1].formula = 'nmae';
  definition.body[0].detail.items[3].report = 'no-such-report';
  writeFileSync(file, JSON.stringify(definition));
  const { status, stderr } = await overDemo('check', file);
  expect(status).toBe(1);
  expect(stderr).toContain('error: body/0/detail/items/1 at character 1: “nmae” is not a field');
  expect(stderr).toContain('error: body/0/detail/items/3: There is no report “no-such-report”');
  expect((await overDemo('check', 'examples/cumeeira/reports/season-ledger.json')).status).toBe(0);
  writeFileSync(file, '{ not json');
  expect((await overDemo('check', file)).status).toBe(1);
  expect((await overDemo('check', join(folder, 'missing.json'))).status).toBe(2);
});

it('writes a definition of an older version anew, and nothing else in it', async () => {
  const file = join(folder, 'old.json');
  const old = readFileSync('examples/cumeeira/old-reports/1/bunk-tags.json', 'utf8');
  writeFileSync(file, old);
  expect((await overDemo('check', file)).status).toBe(0);
  expect(readFileSync(file, 'utf8')).toBe(old);
  const { status, stdout } = await overDemo('check', file, '--upgrade');
  expect([status, stdout]).toEqual([0, expect.stringContaining('upgraded from version 1 to 2')]);
  const { body, ...rest } = JSON.parse(old);
  const written = readFileSync(file, 'utf8');
  expect(JSON.parse(written)).toEqual({ ...rest, gaveta: 2, body: [body] });
  expect((await overDemo('check', file, '--upgrade')).stdout).toContain('version 2 already');
  expect(readFileSync(file, 'utf8')).toBe(written);
});

it('holds the models against their databases, and says what does not fit', async () => {
  expect(await gaveta('doctor')).toMatchObject({
    status: 0,
    stdout: 'Everything fits: 3 models with 19 entities, 3 connections.\n',
  });
  const config = join(folder, 'away.config.mjs');
  writeFileSync(
    config,
    `import { defineModel } from ${JSON.stringify(join(process.cwd(), 'packages/server/src/index.ts'))};
     const fields = { id: { label: 'Number', type: 'number' } };
     const entities = { hut: { label: 'Hut', plural: 'Huts', key: 'id', fields } };
     const models = [defineModel({ name: 'huts', label: 'Huts', connection: 'office', entities })];
     export default { models, connections: async () => ({}), reports: async () => [], claims: {}, close: async () => {} };`,
  );
  const { status, stdout } = await gaveta('doctor', '--config', config);
  expect(status).toBe(1);
  expect(stdout).toContain('connections.office: there is no connection of this name');
  expect((await gaveta('doctor', '--config', join(folder, 'none.ts'))).status).toBe(2);
});

it('renders a report in a language that it speaks, and says which ones it does', async () => {
  const out = join(folder, 'folio.csv');
  const values = ['--param', 'from=2025-07-01', '--param', 'until=2025-07-02'];
  const german = await gaveta(
    'render',
    'stay-folio',
    ...values,
    '--language',
    'de-AT',
    '--format',
    'csv',
    '--out',
    out,
  );
  expect([german.status, german.stderr]).toEqual([0, '']);
  expect(readFileSync(out, 'utf8')).toContain('Schlafplatz');
  const none = await gaveta('render', 'stay-folio', ...values, '--language', 'fr', '--out', out);
  expect(none).toMatchObject({ status: 2 });
  expect(none.stderr).toContain('does not speak fr, but en, pt-PT, de, pl, ar');
});

it('writes what a definition says for whoever translates it, and takes that back', async () => {
  const file = join(folder, 'folio.json');
  writeFileSync(file, readFileSync('examples/cumeeira/reports/stay-folio.json'));
  const sent = join(folder, 'folio.fr.xlf');
  const written = await overDemo('translations', file, '--language', 'fr', '--out', sent);
  expect(written.status).toBe(1);
  expect(written.stdout).toMatch(/33 of 33 texts are not translated into fr/);
  const text = readFileSync(sent, 'utf8');
  const done = text.replace(/<source xml:space="preserve">(.*?)<\/source>/g, '$&<target>fr $1</target>');
  writeFileSync(sent, done);
  const taken = await overDemo('translations', file, '--language', 'fr', '--take', sent);
  expect([taken.status, taken.stdout]).toEqual([
    0,
    `${sent}: 33 translations are new or changed.\n${file}: 0 of 33 texts are not translated into fr.\n`,
  ]);
  const { translations } = JSON.parse(readFileSync(file, 'utf8')) as {
    translations: { language: string; texts: Record<string, string> }[];
  };
  expect(translations.at(-1)).toMatchObject({ language: 'fr', texts: { 'Left to pay': 'fr Left to pay' } });
  const wrong = await overDemo('translations', file, '--language', 'de', '--take', sent);
  expect(wrong).toMatchObject({ status: 2, stderr: `gaveta: ${sent} translates into fr, not into de.\n` });
  const own = await overDemo('translations', file, '--language', 'en');
  expect(own.status).toBe(2);
});
