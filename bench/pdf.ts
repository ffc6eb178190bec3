import { once } from 'node:events';
import { createWriteStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { planReport, problemText, runReport } from '@gaveta/core/internal';
import { createPdfWriter, loadShippedFonts, shippedFonts } from '@gaveta/output';
import PDFDocument from 'pdfkit';
import { CHARGES, chargeModel, chargeReport, chargeSource, sourceRows } from './charges.ts';
import { line, median, peak, time } from './measure.ts';

/** One text at its place, as the baselines get it: what the pipeline would draw, without having to find out where. */
interface PlacedText {
  text: string;
  x: number;
  y: number;
  size: number;
  bold: boolean;
}

/** Each is timed so often; the median counts. */
const ROUNDS = 3;

const [FONT, BOLD] = shippedFonts().map(({ path }) => path) as [string, string];
const out = (name: string): string => join(tmpdir(), `gaveta-bench-${name}.pdf`);

const pipeline = async () => {
  const started = performance.now();
  let firstPage = 0;
  const plan = planReport(chargeReport, { models: [chargeModel], report: () => null });
  if (plan.problems.length > 0) throw new Error(plan.problems.map(problemText).join(' '));
  const book = await loadShippedFonts();
  const writer = createPdfWriter(createWriteStream(out('gaveta')), book, { title: 'Charges' });
  const result = await runReport({
    plan,
    book,
    parameters: {},
    open: () => ({ source: chargeSource }),
    regions: true,
    onPage: (page) => {
      if (page.number === 1) firstPage = performance.now();
      return writer.page(page);
    },
  });
  await writer.end(result.late);
  return { ...result, firstPage: (firstPage - started) / 1000 };
};

/** The pages that the pipeline lays out, for the baselines to draw. Not part of any measured time. */
const placedPages = async (): Promise<PlacedText[][]> => {
  const plan = planReport(chargeReport, { models: [chargeModel], report: () => null });
  const pages: PlacedText[][] = [];
  const result = await runReport({
    plan,
    book: await loadShippedFonts(),
    parameters: {},
    open: () => ({ source: chargeSource }),
    onPage: (page) =>
      void pages.push(
        page.marks.flatMap((m) =>
          m.kind === 'text' ? [{ text: m.text, x: m.x, y: m.y, size: m.size, bold: m.font.endsWith('700') }] : [],
        ),
      ),
  });
  for (const { page, marks } of result.late) {
    pages[page - 1]!.push(
      ...marks.flatMap((m) => (m.kind === 'text' ? [{ text: m.text, x: m.x, y: m.y, size: m.size, bold: false }] : [])),
    );
  }
  return pages;
};

/** Baseline 1: the same texts positioned by hand through PDFKit's `text()`. */
const pdfkitText = async (pages: PlacedText[][]): Promise<void> => {
  const file = createWriteStream(out('text'));
  const document = new PDFDocument({ autoFirstPage: false, size: 'A4', margin: 0 });
  document.pipe(file);
  document.registerFont('plain', FONT);
  document.registerFont('bold', BOLD);
  for (const page of pages) {
    document.addPage();
    for (const { text, x, y, size, bold } of page)
      document
        .font(bold ? 'bold' : 'plain')
        .fontSize(size)
        .text(text, x, y - size, { lineBreak: false });
  }
  document.end();
  await once(file, 'finish');
};

/** Baseline 2: the same texts written straight into content streams, with glyphs looked up once for each character. */
const contentStreams = async (pages: PlacedText[][]): Promise<void> => {
  const file = createWriteStream(out('streams'));
  const document = new PDFDocument({ autoFirstPage: false, size: 'A4', margin: 0 }) as PDFKit.PDFDocument & {
    _font: {
      id: string;
      ref: () => unknown;
      font: { glyphForCodePoint: (c: number) => { id: number; advanceWidth: number } };
      subset: { includeGlyph: (id: number) => number };
      widths: number[];
      unicode: number[][];
      scale: number;
    };
    page: { fonts: Record<string, unknown>; write: (chunk: string) => void };
  };
  document.pipe(file);
  const face = (name: string, path: string) => {
    document.registerFont(name, path).font(name);
    const font = document._font;
    const codes = new Map<number, string>();
    const code = (c: number): string => {
      let hex = codes.get(c);
      if (hex === undefined) {
        const glyph = font.font.glyphForCodePoint(c);
        const id = font.subset.includeGlyph(glyph.id);
        font.widths[id] ??= glyph.advanceWidth * font.scale;
        font.unicode[id] ??= [c];
        hex = id.toString(16).padStart(4, '0');
        codes.set(c, hex);
      }
      return hex;
    };
    return { font, code };
  };
  const plain = face('plain', FONT);
  const bold = face('bold', BOLD);
  for (const page of pages) {
    document.addPage();
    document.page.fonts[plain.font.id] = plain.font.ref();
    document.page.fonts[bold.font.id] = bold.font.ref();
    let content = 'BT\n';
    for (const { text, x, y, size, bold: isBold } of page) {
      const { font, code } = isBold ? bold : plain;
      let hex = '';
      for (let i = 0; i < text.length; i++) hex += code(text.charCodeAt(i));
      content += `/${font.id} ${size} Tf 1 0 0 -1 ${x.toFixed(2)} ${y.toFixed(2)} Tm <${hex}> Tj\n`;
    }
    document.page.write(`${content}ET`);
  }
  document.end();
  await once(file, 'finish');
};

console.log(
  `${CHARGES.toLocaleString('en')} charges under their stays and huts, with subtotals and “page N of M”, to PDF`,
);
sourceRows();
const before = Math.round(process.memoryUsage.rss() / 1e6);
const { megabytes, value: result } = await peak(pipeline);
const pages = await placedPages();
const seconds: Record<'gaveta' | 'streams' | 'text', number[]> = { gaveta: [], streams: [], text: [] };
const first: number[] = [];
// In turns, so that a machine that is slower for a while is so for all three.
for (let round = 0; round < ROUNDS; round++) {
  const run = await time(pipeline);
  seconds.gaveta.push(run.seconds);
  first.push(run.value.firstPage);
  seconds.streams.push((await time(() => contentStreams(pages))).seconds);
  seconds.text.push((await time(() => pdfkitText(pages))).seconds);
}
const [gaveta, streams, text] = [median(seconds.gaveta), median(seconds.streams), median(seconds.text)];
const size = async (name: string): Promise<string> => `${((await stat(out(name))).size / 1e6).toFixed(1)} MB`;
line(
  'Gaveta: rows, totals, layout, PDF',
  gaveta,
  `${result.pages} pages, ${result.rows} rows, ${await size('gaveta')}`,
);
line('baseline: PDFKit text(), placed by hand', text, await size('text'));
line('baseline: content streams, placed by hand', streams, await size('streams'));
console.log(`  Gaveta is ${(text / gaveta).toFixed(1)} times faster than text() (aim: at least 10)`);
console.log(`  Gaveta takes ${(gaveta / streams).toFixed(2)} times as long as content streams (aim: at most 2)`);
const page = median(first);
console.log(
  `  Its first page comes after ${Math.round(page * 1000)} ms, ${((page / gaveta) * 100).toFixed(1)}% of the whole (aim: 5% or 300 ms)`,
);
console.log(`  Peak memory ${megabytes} MB; ${before} MB before, rows included`);
process.exit(0);
