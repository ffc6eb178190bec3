import { execFile } from 'node:child_process';
import { createWriteStream } from 'node:fs';
import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable, Writable } from 'node:stream';
import { promisify } from 'node:util';
import { type ContentEvent, contentReport, type GivenParameters, type Page, runReport } from '@gaveta/core/internal';
import { loadEquipment, pictureFile, writeReport } from '@gaveta/output';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openDemo, runAt } from './demo-runs.test-support.ts';

/** Files as an office program reads them: LibreOffice, without a screen and with settings of its own. */
const run = promisify(execFile);
const demo = await openDemo();
const equipment = await loadEquipment();
let folder: string;

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'gaveta-office-'));
});
afterAll(async () => {
  await rm(folder, { recursive: true, force: true });
});

/** Comma-separated UTF-8 with values as they are. */
const CSV = 'csv:Text - txt - csv (StarCalc):44,34,76,1,,0,false,false,false,false,false,-1';

const convert = async (to: string, files: readonly string[], into = folder): Promise<void> => {
  const settings = `-env:UserInstallation=file://${join(folder, 'settings')}`;
  await run('soffice', [settings, '--headless', '--convert-to', to, '--outdir', into, ...files], { timeout: 400_000 });
};

const textsOf = async (files: readonly string[]): Promise<string[]> => {
  await convert('txt:Text (encoded):UTF8', files);
  return Promise.all(files.map((file) => readFile(file.replace(/\.[^.]*$/, '.txt'), 'utf8')));
};

/** What is on all sheets of each workbook, by the name of its file: the program starts once for all of them. */
const sheetsOf = async (files: readonly string[]): Promise<Map<string, string>> => {
  const into = await mkdtemp(join(folder, 'sheets-'));
  await convert(CSV, files, into);
  const sheets = new Map<string, string>();
  for (const name of await readdir(into)) {
    const workbook = name.slice(0, name.indexOf('-', name.indexOf('@')));
    const text = await readFile(join(into, name), 'utf8');
    sheets.set(workbook, `${sheets.get(workbook) ?? ''}${text}\n`);
  }
  return sheets;
};

const task = (id: string, given: GivenParameters) => {
  const { plan, parameters, open } = demo.prepared(id, given);
  return { plan, parameters, open, runAt, folds: { base: 'open' as const, turned: [] } };
};

/** A file of a demo report. */
const fileOf = async (format: string, id: string, given: GivenParameters = {}): Promise<Buffer> => {
  const output = equipment.output(format);
  if (!output || output.takes === 'pages') throw new Error(`no output ${format}`);
  const chunks: Buffer[] = [];
  const sink = new Writable({
    write: (chunk: Buffer, _, done) => {
      chunks.push(chunk);
      done();
    },
  });
  const report = { ...task(id, given), book: () => equipment.book(), options: {} };
  await writeReport(output, report, sink, new AbortController().signal);
  return Buffer.concat(chunks);
};

/** Writes the pages of a report as slides; gives their texts. */
const slidesOf = async (id: string, given: GivenParameters, path: string): Promise<string[]> => {
  const output = equipment.output('pptx');
  if (output?.takes !== 'pages') throw new Error('no slides');
  const book = await equipment.book();
  const files = new Map<string, Uint8Array>();
  const pages: Page[] = [];
  const result = await runReport({
    ...task(id, given),
    book,
    regions: true,
    onPage: (page) => void pages.push(page),
    onPicture: (picture) => void files.set(picture.hash, pictureFile(picture)),
  });
  const late = [...result.late];
  const pictures = async (hash: string) => files.get(hash) ?? null;
  const { name: title, language } = demo.prepared(id, given).report;
  const all = Readable.from(pages, { objectMode: true }) as AsyncIterable<Page>;
  const slides = { title, language, book, pages: all, late: () => late, pictures, options: {} };
  await output.write(slides, createWriteStream(path), new AbortController().signal);
  return [...pages, ...late].flatMap(({ marks }) =>
    marks.flatMap((mark) => (mark.kind === 'text' && mark.as !== 'drawing' ? [mark.text] : [])),
  );
};

const eventsOf = async (id: string, given: GivenParameters): Promise<ContentEvent[]> => {
  const events: ContentEvent[] = [];
  await contentReport({
    ...task(id, given),
    book: await equipment.book(),
    listener: (event) => void events.push(event),
  });
  return events;
};

/** Signs of a text without its spaces, in an order of their own, since cells are read in another order. */
const signs = (words: string): string => [...words.replace(/[\s\u00a0\ufeff]/g, '')].sort().join('');

/** What a report says outside of the tops and bottoms of its pages. */
const saidBy = (events: readonly ContentEvent[]): string =>
  events
    .flatMap((event) => (event.kind === 'block' ? event.parts : []))
    .map(({ content }) => (content.kind === 'text' ? content.runs.map(({ text }) => text).join('') : ''))
    .join('');

/** A workbook whose formulas have no results, so that whoever opens it must work them out; and the results that it had. */
const withoutResults = (file: Buffer): { file: Uint8Array; results: number[] } => {
  const parts = unzipSync(new Uint8Array(file));
  const results: number[] = [];
  const noted = (value: string): string => {
    results.push(Number(value));
    return '';
  };
  for (const name of Object.keys(parts).filter((one) => /^(xl\/worksheets\/sheet\d+|content)\.xml$/.test(one))) {
    const xml = strFromU8(parts[name]!)
      .replace(/(<f>[^<]*<\/f>)<v>([^<]*)<\/v>/g, (_, formula: string, value: string) => formula + noted(value))
      .replace(
        /( table:formula="[^"]*") office:value-type="float" office:value="([^"]*)">.*?<\/table:table-cell>/g,
        (_, formula: string, value: string) => `${formula}>${noted(value)}</table:table-cell>`,
      );
    parts[name] = strToU8(xml);
  }
  return { file: zipSync(parts), results };
};

const ONE_HUT: GivenParameters = { huts: ['Alminhas'] };

/** The numbers in cells of a CSV file. */
const cellsOf = (csv: string): number[] =>
  csv
    .replaceAll('"', '')
    .split(/[\n,]/)
    .flatMap((cell) => (/^-?\d+(\.\d+)?$/.test(cell) ? [Number(cell)] : []));

/** Reports of several kinds: nested, side by side, in columns, with crosstabs and charts. */
const FEW: readonly [id: string, given: GivenParameters][] = [
  ['inspection-watchlist', {}],
  ['warden-roster', {}],
  ['nights-matrix', {}],
];
/** With pictures and contents; of slides it takes as long as all the others. */
const HANDBOOK: (typeof FEW)[number] = ['hut-handbook', {}];
/** The others take their time: `GAVETA_LONGER=2 npm test`. */
const MORE: typeof FEW = [
  ['season-ledger', ONE_HUT],
  ['stay-folio', { hut_name: 'Alminhas' }],
  ['ridge-weather', {}],
  ['bunk-tags', {}],
  ['board-day', {}],
];
const REPORTS = Number(process.env.GAVETA_LONGER ?? 1) > 1 ? [...FEW, HANDBOOK, ...MORE] : FEW;
const DOCUMENTS = REPORTS === FEW ? [...FEW, HANDBOOK] : REPORTS;

describe('what an office program makes of the files', () => {
  it('shows on slides what the pages show', async () => {
    const made: { id: string; path: string; shown: string[] }[] = [];
    for (const [id, given] of REPORTS) {
      const path = join(folder, `${id}.pptx`);
      made.push({ id, path, shown: await slidesOf(id, given, path) });
    }
    await convert(
      'pdf',
      made.map(({ path }) => path),
    );
    for (const { id, path, shown } of made) {
      const { stdout } = await run('pdftotext', [path.replace(/pptx$/, 'pdf'), '-'], { maxBuffer: 1e8 });
      // Dots that lead to page numbers may leave the slide where the fonts are not there; directions are marked by signs.
      const seen = (words: string): string => signs(words.replace(/[.\f\u200b\u202a-\u202e]/g, ''));
      expect(seen(stdout), id).toBe(seen(shown.join('')));
    }
  }, 480_000);

  it('reads the same texts in documents of both kinds as the report has', async () => {
    const files: string[] = [];
    for (const [id, given] of DOCUMENTS)
      for (const format of ['docx', 'odt']) {
        const file = join(folder, `${id}-${format}.${format}`);
        await writeFile(file, await fileOf(format, id, given));
        files.push(file);
      }
    const texts = await textsOf(files);
    for (const [i, [id, given]] of DOCUMENTS.entries()) {
      const events = await eventsOf(id, given);
      const said = saidBy(events);
      const isListed = events.some(
        (event) => event.kind === 'block' && event.parts.some(({ content }) => content.kind === 'contents'),
      );
      for (const text of texts.slice(2 * i, 2 * i + 2)) {
        const read = signs(text);
        // The list of contents is the program’s own, with numbers of pages.
        if (isListed) expect(read.length, id).toBeGreaterThan(signs(said).length);
        else expect(read, id).toBe(signs(said));
      }
    }
  }, 480_000);

  it('works out each total of a workbook to what the report shows, and the sums of a workbook of rows', async () => {
    // Those with totals, and with numbers that are worked out from others of their row.
    const whole = [
      ['season-ledger', ONE_HUT, 100],
      ['inspection-watchlist', {}, 40],
      ...(REPORTS === FEW ? [] : REPORTS.map(([id, values]) => [id, values, 0] as const)),
    ] as const;
    const made: { name: string; least: number; results: number[] }[] = [];
    const make = async (output: string, format: string, id: string, given: GivenParameters, least: number) => {
      const { file, results } = withoutResults(await fileOf(output, id, given));
      const name = `${id.replaceAll('-', '_')}@${output.replaceAll('-', '_')}`;
      await writeFile(join(folder, `${name}.${format}`), file);
      made.push({ name, least, results });
      return join(folder, `${name}.${format}`);
    };
    const files: string[] = [];
    for (const format of ['xlsx', 'ods']) {
      for (const [id, given, least] of whole) files.push(await make(format, format, id, given, least));
      files.push(await make(`${format}-data`, format, 'season-ledger', ONE_HUT, 1));
    }
    const sheets = await sheetsOf(files);
    for (const { name, least, results } of made) {
      expect(results.length, name).toBeGreaterThanOrEqual(least);
      const csv = sheets.get(name) ?? '';
      expect(csv, name).not.toMatch(/#(REF|VALUE|NAME|DIV)|Err:/);
      const numbers = cellsOf(csv);
      const isThere = (result: number): boolean =>
        numbers.some((one) => Math.abs(one - result) <= Math.abs(result) * 1e-13);
      expect(
        results.filter((result) => !isThere(result)),
        name,
      ).toEqual([]);
    }
  }, 480_000);
});
