import type { Font as FontkitFont } from 'fontkit';
import PDFDocument from 'pdfkit';

/** The parts of PDFKit's inner objects that writing content streams directly needs; its published types leave them out. */
export interface KitReference {
  data: Record<string, unknown>;
  compress: boolean;
  buffer: Uint8Array[];
  write(chunk: string): void;
  end(): void;
}

export interface KitFont {
  id: string;
  font: FontkitFont;
  subset: { includeGlyph(id: number): number };
  unicode: (number[] | undefined)[];
  widths: (number | undefined)[];
  scale: number;
  ref(): KitReference;
}

interface KitImage {
  label: string;
  obj: KitReference | null;
  embed(document: KitDocument): void;
}

interface KitPage {
  dictionary: KitReference;
  content: KitReference;
  resources: KitReference;
  end(): void;
}

export interface KitOutline {
  outlineData: Record<string, unknown>;
  addItem(title: string, options?: { expanded?: boolean }): KitOutline;
}

export interface KitDocument extends NodeJS.ReadableStream {
  page: KitPage;
  readableLength: number;
  _font: KitFont;
  ref(data?: Record<string, unknown>): KitReference;
  addPage(options: { size: [number, number]; margin: number }): void;
  registerFont(name: string, data: Uint8Array): void;
  font(name: string): void;
  openImage(data: Buffer): KitImage;
  outline: KitOutline;
  addNamedDestination(name: string, kind: 'XYZ', x: number, y: number, zoom: null): void;
  end(): void;
}

export const openDocument = (info: Record<string, string | Date>): KitDocument =>
  new PDFDocument({ autoFirstPage: false, compress: true, info, pdfVersion: '1.7' }) as unknown as KitDocument;
