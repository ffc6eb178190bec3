import { PassThrough, Writable } from 'node:stream';
import { fromWindows1252, type Page } from '@gaveta/core/internal';
import { strFromU8, unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { Archive } from './archive.ts';
import { bytesIn } from './csv/encoding.ts';
import { loadShippedFonts } from './equipment.ts';
import { fileName } from './file-name.ts';
import { onlyOnce } from './only-once.ts';
import { withShapes } from './page-shapes.ts';
import { isAsked, pageName, wholePages } from './pages.ts';
import { PartFile } from './part-file.ts';
import { RowNumbers } from './row-numbers.ts';
import { column, setOf } from './rows.test-support.ts';
import { TargetGone } from './target.ts';
import { TextSink } from './text-sink.ts';
import { escapeAttribute, escapeXml } from './xml/escape.ts';

const never = new AbortController().signal;
/** A stream that takes one piece at a time, and what it took. */
const slowly = () => {
  const taken: Buffer[] = [];
  const sink = new Writable({
    highWaterMark: 1,
    write: (chunk: Buffer, _, done) => {
      taken.push(chunk);
      setImmediate(done);
    },
  });
  return { sink, text: () => Buffer.concat(taken).toString(), bytes: () => Buffer.concat(taken) };
};

describe('names', () => {
  it('of files are such that every system takes', () => {
    expect(fileName('Huts: all/of "them"?', 'x')).toBe('Huts_ all_of _them__');
    expect(fileName('Refúgio, da Última Neve (2)', 'x')).toBe('Refúgio, da Última Neve (2)');
    for (const bad of ['', '   ', 'con', 'LPT1']) expect(fileName(bad, 'report'), bad).toBe('report');
    expect(fileName('..hidden', 'x')).not.toMatch(/^\./);
    expect(fileName('lone \uD800', 'x')).toBe('lone \uFFFD');
    expect(fileName('x'.repeat(500), 'x')).toHaveLength(120);
  });

  it('are each there once, whatever their case', () => {
    expect(onlyOnce(['Name', 'name', 'Name', 'Name 2', 'Beds'])).toEqual([
      'Name',
      'name 2',
      'Name 3',
      'Name 2 2',
      'Beds',
    ]);
  });

  it('of pages are in order', () => {
    expect([pageName(2, 'svg'), pageName(10, 'svg'), pageName(12_345, 'svg')].sort()).toEqual([
      'page-0002.svg',
      'page-0010.svg',
      'page-12345.svg',
    ]);
    expect([1, 2, 3, 4].filter((number) => isAsked(number, { from: 2, to: 3 }))).toEqual([2, 3]);
    expect([1, 2].filter((number) => isAsked(number, {}))).toEqual([1, 2]);
  });

  it('rows that are written apart have numbers, and name those that they lie in', () => {
    const charge = setOf('charge', [column('kind', 'text')]);
    const stay = setOf('stay', [], [charge]);
    const hut = setOf('hut', [], [stay]);
    const numbers = new RowNumbers([hut]);
    expect(numbers.all).toEqual([hut, stay, charge]);
    expect([hut, stay, charge].map((set) => numbers.captions(set))).toEqual([
      ['hut no.'],
      ['hut no.', 'stay no.'],
      ['stay no.'],
    ]);
    expect([hut, stay, charge, charge, stay, hut, stay, charge].map((set) => numbers.next(set))).toEqual([
      [1],
      [1, 1],
      [1],
      [1],
      [1, 2],
      [2],
      [2, 3],
      [3],
    ]);
  });
});

describe('text', () => {
  it('in XML is what was meant, or a sign that it could not be', () => {
    expect(escapeXml('a < b & "c" > d\r\n\u0000\uD800\uFFFE👩')).toBe(
      'a &lt; b &amp; &quot;c&quot; &gt; d&#13;\n\uFFFD\uFFFD\uFFFD👩',
    );
    expect(escapeAttribute('two\nlines\tand a tab')).toBe('two&#10;lines&#9;and a tab');
  });

  it('of Western Europe has a byte for each sign, and a question mark for what has none', () => {
    const { encode, first } = bytesIn({ encoding: 'windows-1252', bom: true });
    expect(first).toBeNull();
    expect([...encode('é€„ž→')]).toEqual([0xe9, 0x80, 0x84, 0x9e, 0x3f]);
    expect(fromWindows1252(encode('Łódź, “Última” – 5 €'))).toBe('?ód?, “Última” – 5 €');
  });

  it('leaves in order and no faster than it is taken', async () => {
    const { sink, text } = slowly();
    const writer = new TextSink(sink, never);
    for (let i = 0; i < 5_000; i++) {
      const told = writer.write(`line ${i}\n${'x'.repeat(40)}`);
      if (told) await told;
    }
    await writer.bytes(Buffer.from('bytes'));
    await writer.end();
    expect(text()).toMatch(/^line 0\nx{40}line 1\n/);
    expect(text().endsWith(`line 4999\n${'x'.repeat(40)}bytes`)).toBe(true);
  });

  it('ends with what is wrong with who takes it', async () => {
    const { sink } = slowly();
    const writer = new TextSink(sink, never);
    sink.destroy();
    void writer.write('x'.repeat(100_000));
    await expect(writer.end()).rejects.toThrow(TargetGone);
    const full = new Writable({ write: (_, __, done) => done(new Error('the disk is full')) });
    const other = new TextSink(full, never);
    void other.write('x');
    await expect(other.end()).rejects.toThrow('the disk is full');
  });
});

describe('an archive', () => {
  it('holds files that are written one after another, each under a name of its own', async () => {
    const { sink, bytes } = slowly();
    const archive = new Archive(sink);
    const part = await PartFile.open();
    for (let i = 0; i < 40_000; i++) void part.write(Buffer.from(`row ${i}\n`));
    await archive.add('a.txt', 'one');
    await part.into(archive, 'A.txt', never);
    await archive.add('c.bin', Buffer.from([1, 2, 3]), { stored: true });
    await archive.end();
    await part.close();
    const files = unzipSync(bytes());
    expect(Object.keys(files)).toEqual(['a.txt', 'A-2.txt', 'c.bin']);
    const rows = strFromU8(files['A-2.txt']!).split('\n');
    expect([rows[0], rows[39_999], rows.length]).toEqual(['row 0', 'row 39999', 40_001]);
    expect([...files['c.bin']!]).toEqual([1, 2, 3]);
  });

  it('fails with whoever was to take it', async () => {
    const sink = new PassThrough();
    const archive = new Archive(sink);
    sink.destroy(new Error('gone away'));
    await new Promise((resolve) => setImmediate(resolve));
    await expect(archive.add('a.txt', 'x'.repeat(100_000))).rejects.toThrow('gone away');
  });
});

describe('pages', () => {
  const page = (number: number, late = false): Page => ({
    number,
    width: 10,
    height: 10,
    marks: [],
    ...(late ? { late: true as const } : {}),
  });
  const fill = { kind: 'rectangle', x: 0, y: 0, width: 1, height: 1 } as const;

  it('come with what waited for their number, in order', async () => {
    const given = (async function* () {
      yield* [page(1), page(2, true), page(3), page(4, true)];
    })();
    const late = () => [
      { page: 2, marks: [{ ...fill }] },
      { page: 4, marks: [{ ...fill }, { ...fill }] },
    ];
    const seen: [number, number][] = [];
    for await (const { number, marks } of wholePages({ pages: given, late }, { from: 2 }, never))
      seen.push([number, marks.length]);
    expect(seen).toEqual([
      [2, 1],
      [3, 0],
      [4, 2],
    ]);
  });

  it('whose texts are outlines have one for each text, turned and from right to left as well', async () => {
    const book = await loadShippedFonts();
    const text = {
      kind: 'text',
      x: 20,
      y: 30,
      text: 'Hi',
      font: 'Source Sans 3/400',
      size: 10,
      color: '#102030',
      width: 9,
    } as const;
    const arabic = { ...text, text: 'سلام', font: 'Noto Sans Arabic/400', rtl: true as const };
    const marks = [text, { ...text, turn: 90 }, arabic, { ...text, text: ' ' }, fill];
    const shaped = withShapes({ ...page(1), marks }, book).marks;
    expect(shaped.map(({ kind }) => kind)).toEqual(['path', 'path', 'path', 'rectangle']);
    const [plain, turned] = shaped as { path: string; fill: string }[];
    expect(plain!.fill).toBe('#102030');
    const numbers = (path: string): number[] => (path.match(/-?[\d.]+/g) ?? []).map(Number);
    const [xs, ys] = [0, 1].map((which) => numbers(plain!.path).filter((_, i) => i % 2 === which)) as [
      number[],
      number[],
    ];
    // Above the baseline, and as wide as two letters are.
    expect(Math.max(...ys)).toBeLessThan(0.5);
    expect(Math.max(...xs)).toBeGreaterThan(5);
    // Turned clockwise, what went right goes down.
    const down = numbers(turned!.path).filter((_, i) => i % 2 === 1);
    expect(Math.max(...down)).toBeCloseTo(Math.max(...xs), 1);
  });

  it('a font gives the outline of a glyph once, with cubic curves alone', async () => {
    const book = await loadShippedFonts();
    const font = book.find('Source Sans 3', false, false);
    const outline = font.outline(font.glyphId('o'.codePointAt(0)!));
    expect(font.outline(font.glyphId('o'.codePointAt(0)!))).toBe(outline);
    expect(new Set(outline.map(({ step }) => step))).toEqual(
      new Set(['M', 'C', 'L', 'Z'].filter((step) => outline.some((one) => one.step === step))),
    );
    expect(outline.filter(({ step }) => step === 'M')).toHaveLength(2);
    for (const { step, places } of outline) expect(places).toHaveLength({ M: 2, L: 2, C: 6, Z: 0 }[step]);
    expect(font.outline(font.glyphId(32))).toEqual([]);
  });
});
