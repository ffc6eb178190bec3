import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { install, root } from './setup.mjs';

/**
 * Has LibreOffice Calc work out the tables of cases of the formula standard, and lists what it makes of them that the tables do not:
 * `node scripts/compare-formulas.mjs`. Differences that are meant stand with their reasons in meant.tsv; exits with 1 where there are
 * others.
 */
const folder = join(root, 'packages/core/src/formula/standard');
const linesOf = (file) =>
  readFileSync(join(folder, file), 'utf8')
    .split('\n')
    .filter((line) => line !== '' && !line.startsWith('# '));

/** @type {{ family: string, formula: string, result: string }[]} */
const cases = [];
for (const file of ['exact.tsv', 'standard.tsv']) {
  let family = '';
  for (const line of linesOf(file)) {
    if (line.startsWith('## ')) [family] = line.slice(3).split(' | ');
    else {
      const [formula, result] = line.split('\t');
      cases.push({ family, formula, result });
    }
  }
}
const meant = new Map(linesOf('meant.tsv').map((line) => line.split('\t')));

/** Days counted from 1899-12-30. */
const serial = (year, month, day) => Math.round(Date.UTC(year, month - 1, day) / 86_400_000) + 25_569;

/** Functions that other programs have under names of their own in the file format. */
const NAMES = {
  NORMSDIST: 'LEGACY.NORMSDIST',
  NORMSINV: 'LEGACY.NORMSINV',
  CHIDIST: 'LEGACY.CHIDIST',
  CHIINV: 'LEGACY.CHIINV',
  CHITEST: 'LEGACY.CHITEST',
  TEXTJOIN: 'COM.MICROSOFT.TEXTJOIN',
  IFS: 'COM.MICROSOFT.IFS',
  SWITCH: 'COM.MICROSOFT.SWITCH',
  EASTERSUNDAY: 'ORG.OPENOFFICE.EASTERSUNDAY',
};
const inCalc = (formula) =>
  formula
    // Lists hold nothing that is worked out.
    .replace(/\{[^}]*\}/g, (list) =>
      list.replace(/DATE\((\d+);(\d+);(\d+)\)/g, (_, y, m, d) => String(serial(Number(y), Number(m), Number(d)))),
    )
    .replace(/\b([A-Z][A-Z0-9]*)\(/g, (all, name) => (NAMES[name] ? `${NAMES[name]}(` : all));
const escaped = (text) =>
  text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;');

const rows = cases
  .map(
    ({ formula }) =>
      `<table:table-row><table:table-cell table:formula="of:=${escaped(inCalc(formula))}" office:value-type="float" office:value="0"/></table:table-row>`,
  )
  .join('\n');
const document = `<?xml version="1.0" encoding="UTF-8"?>
<office:document xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0"
 xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0" xmlns:of="urn:oasis:names:tc:opendocument:xmlns:of:1.2" office:version="1.3"
 office:mimetype="application/vnd.oasis.opendocument.spreadsheet"><office:body><office:spreadsheet>
<table:calculation-settings table:case-sensitive="false" table:search-criteria-must-apply-to-whole-cell="true" table:use-wildcards="true" table:use-regular-expressions="false"/>
<table:table table:name="Cases">
${rows}
</table:table></office:spreadsheet></office:body></office:document>`;

await install({ soffice: 'libreoffice-calc-nogui' });
const work = mkdtempSync(join(tmpdir(), 'gaveta-formulas-'));
writeFileSync(join(work, 'cases.fods'), document);
const { status, stderr } = spawnSync(
  'soffice',
  [
    `-env:UserInstallation=file://${work}/profile`,
    '--headless',
    '--convert-to',
    'fods',
    '--outdir',
    join(work, 'out'),
    join(work, 'cases.fods'),
  ],
  { encoding: 'utf8', timeout: 300_000 },
);
if (status !== 0) throw new Error(`LibreOffice did not convert the cases: ${stderr}`);
const written = readFileSync(join(work, 'out', 'cases.fods'), 'utf8');
rmSync(work, { recursive: true, force: true });
const unescaped = (text) =>
  text
    .replace(/<text:s(?: text:c="(\d+)")?\/>/g, (_, count) => ' '.repeat(Number(count ?? 1)))
    .replace(/<[^>]*>/g, '')
    .replace(/&lt;/g, '<')
    .replace(/&gt;/g, '>')
    .replace(/&quot;/g, '"')
    .replace(/&apos;/g, "'")
    .replace(/&amp;/g, '&');
const results = [
  ...written.matchAll(/<table:table-cell[^>]*table:formula="[^"]*"([^>]*?)(?:\/>|>(.*?)<\/table:table-cell>)/gs),
].map(([, attributes, inside = '']) => {
  const of = (name) => new RegExp(`${name}="([^"]*)"`).exec(attributes)?.[1];
  const type = of('calcext:value-type') ?? of('office:value-type');
  const text = unescaped(/<text:p[^>]*>(.*?)<\/text:p>/s.exec(inside)?.[1] ?? '');
  if (type === 'error' || /^(#|Err:)/.test(text)) return { kind: 'error', text };
  if (type === 'string') return { kind: 'text', text };
  if (type === 'boolean') return { kind: 'boolean', text: of('office:boolean-value') === 'true' ? 'TRUE' : 'FALSE' };
  if (type === 'date') {
    const [y, m, d] = of('office:date-value').slice(0, 10).split('-').map(Number);
    return { kind: 'number', value: serial(y, m, d), text: of('office:date-value') };
  }
  if (type === 'time') {
    const [, h, m, s] = /PT(\d+)H(\d+)M([\d.]+)S/.exec(of('office:time-value'));
    return { kind: 'number', value: (Number(h) * 3600 + Number(m) * 60 + Number(s)) / 86_400, text };
  }
  // An empty text has neither a type nor a value.
  if (of('office:value') === undefined) return { kind: 'text', text };
  return { kind: 'number', value: Number(of('office:value')), text: of('office:value') };
});
if (results.length !== cases.length) throw new Error(`${cases.length} cases became ${results.length}`);

const isNear = (a, b) => Math.abs(a - b) <= 1e-11 * Math.max(Math.abs(a), Math.abs(b), 1e-4);
const agrees = (expected, found) => {
  if (expected.startsWith('#')) return found.kind === 'error';
  if (expected.startsWith('"'))
    return found.kind === 'text' && found.text === expected.slice(1, -1).replaceAll('""', '"');
  if (expected === 'TRUE' || expected === 'FALSE')
    return found.kind === 'boolean'
      ? found.text === expected
      : found.kind === 'number' && found.value === Number(expected === 'TRUE');
  const day = /^(\d{4})-(\d{2})-(\d{2})$/.exec(expected);
  if (found.kind !== 'number') return false;
  return isNear(found.value, day ? serial(...day.slice(1).map(Number)) : Number(expected.replace('~', '')));
};

const families = new Map();
const unexplained = [];
const used = new Set();
for (const [i, { family, formula, result }] of cases.entries()) {
  const counts = families.get(family) ?? { cases: 0, agreeing: 0, meant: 0 };
  families.set(family, counts);
  counts.cases++;
  if (agrees(result, results[i])) counts.agreeing++;
  else if (meant.has(formula)) {
    counts.meant++;
    used.add(formula);
  } else unexplained.push(`${formula}\tis ${result} here, and ${results[i].text} there (${results[i].kind})`);
}
console.log('| family | cases | agreeing | meant differences |\n| --- | --- | --- | --- |');
for (const [name, { cases: all, agreeing, meant: explained }] of families)
  console.log(`| ${name} | ${all} | ${agreeing} | ${explained} |`);
for (const line of unexplained) console.log(line);
const idle = [...meant.keys()].filter((formula) => !used.has(formula));
if (idle.length > 0) console.log(`These agree by now, or are no cases any more:\n${idle.join('\n')}`);
console.log(`${cases.length} cases, ${unexplained.length} differences without a reason`);
process.exit(unexplained.length > 0 ? 1 : 0);
