import { createWriteStream } from 'node:fs';
import { stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PGlite } from '@electric-sql/pglite';
import { type Page, planReport, readDefinition, runReport } from '@gaveta/core/internal';
import { createPdfWriter, loadEquipment, writeReport } from '@gaveta/output';
import { defineModel, openRows, pgliteConnection } from '@gaveta/server';
import { chargeModel, chargeReport, chargeSource, chargesOf, sourceRows } from './charges.ts';
import { line, median, peak, time } from './measure.ts';

/** Files against what they are measured by: tagged PDF against untagged, CSV against COPY; pictures and documents of many pages. */
const ROUNDS = 5;
const CSV_ROWS = 1_000_000;
const out = (name: string): string => join(tmpdir(), `gaveta-bench-${name}`);
const equipment = await loadEquipment();
const book = await equipment.book();
const plan = planReport(chargeReport, { models: [chargeModel], report: () => null });
const never = new AbortController().signal;

const pdf = async (tagged: boolean): Promise<number> => {
  const writer = createPdfWriter(createWriteStream(out(`tagged-${tagged}.pdf`)), book, { title: 'Charges', tagged });
  const result = await runReport({
    plan,
    book,
    parameters: {},
    regions: tagged,
    open: () => ({ source: chargeSource }),
    onPage: (page) => writer.page(page),
  });
  await writer.end(result.late);
  return result.pages;
};
const bytes = async (name: string): Promise<number> => (await stat(out(name))).size;

console.log('A PDF of 100,000 charges, with and without tags');
sourceRows();
await pdf(true);
const seconds: Record<'tagged' | 'plain', number[]> = { tagged: [], plain: [] };
for (let round = 0; round < ROUNDS; round++) {
  seconds.plain.push((await time(() => pdf(false))).seconds);
  seconds.tagged.push((await time(() => pdf(true))).seconds);
}
const { megabytes } = await peak(() => pdf(true));
const [tagged, plain] = [median(seconds.tagged), median(seconds.plain)];
const sizes = { tagged: await bytes('tagged-true.pdf'), plain: await bytes('tagged-false.pdf') };
line('without tags', plain, `${(sizes.plain / 1e6).toFixed(2)} MB`);
line('tagged', tagged, `${(sizes.tagged / 1e6).toFixed(2)} MB, peak memory ${megabytes} MB`);
console.log(`  Tags take ${(tagged / plain).toFixed(2)} times the time (aim: at most 1.3)`);
console.log(`  and ${(sizes.tagged / sizes.plain).toFixed(2)} times the size (aim: at most 1.4)`);

/** Pages of a report of so many charges. */
const pagesOf = async (charges: number): Promise<Page[]> => {
  const pages: Page[] = [];
  const open = () => ({ source: chargesOf(charges) });
  const { late } = await runReport({ plan, book, parameters: {}, open, onPage: (page) => void pages.push(page) });
  for (const { page, marks } of late) pages[page - 1]?.marks.push(...marks);
  return pages.map(({ late: _, ...page }) => page);
};

console.log('\nPictures and documents of many pages');
const hundred = (await pagesOf(5_000)).slice(0, 100);
for (const name of ['png', 'pptx']) {
  const output = equipment.output(name);
  if (output?.takes !== 'pages') throw new Error(`no output ${name}`);
  const pages = async function* (): AsyncGenerator<Page> {
    yield* hundred;
  };
  const write = () =>
    output.write(
      {
        title: 'Charges',
        language: 'en',
        book,
        pages: pages(),
        late: () => [],
        pictures: async () => null,
        options: {},
      },
      createWriteStream(out(name)),
      never,
    );
  const { seconds: took } = await time(write);
  line(`${name}, ${hundred.length} pages`, took, `${((took / hundred.length) * 1000).toFixed(0)} ms a page`);
}
const DOCUMENT = 21_500;
const { length: count } = await pagesOf(DOCUMENT);
for (const name of ['docx']) {
  const output = equipment.output(name);
  if (!output || output.takes === 'pages') throw new Error(`no output ${name}`);
  const report = {
    plan,
    book: () => equipment.book(),
    open: () => ({ source: chargesOf(DOCUMENT) }),
    parameters: {},
    options: {},
  };
  const { megabytes: most, value } = await peak(() =>
    time(() => writeReport(output, report, createWriteStream(out(name)), never)),
  );
  line(`${name} of what takes ${count} pages`, value.seconds, `peak memory ${most} MB`);
}

console.log(`\nCSV of ${CSV_ROWS.toLocaleString('en')} rows of a database, against COPY of the same rows`);
const database = new PGlite();
await database.exec(`
  create table charge (id int primary key, hut text, kind text, day date, amount numeric(12,2));
  insert into charge select i, 'Hut ' || (i % 24), (array['bunk', 'half board', 'linen', 'firewood'])[1 + i % 4],
    date '2024-01-01' + (i % 700), (i::bigint * 37 % 90000) / 100.0 from generate_series(1, ${CSV_ROWS}) i;
  analyze;
`);
const text = { label: 't', type: 'text' as const };
const number = { label: 'n', type: 'number' as const };
const model = defineModel({
  name: 'bench',
  label: 'Bench',
  connection: 'main',
  entities: {
    charge: {
      label: 'Charge',
      plural: 'Charges',
      key: 'id',
      fields: { id: number, hut: text, kind: text, day: { label: 'Day', type: 'date' }, amount: number },
    },
  },
});
const field = (name: string, x: number) => ({ kind: 'field', id: name, formula: name, x, y: 0, width: 30, height: 5 });
const read = readDefinition({
  gaveta: 2,
  name: 'Charges',
  model: 'bench',
  body: [
    {
      id: 'c',
      name: 'charge',
      rows: { entity: 'charge' },
      sort: [{ by: 'id' }],
      detail: { height: 5, items: ['id', 'hut', 'kind', 'day', 'amount'].map((name, i) => field(name, i * 32)) },
    },
  ],
});
if (!read.ok) throw new Error(JSON.stringify(read.problems));
const flat = planReport(read.report, { models: [model.model], report: () => null, rowsFromDatabase: true });
const csv = equipment.output('csv');
if (csv?.takes !== 'rows') throw new Error('no output csv');
const ours = async (): Promise<void> => {
  const connections = new Map([['main', pgliteConnection(database)]]);
  const open = () =>
    openRows(flat, {
      models: new Map([['bench', model]]),
      connections,
      claims: {},
      parameters: {},
      maxRows: 3_000_000,
    });
  const report = { plan: flat, book: () => equipment.book(), open, parameters: {}, options: {} };
  await writeReport(csv, report, createWriteStream(out('rows.csv')), never);
};
const copy = async (): Promise<void> => {
  const sql = `copy (select id, hut, kind, day, amount from charge order by id) to '/dev/blob' (format csv, header)`;
  const { blob } = await database.query(sql);
  await writeFile(out('copy.csv'), Buffer.from(await blob!.arrayBuffer()));
};
const [first, { megabytes: most }] = [await time(copy), await peak(ours)];
const [copied, made] = [[first.seconds], [] as number[]];
for (let round = 0; round < 2; round++) {
  copied.push((await time(copy)).seconds);
  made.push((await time(ours)).seconds);
}
line('COPY … TO, and the file written', median(copied), `${((await bytes('copy.csv')) / 1e6).toFixed(1)} MB`);
line('CSV of the report', median(made), `${((await bytes('rows.csv')) / 1e6).toFixed(1)} MB, peak memory ${most} MB`);
console.log(`  The report takes ${(median(made) / median(copied)).toFixed(2)} times as long (aim: at most 1.5)`);
process.exit(0);
