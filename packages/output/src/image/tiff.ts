import type { Writable } from 'node:stream';
import { promisify } from 'node:util';
import { deflate } from 'node:zlib';
import { phrase, SaidError } from '@gaveta/core/internal';
import { Target } from '../target.ts';
import type { Raster } from './raster.ts';

const compress = promisify(deflate);

/** Tags of TIFF 6.0, and the types of their values. */
const SHORT = 3;
const LONG = 4;
const RATIONAL = 5;
/** Deflate as Adobe’s supplement 2 to TIFF has it. */
const DEFLATE = 8;
/** Largest offset that the format can hold. */
const LONGEST = 0xffff_ffff;

interface Entry {
  tag: number;
  type: typeof SHORT | typeof LONG | typeof RATIONAL;
  count: number;
  value: number;
}

/** Writes pages into one TIFF (6.0), one after another: each is packed, and told where the next one lies once that is known. */
export class TiffWriter {
  private readonly target: Target;
  private at = 8;
  /** Where each page is described that waits for the place of the next one. */
  private waiting: { directory: Buffer; next: number } | null = null;
  private isBegun = false;

  constructor(
    private readonly sink: Writable,
    private readonly dpi: number,
  ) {
    this.target = new Target(sink);
  }

  private async put(data: Buffer): Promise<void> {
    this.target.check();
    if (!this.sink.write(data)) await this.target.drained();
  }

  async page({ width, height, pixels }: Raster): Promise<void> {
    const strip = await compress(withoutAlpha(pixels, width * height), { level: 6 });
    const padded = strip.length % 2 === 0 ? strip : Buffer.concat([strip, Buffer.alloc(1)]);
    const waits = this.waiting?.directory.length ?? 0;
    const stripAt = this.at + waits;
    const directoryAt = stripAt + padded.length;
    if (directoryAt > LONGEST) throw new SaidError(phrase('tiff-too-large'));
    await this.tell(directoryAt);
    await this.put(padded);
    this.at = directoryAt;
    this.waiting = this.directory(width, height, stripAt, strip.length, directoryAt);
  }

  /** Writes what waited for the place of the next page. */
  private async tell(next: number): Promise<void> {
    if (!this.isBegun) {
      const head = Buffer.from('II*\0\0\0\0\0', 'latin1');
      head.writeUInt32LE(next, 4);
      await this.put(head);
      this.isBegun = true;
    }
    const { waiting } = this;
    if (!waiting) return;
    waiting.directory.writeUInt32LE(next, waiting.next);
    await this.put(waiting.directory);
    this.waiting = null;
  }

  private directory(width: number, height: number, strip: number, length: number, at: number) {
    const extra = Buffer.alloc(6 + 16);
    const entry = (tag: number, type: Entry['type'], value: number, count = 1): Entry => ({ tag, type, count, value });
    const build = (extraAt: number): Entry[] => [
      entry(256, LONG, width),
      entry(257, LONG, height),
      entry(258, SHORT, extraAt, 3),
      entry(259, SHORT, DEFLATE),
      entry(262, SHORT, 2),
      entry(273, LONG, strip),
      entry(277, SHORT, 3),
      entry(278, LONG, height),
      entry(279, LONG, length),
      entry(282, RATIONAL, extraAt + 6),
      entry(283, RATIONAL, extraAt + 14),
      entry(284, SHORT, 1),
      entry(296, SHORT, 2),
    ];
    const size = 2 + build(0).length * 12 + 4;
    const entries = build(at + size);
    const head = Buffer.alloc(size);
    head.writeUInt16LE(entries.length, 0);
    for (const [i, { tag, type, count, value }] of entries.entries()) {
      const place = 2 + i * 12;
      head.writeUInt16LE(tag, place);
      head.writeUInt16LE(type, place + 2);
      head.writeUInt32LE(count, place + 4);
      if (type === SHORT && count === 1) head.writeUInt16LE(value, place + 8);
      else head.writeUInt32LE(value, place + 8);
    }
    for (let i = 0; i < 3; i++) extra.writeUInt16LE(8, i * 2);
    for (const place of [6, 14]) {
      extra.writeUInt32LE(this.dpi, place);
      extra.writeUInt32LE(1, place + 4);
    }
    return { directory: Buffer.concat([head, extra]), next: size - 4 };
  }

  async end(): Promise<void> {
    await this.tell(0);
    this.sink.end();
    await this.target.finished();
  }
}

const withoutAlpha = (pixels: Buffer, count: number): Buffer => {
  const colors = Buffer.allocUnsafe(count * 3);
  for (let i = 0, from = 0, to = 0; i < count; i++, from += 4, to += 3) {
    colors[to] = pixels[from]!;
    colors[to + 1] = pixels[from + 1]!;
    colors[to + 2] = pixels[from + 2]!;
  }
  return colors;
};
