import { createWriteStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type ListedSet, listReport, planReport, type Value, valueText } from '@gaveta/core/internal';
import { loadEquipment, writeReport } from '@gaveta/output';
import ExcelJS from 'exceljs';
import { CHARGES, chargeModel, chargeReport, chargeSource, sourceRows } from './charges.ts';
import { line, median, peak, time } from './measure.ts';

const ROUNDS = 3;
const out = (name: string): string => join(tmpdir(), `gaveta-bench-${name}`);
const plan = planReport(chargeReport, { models: [chargeModel], report: () => null });
const equipment = await loadEquipment();

/** A file of what the report shows. */
const written = async (name: string): Promise<string> => {
  const output = equipment.output(name);
  if (!output || output.takes === 'pages') throw new Error(`no output ${name}`);
  const report = {
    plan,
    book: () => equipment.book(),
    open: () => ({ source: chargeSource }),
    parameters: {},
    options: {},
  };
  await writeReport(output, report, createWriteStream(out(name)), new AbortController().signal);
  return out(name);
};

/** The same cells by hand through ExcelJS’ streaming writer, from rows that are there already. */
const byHand = async (sheets: ReadonlyMap<ListedSet, Value[][]>): Promise<void> => {
  const book = new ExcelJS.stream.xlsx.WorkbookWriter({ filename: out('exceljs') });
  for (const [set, rows] of sheets) {
    const sheet = book.addWorksheet(set.label);
    sheet.addRow(set.columns.map(({ label }) => label)).commit();
    for (const row of rows)
      sheet
        .addRow(
          row.map((value, i) => (set.columns[i]!.type === 'number' ? Number(valueText(value)) : valueText(value))),
        )
        .commit();
    sheet.commit();
  }
  await book.commit();
};

const collected = async (): Promise<Map<ListedSet, Value[][]>> => {
  const sheets = new Map<ListedSet, Value[][]>();
  const listing = listReport(plan);
  const row = (set: ListedSet, values: readonly Value[]): void => {
    const rows = sheets.get(set);
    if (rows) rows.push([...values]);
    else sheets.set(set, [[...values]]);
  };
  const nothing = (): void => {};
  await listing.rows(
    { begins: nothing, row, rowEnds: nothing, ends: nothing },
    { open: () => ({ source: chargeSource }), parameters: {} },
  );
  return sheets;
};

console.log(`${CHARGES.toLocaleString('en')} charges under their stays and huts, as rows`);
sourceRows();
const sheets = await collected();
const seconds: Record<'xlsx' | 'hand' | 'csv' | 'json', number[]> = { xlsx: [], hand: [], csv: [], json: [] };
const before = Math.round(process.memoryUsage.rss() / 1e6);
const { megabytes } = await peak(() => written('xlsx-data'));
for (let round = 0; round < ROUNDS; round++) {
  seconds.xlsx.push((await time(() => written('xlsx-data'))).seconds);
  seconds.hand.push((await time(() => byHand(sheets))).seconds);
  seconds.csv.push((await time(() => written('csv'))).seconds);
  seconds.json.push((await time(() => written('json'))).seconds);
}
const size = async (name: string): Promise<string> => `${((await stat(out(name))).size / 1e6).toFixed(1)} MB`;
const [xlsx, hand] = [median(seconds.xlsx), median(seconds.hand)];
line('XLSX, rows and totals included', xlsx, await size('xlsx-data'));
line('baseline: ExcelJS’ streaming writer, from rows at hand', hand, await size('exceljs'));
line('CSV', median(seconds.csv), await size('csv'));
line('JSON', median(seconds.json), await size('json'));
console.log(`  XLSX takes ${(xlsx / hand).toFixed(2)} times as long as the baseline (aim: at most 1.3)`);
console.log(`  Peak memory ${megabytes} MB; ${before} MB before, rows included`);

console.log('\nThe same report as documents to work on');
for (const name of ['xlsx', 'ods', 'docx', 'odt', 'html', 'text']) {
  const made: number[] = [];
  const { megabytes: most } = await peak(() => written(name));
  for (let round = 0; round < (name === 'xlsx' ? ROUNDS : 1); round++)
    made.push((await time(() => written(name))).seconds);
  line(`${name}, peak memory ${most} MB`, median(made), await size(name));
  if (name !== 'xlsx') continue;
  const ratio = median(made) / hand;
  console.log(`  It takes ${ratio.toFixed(2)} times as long as the baseline, which has no looks, heights or formulas`);
}
process.exit(0);
