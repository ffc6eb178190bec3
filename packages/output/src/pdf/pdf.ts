import type { Writable } from 'node:stream';
import { promisify } from 'node:util';
import { deflate } from 'node:zlib';
import type { FontBook, LateFill, Mark, Page, RectangleMark, TextMark } from '@gaveta/core';
import type { PageWriter, PictureFiles } from '../writer.ts';
import { type KitDocument, type KitFont, type KitReference, openDocument } from './kit.ts';
import { Navigation } from './navigation.ts';
import { PictureThreads } from './pictures.ts';
import type { PackedPicture } from './png.ts';
import { Target } from './target.ts';

const compress = promisify(deflate);

export interface PdfOptions {
  title: string;
  author?: string;
  createdAt?: Date;
  /** Asked once for each picture; where it is left out, none is drawn. */
  pictures?: PictureFiles;
  /** Unpacks pictures; whoever made it closes it. Left out: the writer has threads of its own. */
  threads?: PictureThreads;
}

/** First byte of a PNG (its specification, section 5.2). */
const PNG = 0x89;

/** Pages whose compression may be under way at once; more would only fill memory. */
const AT_ONCE = 8;

/**
 * Writes a PDF (ISO 32000-1). PDFKit makes the file, its fonts and pictures; page contents are written straight from the
 * marks, with one glyph lookup per character: shaping each string measured 20 times slower on 100,000 rows.
 */
export const createPdfWriter = (target: Writable, book: FontBook, options: PdfOptions): PageWriter => {
  const { pictures = async () => null, threads } = options;
  const document = openDocument({
    Title: options.title,
    Author: options.author ?? 'Gaveta',
    Producer: 'Gaveta',
    Creator: 'Gaveta',
    CreationDate: options.createdAt ?? new Date(),
  });
  document.pipe(target);
  return new PdfWriter(
    document,
    new Target(target),
    book,
    pictures,
    threads ?? new PictureThreads(),
    threads === undefined,
  );
};

class PdfWriter implements PageWriter {
  /** One dictionary of fonts and pictures for all pages: what is drawn late may need any of them. */
  private readonly resources: KitReference;
  private readonly fonts: Record<string, KitReference> = {};
  private readonly pictures: Record<string, KitReference> = {};
  /** Graphics states by opacity: `o50` for one half. */
  private readonly states: Record<string, KitReference> = {};
  private readonly navigation: Navigation;
  private readonly faces = new Map<string, Face>();
  private readonly images = new Map<string, string | null>();
  private readonly late = new Map<number, KitReference>();
  private readonly running = new Set<Promise<void>>();
  private failure: Error | null = null;
  private height = 0;
  private readonly heights = new Map<number, number>();

  constructor(
    private readonly document: KitDocument,
    private readonly target: Target,
    private readonly book: FontBook,
    private readonly files: PictureFiles,
    private readonly threads: PictureThreads,
    private readonly ownsThreads: boolean,
  ) {
    this.resources = document.ref({
      ProcSet: ['PDF', 'Text', 'ImageB', 'ImageC', 'ImageI'],
      Font: this.fonts,
      XObject: this.pictures,
      ExtGState: this.states,
    });
    this.navigation = new Navigation(document);
  }

  async page(page: Page): Promise<void> {
    this.check();
    await this.prepare(page.marks);
    const { document } = this;
    document.addPage({ size: [page.width, page.height], margin: 0 });
    const kit = document.page;
    kit.dictionary.data.Resources = this.resources;
    kit.resources.end();
    kit.end = () => {
      kit.dictionary.end();
      // It is written: what it refers to need not stay in memory until the last page.
      kit.dictionary.data = {};
    };
    if (page.late) {
      const reference = document.ref();
      this.late.set(page.number, reference);
      this.heights.set(page.number, page.height);
      kit.dictionary.data.Contents = [kit.content, reference];
    }
    this.navigation.page(page);
    this.height = page.height;
    this.finish(kit.content, this.content(page.marks));
    if (this.running.size >= AT_ONCE) await Promise.race(this.running);
    if (document.readableLength > 1 << 20) await this.target.drained();
  }

  async end(late: Iterable<LateFill>): Promise<void> {
    this.check();
    for (const { page, marks } of late) {
      await this.prepare(marks);
      const reference = this.late.get(page);
      if (!reference) continue;
      this.late.delete(page);
      this.height = this.heights.get(page)!;
      // A line or two: compressing it would cost more than it saves.
      reference.compress = false;
      reference.write(this.content(marks));
      reference.end();
    }
    for (const reference of this.late.values()) {
      // Without a stream readers take the page for broken.
      reference.compress = false;
      reference.write(' ');
      reference.end();
    }
    await Promise.all(this.running);
    this.check();
    this.resources.end();
    this.document.end();
    await this.target.finished();
    await this.close();
  }

  async close(): Promise<void> {
    if (this.ownsThreads) await this.threads.close();
  }

  private check(): void {
    this.target.check();
    if (this.failure) throw this.failure;
  }

  /** Compresses a content stream away from the main thread, and ends its object. */
  private finish(reference: KitReference, content: string): void {
    const job = compress(Buffer.from(content, 'latin1'))
      .then((data) => {
        reference.data = { Length: data.length, Filter: 'FlateDecode' };
        reference.compress = false;
        reference.buffer = [data];
        reference.end();
      })
      .catch((error: Error) => {
        this.failure ??= error;
      })
      .finally(() => this.running.delete(job));
    this.running.add(job);
  }

  private content(marks: readonly Mark[]): string {
    let out = '';
    let inText = false;
    let font = '';
    let color = '';
    const h = this.height;
    // Where the text matrix stands. Steps from there are shorter to write than places, and quicker to compress.
    let atX = 0;
    let atY = 0;
    const text = (open: boolean): void => {
      if (open === inText) return;
      out += open ? 'BT\n' : 'ET\n';
      inText = open;
      atX = 0;
      atY = 0;
    };
    const paint = (wanted: string): void => {
      if (wanted === color) return;
      out += `${rgb(wanted)} rg\n`;
      color = wanted;
    };
    for (const mark of marks) {
      const state = 'opacity' in mark && mark.opacity !== undefined ? this.opacity(mark.opacity) : null;
      if (state) {
        text(false);
        out += `q ${state} gs\n`;
      }
      switch (mark.kind) {
        case 'text': {
          text(true);
          const face = this.face(mark.font);
          const wanted = `/${face.id} ${n(mark.size)} Tf\n`;
          if (wanted !== font) {
            out += wanted;
            font = wanted;
          }
          paint(mark.color);
          if (mark.rtl) {
            out += face.shaped(mark, h);
            // Its glyphs were placed one by one.
            text(false);
          } else if (mark.turn) {
            out += `${turned(mark, h)} Tm <${face.encode(mark.text)}> Tj\n`;
            text(false);
          } else {
            const dx = n(mark.x - atX);
            const dy = n(h - mark.y - atY);
            out += `${dx} ${dy} Td <${face.encode(mark.text)}> Tj\n`;
            atX += dx;
            atY += dy;
          }
          break;
        }
        case 'line': {
          text(false);
          const dash = mark.dash ? `[${mark.dash.map(n).join(' ')}] 0 d ` : '';
          out += `q ${rgb(mark.color)} RG ${n(mark.thickness)} w ${dash}${n(mark.x)} ${n(h - mark.y)} m ${n(mark.x2)} ${n(h - mark.y2)} l S Q\n`;
          break;
        }
        case 'rectangle': {
          text(false);
          const fill = mark.fill ? `${rgb(mark.fill)} rg ` : '';
          const stroke = mark.stroke ? strokeOf(mark, mark.stroke) : '';
          if (!fill && !stroke) break;
          const path = rectanglePath(mark.x, h - mark.y - mark.height, mark.width, mark.height, mark.radius ?? 0);
          out += `q ${fill}${stroke}${path} ${fill && stroke ? 'B' : fill ? 'f' : 'S'} Q\n`;
          break;
        }
        case 'picture': {
          text(false);
          const name = this.images.get(mark.picture) ?? null;
          const { window } = mark;
          const cut = window
            ? `${n(mark.x + window.x)} ${n(h - mark.y - window.y - window.height)} ${n(window.width)} ${n(window.height)} re W n `
            : '';
          if (name)
            out += `q ${cut}${n(mark.width)} 0 0 ${n(mark.height)} ${n(mark.x)} ${n(h - mark.y - mark.height)} cm /${name} Do Q\n`;
          break;
        }
        case 'shape': {
          text(false);
          const scale = mark.scale.toFixed(5);
          const path = mark.polygons.map(
            (p) => `${p.reduce((d, v, i) => `${d}${n(v)} ${i % 2 === 0 ? '' : i === 1 ? 'm ' : 'l '}`, '')}h`,
          );
          out += `q ${rgb(mark.color)} rg ${scale} 0 0 -${scale} ${n(mark.x)} ${n(h - mark.y)} cm\n${path.join('\n')}\nf* Q\n`;
          break;
        }
        case 'region':
        case 'link':
        case 'anchor':
        case 'outline':
          break;
        default:
          mark satisfies never;
      }
      if (state) {
        text(false);
        out += 'Q\n';
        // What was set inside no longer holds.
        font = '';
        color = '';
      }
    }
    text(false);
    return out;
  }

  /** Name of a graphics state with an opacity. */
  private opacity(value: number): string {
    const name = `o${Math.round(value * 100)}`;
    if (!this.states[name]) {
      const state = this.document.ref({ Type: 'ExtGState', ca: value, CA: value });
      state.end();
      this.states[name] = state;
    }
    return `/${name}`;
  }

  private face(key: string): Face {
    let face = this.faces.get(key);
    if (!face) {
      const font = this.book.byKey(key);
      this.document.registerFont(key, font.file.data);
      this.document.font(key);
      const kit = this.document._font;
      face = new Face(kit, (text) => font.shape(text));
      this.fonts[kit.id] = kit.ref();
      this.faces.set(key, face);
    }
    return face;
  }

  /** Puts the pictures of marks into the file that are not there yet. */
  private async prepare(marks: readonly Mark[]): Promise<void> {
    for (const mark of marks) {
      if (mark.kind === 'picture' && !this.images.has(mark.picture))
        this.images.set(mark.picture, await this.embed(mark.picture));
    }
  }

  /** Name of the picture among the resources; null when the file cannot be used. */
  private async embed(hash: string): Promise<string | null> {
    const bytes = await this.files(hash);
    if (!bytes) return null;
    if (bytes[0] === PNG) {
      const packed = await this.threads.pack(bytes);
      return packed && this.embedPacked(packed);
    }
    try {
      // Of a JPEG only the header is read; its data go into the file as they are.
      const image = this.document.openImage(Buffer.from(bytes));
      if (!image.obj) image.embed(this.document);
      this.pictures[image.label] = image.obj!;
      return image.label;
    } catch {
      return null;
    }
  }

  private embedPacked({ width, height, samples, colors, alpha }: PackedPicture): string {
    const stream = (data: Uint8Array, more: Record<string, unknown>): KitReference => {
      const reference = this.document.ref({
        Type: 'XObject',
        Subtype: 'Image',
        Width: width,
        Height: height,
        BitsPerComponent: 8,
        Filter: 'FlateDecode',
        Length: data.length,
        ...more,
      });
      reference.compress = false;
      reference.buffer = [data];
      reference.end();
      return reference;
    };
    const mask = alpha && stream(alpha, { ColorSpace: 'DeviceGray' });
    const name = `P${Object.keys(this.pictures).length + 1}`;
    this.pictures[name] = stream(colors, {
      ColorSpace: samples === 1 ? 'DeviceGray' : 'DeviceRGB',
      ...(mask ? { SMask: mask } : {}),
    });
    return name;
  }
}

/** A font in the file: turns text into codes of its subset. */
class Face {
  readonly id: string;
  /** Code in the subset by code point; sparse. */
  private readonly codes: string[] = [];

  constructor(
    private readonly kit: KitFont,
    private readonly shape: (
      text: string,
    ) => { id: number; advance: number; dx: number; dy: number; codePoints: number[] }[],
  ) {
    this.id = kit.id;
  }

  encode(text: string): string {
    let hex = '';
    for (let i = 0; i < text.length; i++) {
      let code = text.charCodeAt(i);
      if (code >= 0xd800 && code < 0xdc00 && i + 1 < text.length) code = text.codePointAt(i++)!;
      hex += this.codes[code] ?? this.add(code);
    }
    return hex;
  }

  private add(code: number): string {
    const glyph = this.kit.font.glyphForCodePoint(code);
    const hex = this.include(glyph.id, [code], glyph.advanceWidth * this.kit.scale);
    this.codes[code] = hex;
    return hex;
  }

  private include(glyph: number, codePoints: number[], width: number): string {
    const id = this.kit.subset.includeGlyph(glyph);
    this.kit.widths[id] ??= width;
    this.kit.unicode[id] ??= codePoints;
    return id.toString(16).padStart(4, '0');
  }

  /** A right-to-left run: its glyphs one by one, with the text itself beside them for search and copying. */
  shaped(mark: TextMark, pageHeight: number): string {
    const scale = mark.size / 1000;
    let x = mark.x;
    let out = `/Span <</ActualText <${utf16Hex(mark.text)}>>> BDC\n`;
    for (const glyph of this.shape(mark.text)) {
      const hex = this.include(glyph.id, glyph.codePoints, glyph.advance);
      out += `1 0 0 1 ${n(x + glyph.dx * scale)} ${n(pageHeight - mark.y + glyph.dy * scale)} Tm <${hex}> Tj\n`;
      x += glyph.advance * scale;
    }
    return `${out}EMC\n`;
  }
}

const utf16Hex = (text: string): string => {
  let hex = 'feff';
  for (let i = 0; i < text.length; i++) hex += text.charCodeAt(i).toString(16).padStart(4, '0');
  return hex;
};

const n = (value: number): number => Math.round(value * 100) / 100;

/** A text matrix around the left end of the baseline, clockwise. */
const turned = (mark: TextMark, pageHeight: number): string => {
  const angle = ((mark.turn ?? 0) * Math.PI) / 180;
  const [sin, cos] = [Math.sin(angle), Math.cos(angle)].map((v) => Math.round(v * 1e5) / 1e5) as [number, number];
  return `${cos} ${-sin} ${sin} ${cos} ${n(mark.x)} ${n(pageHeight - mark.y)}`;
};

const strokeOf = ({ thickness = 1, dash }: RectangleMark, color: string): string =>
  `${rgb(color)} RG ${n(thickness)} w ${dash ? `[${dash.map(n).join(' ')}] 0 d ` : ''}`;

const colors = new Map<string, string>();
/** `#1f2a2e` as three numbers from 0 to 1. */
const rgb = (color: string): string => {
  let found = colors.get(color);
  if (!found) {
    const part = (at: number): number => Math.round((Number.parseInt(color.slice(at, at + 2), 16) / 255) * 1000) / 1000;
    found = `${part(1)} ${part(3)} ${part(5)}`;
    colors.set(color, found);
  }
  return found;
};

/** Distance of a curve's handles that makes a quarter circle of radius 1. */
const HANDLE = 0.5523;

const rectanglePath = (x: number, y: number, w: number, h: number, radius: number): string => {
  const r = Math.min(radius, w / 2, h / 2);
  if (r <= 0) return `${n(x)} ${n(y)} ${n(w)} ${n(h)} re`;
  const k = r * (1 - HANDLE);
  const [right, top] = [x + w, y + h];
  return [
    `${n(x + r)} ${n(y)} m ${n(right - r)} ${n(y)} l`,
    `${n(right - k)} ${n(y)} ${n(right)} ${n(y + k)} ${n(right)} ${n(y + r)} c ${n(right)} ${n(top - r)} l`,
    `${n(right)} ${n(top - k)} ${n(right - k)} ${n(top)} ${n(right - r)} ${n(top)} c ${n(x + r)} ${n(top)} l`,
    `${n(x + k)} ${n(top)} ${n(x)} ${n(top - k)} ${n(x)} ${n(top - r)} c ${n(x)} ${n(y + r)} l`,
    `${n(x)} ${n(y + k)} ${n(x + k)} ${n(y)} ${n(x + r)} ${n(y)} c h`,
  ].join(' ');
};
