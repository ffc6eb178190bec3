import {
  BarcodeFormat,
  BinaryBitmap,
  DecodeHintType,
  HybridBinarizer,
  MultiFormatReader,
  RGBLuminanceSource,
} from '@zxing/library';
import { beforeAll, describe, expect, it } from 'vitest';
import { type BarcodeCode, itemSchema } from '../../definition/schema.ts';
import type { Box } from '../../layout/prepared.ts';
import { testBook as book } from '../../layout/shipped.test-support.ts';
import type { ShapeMark, TextMark } from '../../page/page.ts';
import { pageToSvg } from '../../page/svg.ts';
import { layBarcode } from './marks.ts';
import { loadEncoders } from './shape.ts';

beforeAll(loadEncoders);

const lay = (code: BarcodeCode, content: string, box: Box, settings: object = {}) => {
  const item = itemSchema.parse({
    kind: 'barcode',
    id: 'b',
    x: 0,
    y: 0,
    width: 1,
    height: 1,
    formula: '1',
    code,
    ...settings,
  });
  if (item.kind !== 'barcode') throw new Error('not a barcode');
  return layBarcode(content, item, box, book);
};

const shapeOf = (marks: readonly object[]): ShapeMark => {
  const found = marks.find((m) => (m as ShapeMark).kind === 'shape');
  if (!found) throw new Error('no shape was laid');
  return found as ShapeMark;
};

/** Whether a point is dark: inside an odd number of polygons. */
const isDark = ({ polygons }: ShapeMark, x: number, y: number): boolean => {
  let inside = false;
  for (const p of polygons) {
    for (let i = 0, j = p.length - 2; i < p.length; j = i, i += 2) {
      const [ax, ay, bx, by] = [p[i]!, p[i + 1]!, p[j]!, p[j + 1]!];
      if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside;
    }
  }
  return inside;
};

/** Reads a shape as a camera would: painted at four pixels a module, with white around it. */
const read = (mark: ShapeMark, format: BarcodeFormat): string => {
  const PIXELS = 4;
  const EDGE = 40;
  const width = Math.ceil((mark.width / mark.scale) * PIXELS) + EDGE * 2;
  const height = Math.ceil((mark.height / mark.scale) * PIXELS) + EDGE * 2;
  const grey = new Uint8ClampedArray(width * height).fill(255);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      if (isDark(mark, (x - EDGE + 0.5) / PIXELS, (y - EDGE + 0.5) / PIXELS)) grey[y * width + x] = 0;
  const reader = new MultiFormatReader();
  reader.setHints(
    new Map<DecodeHintType, unknown>([
      [DecodeHintType.POSSIBLE_FORMATS, [format]],
      [DecodeHintType.TRY_HARDER, true],
    ]),
  );
  return reader.decode(new BinaryBitmap(new HybridBinarizer(new RGBLuminanceSource(grey, width, height)))).getText();
};

describe('barcodes', () => {
  it.each([
    ['code-128', BarcodeFormat.CODE_128, 'STAY-004711', 'STAY-004711'],
    ['code-39', BarcodeFormat.CODE_39, 'HUT 7', 'HUT 7'],
    ['ean-13', BarcodeFormat.EAN_13, '590123412345', '5901234123457'],
    ['ean-8', BarcodeFormat.EAN_8, '9638507', '96385074'],
    ['upc-a', BarcodeFormat.UPC_A, '01234567890', '012345678905'],
    ['itf-14', BarcodeFormat.ITF, '1001234567890', '10012345678902'],
    ['gs1-128', BarcodeFormat.CODE_128, '(01)09501101020917', '0109501101020917'],
  ] as const)('writes %s that a reader reads', (code, format, content, expected) => {
    const { marks, isWhole } = lay(code, content, { x: 10, y: 20, width: 150, height: 40 });
    expect(isWhole).toBe(true);
    const mark = shapeOf(marks);
    expect(read(mark, format).replaceAll('\u001d', '')).toBe(expected);
    expect(mark).toMatchObject({ x: 10, y: 20, alternative: content });
    // The bars and their text fill the box.
    expect(mark.width).toBeCloseTo(150, 6);
    expect(mark.height).toBeCloseTo(40, 6);
  });

  it.each([
    ['qr', BarcodeFormat.QR_CODE, 'Refúgio da Última Neve, bunk 12'],
    ['data-matrix', BarcodeFormat.DATA_MATRIX, 'bunk 12'],
    ['pdf-417', BarcodeFormat.PDF_417, 'hut 7, bunk 12'],
    ['aztec', BarcodeFormat.AZTEC, 'bunk 12'],
  ] as const)('writes %s that a reader reads, in the middle of its box', (code, format, content) => {
    const { marks, isWhole } = lay(code, content, { x: 0, y: 0, width: 100, height: 60 });
    expect(isWhole).toBe(true);
    expect(marks).toHaveLength(1);
    const mark = shapeOf(marks);
    expect(read(mark, format)).toBe(content);
    expect(mark.x + mark.width / 2).toBeCloseTo(50, 6);
    expect(mark.y + mark.height / 2).toBeCloseTo(30, 6);
    expect(mark.width).toBeLessThanOrEqual(100.0001);
    expect(mark.height).toBeLessThanOrEqual(60.0001);
  });

  it.each([
    ['low', '0123456789'.repeat(20)],
    ['medium', 'HUT 7, BUNK 12'],
    ['quarter', 'https://cumeeira.example/bunks/12?hut=7'],
    ['high', 'Łucja, 山小屋, Ç'.repeat(6)],
  ])('writes QR codes of %s correction that a reader reads', (correction, content) => {
    const box = { x: 0, y: 0, width: 100, height: 100 };
    expect(read(shapeOf(lay('qr', content, box, { correction }).marks), BarcodeFormat.QR_CODE)).toBe(content);
    expect(lay('qr', 'x'.repeat(3000), box, { correction }).isWhole).toBe(false);
  });

  it('keeps the white that its standard asks for inside the box', () => {
    const left = (settings: object): number => {
      const mark = shapeOf(lay('code-128', 'A1', { x: 0, y: 0, width: 100, height: 30 }, settings).marks);
      return Math.min(...mark.polygons.map((p) => p[0]!));
    };
    expect(left({})).toBe(10);
    expect(left({ quiet: false })).toBe(0);
  });

  it('shows what it says below the bars, unless it is told not to', () => {
    const box = { x: 0, y: 0, width: 120, height: 40 };
    const text = lay('code-128', 'A-17', box).marks.filter((m): m is TextMark => m.kind === 'text');
    expect(text.map((m) => m.text).join('')).toBe('A-17');
    const bars = shapeOf(lay('code-128', 'A-17', box).marks);
    const lowest = Math.max(...bars.polygons.flatMap((p) => p.filter((_, i) => i % 2 === 1))) * bars.scale;
    expect(text[0]!.y).toBeGreaterThan(lowest);
    expect(text[0]!.y).toBeLessThanOrEqual(40.0001);
    expect(lay('code-128', 'A-17', box, { text: false }).marks).toHaveLength(1);
  });

  it('says what is wrong with content that it cannot hold, and shows that content', () => {
    const { marks, isWhole } = lay('ean-13', '12x', { x: 5, y: 5, width: 100, height: 30 });
    expect(isWhole).toBe(false);
    expect(marks).toMatchObject([{ kind: 'text', text: '12x' }]);
  });

  it('is one path on an SVG page, with its content in words', () => {
    const { marks } = lay('qr', 'a<b', { x: 10, y: 10, width: 60, height: 60 });
    const svg = pageToSvg({ number: 1, width: 100, height: 100, marks }, () => '');
    expect(svg.match(/<path /g)).toHaveLength(1);
    expect(svg).toContain('<title>a&lt;b</title>');
  });
});
