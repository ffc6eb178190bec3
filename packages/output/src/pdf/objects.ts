import { promisify } from 'node:util';
import { deflate, deflateSync } from 'node:zlib';
import type { KitDocument } from './kit.ts';

const compress = promisify(deflate);

/** Objects that stand together in one stream: in the first of a kind, and at most. */
const FIRST = 32;
const TOGETHER = 2048;

/** Digits of the numbers of objects where all are of one length. */
const ID_DIGITS = 7;

const ZERO = 0x30;
const SPACE = 0x20;

/** A reference in a dictionary of PDFKit’s to an object that it knows nothing of. */
export class Reference {
  constructor(private readonly id: number) {}

  /** What PDFKit tells dictionaries by. */
  get [Symbol.toStringTag](): string {
    return 'Reference';
  }

  toString(): string {
    return `${this.id} 0 R`;
  }
}

/** Compresses data, and ends the object that they are the stream of; whoever owns it waits for it. */
export type FinishStream = (data: Record<string, unknown>, packed: Promise<Buffer>) => number;

/** Of a line of a picture of which only the differences from the line above are kept (the PNG specification, 9.2). */
const UP = 2;

/**
 * Takes the line above from each, in place; what is like the line above becomes 0. `stride`: bytes of a line, the first of which
 * says how it is kept.
 */
const keepDifferences = (lines: Buffer, stride: number): Buffer => {
  for (let i = lines.length - 1; i >= stride; i--) lines[i] = lines[i]! - lines[i - stride]!;
  for (let i = 0; i < lines.length; i += stride) lines[i] = UP;
  return lines;
};

/**
 * Objects in lines of one length that are much alike: numbers in them count on, so that each differs from the one before in a few
 * digits. As lines of a picture they take about a byte each; written out they would be most of a tagged file.
 */
class EvenObjects {
  private first = 0;
  private used = 0;
  /** Numbers that are reserved. */
  private size = 0;
  private readonly stride: number;
  /** Differences of each line from the one above. */
  private body: Buffer;
  /** The line above, and then the current one as far as it is written. */
  private readonly above: Uint8Array;
  /** Where the current line begins, the next byte of it goes, and lines that were begun. */
  private from = 0;
  private column = 0;
  private lines = 0;
  private form = '';
  /** Whether the words of the current line are those of the one above, which leave no difference. */
  private isLikeAbove = false;
  /** First line of each object. */
  private starts: number[] = [];

  constructor(
    private readonly objects: PdfObjects,
    /** Bytes of each line. */
    private readonly width: number,
  ) {
    this.stride = width + 1;
    this.body = Buffer.alloc(FIRST * this.stride);
    this.above = new Uint8Array(width);
  }

  /** Number of the object whose text comes next. */
  next(): number {
    if (this.used === this.size) {
      this.flush();
      this.size = this.size === 0 ? FIRST : Math.min(TOGETHER, this.size * 4);
      this.first = this.objects.reserve(this.size);
      this.used = 0;
    }
    return this.first + this.used++;
  }

  /** The first line of the next object. `form`: the same for lines that differ in numbers alone. */
  object(form: string): this {
    this.starts.push(this.lines);
    return this.line(form);
  }

  /** Begins a line. */
  line(form: string): this {
    this.from = this.lines * this.stride + 1;
    this.column = 0;
    this.lines++;
    if (this.from + this.width > this.body.length)
      this.body = Buffer.concat([this.body, Buffer.alloc(this.body.length)]);
    this.isLikeAbove = form === this.form && this.lines > 1;
    this.form = form;
    if (this.isLikeAbove) return this;
    for (let i = 0; i < this.width; i++) this.put(i, SPACE);
    return this;
  }

  private put(column: number, code: number): void {
    this.body[this.from + column]! += code - this.above[column]!;
    this.above[column] = code;
  }

  text(text: string): this {
    if (!this.isLikeAbove) for (let i = 0; i < text.length; i++) this.put(this.column + i, text.charCodeAt(i));
    this.column += text.length;
    return this;
  }

  /** In so many digits. */
  number(value: number, digits = ID_DIGITS): this {
    let rest = value;
    for (let i = this.column + digits - 1; i >= this.column; i--) {
      const left = Math.trunc(rest / 10);
      this.put(i, ZERO + rest - left * 10);
      rest = left;
    }
    this.column += digits;
    return this;
  }

  reference(id: number): this {
    return this.number(id).text(' 0 R');
  }

  /** Makes a stream of what there is. */
  flush(): void {
    const { starts, stride, width, first, lines, body } = this;
    const count = starts.length;
    if (count === 0) return;
    const written = body.subarray(0, lines * stride);
    // Numbers and places of the objects come first, each on a line as well.
    this.begin(count);
    for (const [i, start] of starts.entries())
      this.line('place')
        .number(first + i)
        .text(' ')
        .number(start * width);
    // The first line was told apart from none.
    for (let i = 0; i < width; i++) written[i + 1]! -= this.above[i]!;
    const data = Buffer.concat([this.body.subarray(0, count * stride), written]);
    for (let i = 0; i < data.length; i += stride) data[i] = UP;
    this.begin(Math.min(TOGETHER, this.size * 4));
    const stream = this.objects.stream(count, count * width, data, { Predictor: 12, Columns: width });
    this.objects.note(first, count, stream);
  }

  private begin(lines: number): void {
    this.starts = [];
    this.lines = 0;
    this.form = '';
    this.body = Buffer.alloc(lines * this.stride);
    this.above.fill(0);
  }
}

/** Numbers of objects that stand in one stream, from the first on and in order. */
interface Stretch {
  first: number;
  count: number;
  stream: number;
}

/** Objects that stand in streams of objects (ISO 32000-1, 7.5.7), and the table that says where everything is (7.5.8). */
export class PdfObjects {
  private readonly even = new Map<number, EvenObjects>();
  private readonly stretches: Stretch[] = [];
  /** Of objects of any length. */
  private mixed: { id: number; text: string }[] = [];
  private readonly places = new Map<number, { stream: number; index: number }>();

  constructor(
    private readonly document: KitDocument,
    private readonly finish: FinishStream,
  ) {
    // Numbers of objects in streams are not kept one by one.
    document._offsets = {
      length: document._offsets.length,
      push() {
        this.length++;
      },
    };
    document._finalize = () => this.table();
  }

  /** The first of so many numbers that follow one another. */
  reserve(count: number): number {
    const { _offsets } = this.document;
    const first = _offsets.length + 1;
    _offsets.length += count;
    return first;
  }

  /** Objects in lines of a length, which are filled up with spaces. At least 16. */
  ofLength(width: number): EvenObjects {
    let found = this.even.get(width);
    if (!found) {
      found = new EvenObjects(this, width);
      this.even.set(width, found);
    }
    return found;
  }

  /** An object of any length, with a number that was reserved for it. */
  put(id: number, text: string): void {
    this.mixed.push({ id, text });
    if (this.mixed.length === TOGETHER) this.flushMixed();
  }

  private flushMixed(): void {
    const { mixed } = this;
    if (mixed.length === 0) return;
    this.mixed = [];
    let [head, body] = ['', ''];
    for (const { id, text } of mixed) {
      head += `${id} ${body.length} `;
      body += `${text}\n`;
    }
    const stream = this.stream(mixed.length, head.length, Buffer.from(head + body, 'latin1'), null);
    for (const [index, { id }] of mixed.entries()) this.places.set(id, { stream, index });
  }

  /** Writes a stream of objects; gives its number. */
  stream(count: number, first: number, data: Buffer, parameters: Record<string, unknown> | null): number {
    const dictionary = { Type: 'ObjStm', N: count, First: first, ...(parameters ? { DecodeParms: parameters } : {}) };
    return this.finish(dictionary, compress(data));
  }

  note(first: number, count: number, stream: number): void {
    this.stretches.push({ first, count, stream });
  }

  /** Hands over what waits for more of its kind. */
  flush(): void {
    for (const one of this.even.values()) one.flush();
    this.flushMixed();
  }

  /** The table of all objects, as a stream. */
  private table(): void {
    const { document } = this;
    const { _offsets, _security } = document;
    const start = document._offset;
    const id = _offsets.length + 1;
    const width = 8;
    const table = Buffer.alloc((id + 1) * (width + 1));
    const entry = (object: number, kind: number, where: number, index: number): void => {
      const at = object * (width + 1) + 1;
      table[at] = kind;
      table.writeUIntBE(where, at + 1, 5);
      table.writeUInt16BE(index, at + 6);
    };
    entry(0, 0, 0, 0xffff);
    for (const key of Object.keys(_offsets)) {
      const offset = _offsets[Number(key)];
      if (typeof offset === 'number' && /^\d+$/.test(key)) entry(Number(key) + 1, 1, offset, 0);
    }
    for (const { first, count, stream } of this.stretches)
      for (let i = 0; i < count; i++) entry(first + i, 2, stream, i);
    for (const [object, { stream, index }] of this.places) entry(object, 2, stream, index);
    entry(id, 1, start, 0);
    const data = deflateSync(keepDifferences(table, width + 1));
    const own = (bytes: Uint8Array): string => `<${Buffer.from(bytes).toString('hex')}>`;
    document._write(`${id} 0 obj`);
    document._write(
      [
        '<</Type/XRef',
        `/Size ${id + 1}/W[1 5 2]/Root ${document._root}/Info ${document._info}`,
        `/ID[${own(document._id)}${own(document._id)}]`,
        _security ? `/Encrypt ${_security.dictionary}` : '',
        `/Filter/FlateDecode/DecodeParms<</Predictor 12/Columns ${width}>>/Length ${data.length}>>`,
      ].join(''),
    );
    document._write('stream');
    document._write(data);
    document._write('\nendstream');
    document._write('endobj');
    document._write('startxref');
    document._write(`${start}`);
    document._write('%%EOF');
    document.push(null);
  }
}
