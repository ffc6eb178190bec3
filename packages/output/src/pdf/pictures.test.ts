import { PassThrough } from 'node:stream';
import { inflateSync } from 'node:zlib';
import { type Mark, pictureProblem } from '@gaveta/core/internal';
import { encode, type ImageData } from 'fast-png';
import { afterAll, describe, expect, it } from 'vitest';
import { loadShippedFonts } from '../equipment.ts';
import { TargetGone } from '../target.ts';
import { createPdfWriter } from './pdf.ts';
import { PictureThreads } from './pictures.ts';
import { packPng } from './png.ts';

const threads = new PictureThreads();
afterAll(() => threads.close());

const LIMIT = 25_000_000;
const address = (bytes: Uint8Array): string => `data:image/png;base64,${Buffer.from(bytes).toString('base64')}`;

/** A picture of 7 by 5 pixels whose samples differ. */
const picture = (channels: 1 | 2 | 3 | 4, depth: 8 | 16): ImageData => {
  const samples = Array.from({ length: 7 * 5 * channels }, (_, i) => (i * 37) % 256);
  const data = depth === 8 ? Uint8Array.from(samples) : Uint16Array.from(samples.map((v) => v * 257));
  return { width: 7, height: 5, channels, depth, data };
};

const cut = (bytes: Uint8Array): Uint8Array => {
  const whole = Buffer.from(bytes);
  const at = whole.indexOf('IDAT');
  // The data lose their second half, and say so.
  const length = whole.readUInt32BE(at - 4);
  const kept = Math.floor(length / 2);
  whole.writeUInt32BE(kept, at - 4);
  return Buffer.concat([whole.subarray(0, at + 4 + kept), whole.subarray(at + 4 + length)]);
};

/** A picture that says it is of some size, with little data. */
const claiming = (width: number, height: number): Uint8Array => {
  const bytes = Buffer.from(encode(picture(4, 8)));
  bytes.writeUInt32BE(width, 16);
  bytes.writeUInt32BE(height, 20);
  return bytes;
};

describe('pictures', () => {
  it.each([1, 2, 3, 4] as const)('of %i samples a pixel keep every one of them', async (channels) => {
    for (const depth of [8, 16] as const) {
      const given = picture(channels, depth);
      const bytes = encode(given);
      expect(pictureProblem(address(bytes), LIMIT)).toBeNull();
      const packed = await packPng(bytes);
      const shift = depth === 16 ? 8 : 0;
      const colors: number[] = [];
      const alpha: number[] = [];
      for (const [i, value] of given.data.entries()) {
        const isAlpha = channels % 2 === 0 && i % channels === channels - 1;
        (isAlpha ? alpha : colors).push(value >> shift);
      }
      expect([...inflateSync(packed.colors)]).toEqual(colors);
      expect(packed.alpha && [...inflateSync(packed.alpha)]).toEqual(alpha.length > 0 ? alpha : null);
    }
  });
  it('that are damaged or too large are told of before anything unpacks them', () => {
    const whole = encode(picture(4, 8));
    expect(pictureProblem(address(cut(whole)), LIMIT)).toBe('picture-damaged');
    expect(pictureProblem(address(whole.subarray(0, 60)), LIMIT)).toBe('picture-damaged');
    expect(pictureProblem(address(claiming(100_000, 100_000)), LIMIT)).toBe('picture-too-large');
    expect(pictureProblem(address(claiming(1000, 1000)), LIMIT)).toBe('picture-damaged');
    const large = encode({ width: 6000, height: 6000, channels: 1, depth: 8, data: new Uint8Array(36_000_000) });
    const from = performance.now();
    expect(pictureProblem(address(large), LIMIT)).toBe('picture-too-large');
    expect(performance.now() - from).toBeLessThan(2000);
    for (const text of ['', 'data:image/png;base64,', 'data:image/png;base64,AAAA', 'https://x.example/a,iVBOR'])
      expect(pictureProblem(text, LIMIT)).toBe('picture-damaged');
  });
  it('end nothing when they reach the file all the same', async () => {
    const book = await loadShippedFonts();
    const chunks: Buffer[] = [];
    const target = new PassThrough().on('data', (chunk) => chunks.push(chunk));
    const files = [cut(encode(picture(4, 8))), claiming(100_000, 100_000), encode(picture(4, 8))];
    const pictures = async (hash: string): Promise<Uint8Array | null> => files[Number(hash)] ?? null;
    const writer = createPdfWriter(target, book, { title: 'x', pictures, threads });
    const marks = ['0', '1', '2', 'gone'].map(
      (hash): Mark => ({ kind: 'picture', x: 0, y: 0, width: 9, height: 9, picture: hash, alternative: '' }),
    );
    await writer.page({ number: 1, width: 100, height: 100, marks });
    await writer.end([]);
    const file = Buffer.concat(chunks).toString('latin1');
    expect(file.match(/\/Subtype \/Image/g)).toHaveLength(2);
    expect(file).toContain('%%EOF');
  });
});

it('a file whose target goes away ends with an error, and never waits for ever', async () => {
  const book = await loadShippedFonts();
  for (const when of ['before', 'between', 'at the end']) {
    const target = new PassThrough({ highWaterMark: 16 });
    if (when === 'before') target.destroy();
    const writer = createPdfWriter(target, book, { title: 'x', threads });
    const blank = (number: number) => ({ number, width: 100, height: 100, marks: [] });
    const work = async (): Promise<void> => {
      await writer.page(blank(1));
      if (when === 'between') target.destroy();
      await writer.page(blank(2));
      if (when === 'at the end') setTimeout(() => target.destroy(), 20);
      await writer.end([]);
    };
    await expect(work()).rejects.toThrow(TargetGone);
  }
});
