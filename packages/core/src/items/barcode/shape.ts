import type { DrawingContext, RenderOptions } from 'bwip-js/generic';
import { lateLibrary } from '../../base/late-library.ts';
import { type BarcodeCode, FLAT_CODES, type ItemOf } from '../../definition/schema.ts';
import { outlinesOf } from './outline.ts';

/** A barcode's dark parts and its text, in modules (the width of its narrowest bar) from its top left corner. */
export interface BarcodeShape {
  /** With its quiet zone. */
  width: number;
  height: number;
  /** Corners of each dark part, as x, y, x, y …; where two lie over each other, they cancel out. */
  polygons: number[][];
  /** Text below the bars. `x`: its left end; `y`: its baseline. `room`: the width that it was placed for. */
  texts: { text: string; x: number; y: number; size: number }[];
  /** Bars that can be made higher; null for a code of two dimensions. `lowest`: where they end. */
  bars: { lowest: number } | null;
}

export type BarcodeSettings = Pick<ItemOf<'barcode'>, 'code' | 'text' | 'quiet' | 'correction'>;

type Encoder = <T>(options: RenderOptions, drawing: DrawingContext<T>) => T;

/** QR codes are asked for by the hundreds and have an encoder of their own: under 1 ms each, where the other one took 12. */
interface Encoders {
  qr: typeof import('qr').encodeQR;
  others: Record<Exclude<BarcodeCode, 'qr'>, Encoder>;
}

const encoders = lateLibrary('the encoders of barcodes', async (): Promise<Encoders> => {
  const [{ encodeQR }, { azteccode, code39, code128, datamatrix, ean8, ean13, gs1_128, itf14, pdf417, upca }] =
    await Promise.all([import('qr'), import('bwip-js/generic')]);
  return {
    qr: encodeQR,
    others: {
      'code-128': code128,
      'code-39': code39,
      'ean-13': ean13,
      'ean-8': ean8,
      'upc-a': upca,
      'itf-14': itf14,
      'gs1-128': gs1_128,
      'data-matrix': datamatrix,
      'pdf-417': pdf417,
      aztec: azteccode,
    },
  };
});

/** Must have come to an end before barcodes are laid out. */
export const loadEncoders = encoders.load;

/** The quiet zones that the codes' standards ask for: left and right, above and below, in modules. */
const CODES: Record<BarcodeCode, { quiet: [number, number]; options?: object }> = {
  'code-128': { quiet: [10, 0] },
  'code-39': { quiet: [10, 0] },
  'ean-13': { quiet: [11, 0] },
  'ean-8': { quiet: [7, 0] },
  'upc-a': { quiet: [9, 0] },
  'itf-14': { quiet: [10, 0], options: { showborder: false } },
  'gs1-128': { quiet: [10, 0] },
  qr: { quiet: [4, 4] },
  'data-matrix': { quiet: [1, 1] },
  'pdf-417': { quiet: [2, 2] },
  aztec: { quiet: [0, 0] },
};

const CORRECTION = { low: 'low', medium: 'medium', quarter: 'quartile', high: 'high' } as const;

/** White that the encoder of QR codes always leaves around them, in modules. */
const QR_BORDER = 1;

/** Widths of text, in shares of its size. */
export type TextWidth = (text: string) => number;

class Collector implements DrawingContext<BarcodeShape> {
  private readonly shape: BarcodeShape = { width: 0, height: 0, polygons: [], texts: [], bars: null };
  constructor(
    private readonly flat: boolean,
    private readonly textWidth: TextWidth,
  ) {}
  scale(): [number, number] {
    return [1, 1];
  }
  measure(text: string, _font: string, _width: number, size: number) {
    return { width: this.textWidth(text) * size, ascent: size * 0.75, descent: 0 };
  }
  init(width: number, height: number): void {
    this.shape.width = width;
    this.shape.height = height;
  }
  line(x: number, y: number, x2: number, y2: number, thickness: number): void {
    // Bars are drawn as upright lines; their middle is told half a module to the right where their width is odd.
    const left = x - Math.ceil(thickness / 2);
    const [top, bottom] = y < y2 ? [y, y2] : [y2, y];
    if (x !== x2) return;
    this.shape.polygons.push([left, top, left + thickness, top, left + thickness, bottom, left, bottom]);
  }
  polygon(points: [number, number][]): void {
    this.shape.polygons.push(points.flat());
  }
  hexagon(): void {}
  ellipse(): void {}
  fill(): void {}
  text(x: number, y: number, text: string, _color: string, font: { height: number }): void {
    this.shape.texts.push({ text, x, y, size: font.height });
  }
  end(): BarcodeShape {
    const { shape } = this;
    if (this.flat) {
      const ends = shape.polygons.map((p) => p[5]!);
      shape.bars = { lowest: Math.min(...ends) };
    }
    return shape;
  }
}

/** Shapes that were made, by what they show; making one takes milliseconds. */
const made = new Map<string, BarcodeShape | null>();
const MOST_MADE = 2000;

/**
 * The shape of a barcode; null when the content is not what the code can hold.
 * `font`: key of the font that `textWidth` measures, to tell shapes apart.
 */
export const barcodeShape = (
  content: string,
  settings: BarcodeSettings,
  font: string,
  textWidth: TextWidth,
): BarcodeShape | null => {
  const key = JSON.stringify([settings.code, settings.text, settings.quiet, settings.correction, font, content]);
  const known = made.get(key);
  if (known !== undefined) return known;
  if (made.size >= MOST_MADE) made.clear();
  const shape = make(content, settings, textWidth);
  made.set(key, shape);
  return shape;
};

const make = (content: string, settings: BarcodeSettings, textWidth: TextWidth): BarcodeShape | null => {
  const { code, quiet, correction } = settings;
  const [across, down] = quiet === false ? [0, 0] : CODES[code].quiet;
  try {
    const shape = code === 'qr' ? qrShape(content, correction) : otherShape(content, code, settings, textWidth);
    return withQuiet(shape, across, down);
  } catch {
    return null;
  }
};

/** Throws when there is too much of the content. */
const qrShape = (content: string, correction: BarcodeSettings['correction']): BarcodeShape => {
  const bordered = encoders.get().qr(content, 'raw', { ecc: CORRECTION[correction ?? 'medium'], border: QR_BORDER });
  const modules = bordered.slice(QR_BORDER, -QR_BORDER).map((row) => row.slice(QR_BORDER, -QR_BORDER));
  const { length } = modules;
  return { width: length, height: length, polygons: outlinesOf(modules), texts: [], bars: null };
};

/** Throws when the content is not what the code can hold. */
const otherShape = (
  content: string,
  code: Exclude<BarcodeCode, 'qr'>,
  { text }: BarcodeSettings,
  textWidth: TextWidth,
): BarcodeShape => {
  const flat = FLAT_CODES.has(code);
  const asked = {
    bcid: code,
    text: content,
    scale: 1,
    includetext: flat && text !== false,
    ...CODES[code].options,
  };
  return encoders.get().others[code](asked, new Collector(flat, textWidth));
};

/** With its quiet zone, in modules. Text may stand beside the bars, as the first digit of an EAN does: it lies in that zone. */
const withQuiet = (shape: BarcodeShape, across: number, down: number): BarcodeShape => {
  let [least, most] = [shape.width, 0];
  for (const polygon of shape.polygons)
    for (let i = 0; i < polygon.length; i += 2) {
      least = Math.min(least, polygon[i]!);
      most = Math.max(most, polygon[i]!);
    }
  const before = Math.max(0, across - least);
  const after = Math.max(0, across - (shape.width - most));
  return {
    width: before + shape.width + after,
    height: shape.height + down * 2,
    polygons: shape.polygons.map((p) => p.map((v, i) => (i % 2 === 0 ? v + before : v + down))),
    texts: shape.texts.map((t) => ({ ...t, x: t.x + before, y: t.y + down })),
    bars: shape.bars,
  };
};
