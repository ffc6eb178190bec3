import { create, type Font as FontkitFont } from 'fontkit';
import PDFDocument from 'pdfkit';

/** The parts of PDFKit's inner objects that writing content streams directly needs; its published types leave them out. */
export interface KitReference {
  id: number;
  data: Record<string, unknown>;
  compress: boolean;
  buffer: Uint8Array[];
  write(chunk: string | Uint8Array): void;
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

/** Where objects stand in the file: by number, from 0 for object 1. */
interface KitOffsets {
  length: number;
  push(offset: null): void;
  [number: number]: number | null | undefined;
}

interface KitImage {
  label: string;
  colorSpace?: string;
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
  font(source: FontkitFont, name: string): void;
  openImage(data: Buffer): KitImage;
  outline: KitOutline;
  addNamedDestination(name: string, kind: 'XYZ', x: number, y: number, zoom: null): void;
  end(): void;
  _root: KitReference & { data: Record<string, unknown> };
  _info: KitReference;
  _id: Uint8Array;
  _security: { dictionary: KitReference } | null;
  _offset: number;
  _offsets: KitOffsets;
  _write(data: string | Uint8Array): void;
  push(chunk: null): void;
  info: Record<string, unknown>;
  addNamedEmbeddedFile(name: string, reference: KitReference): void;
  endMetadata(): void;
  /** Writes what stands after the last object. */
  _finalize(): void;
}

/** What keeps a file closed, and what its readers may do with it (ISO 32000-1, 7.6). */
export interface PdfLock {
  /** Empty: everybody may open it. */
  password: string;
  ownerPassword: string;
  printing: boolean;
  copying: boolean;
  changing: boolean;
}

export interface KitOptions {
  info: Record<string, string | Date>;
  /** BCP 47 tag. */
  language: string;
  lock: PdfLock | null;
  /** Holds the profile of its colours, as files for keeping do. */
  isArchive: boolean;
}

/** A document of PDFKit; with a lock it is encrypted by AES with 128 bits. */
export const openDocument = ({ info, language: lang, lock, isArchive }: KitOptions): KitDocument =>
  new PDFDocument({
    autoFirstPage: false,
    // It would read one that nothing is written in.
    font: null as unknown as string,
    compress: true,
    info,
    lang,
    displayTitle: true,
    pdfVersion: '1.7',
    ...(isArchive ? { subset: 'PDF/A-2a' } : {}),
    ...(lock
      ? {
          userPassword: lock.password,
          ownerPassword: lock.ownerPassword,
          permissions: {
            ...(lock.printing ? { printing: 'highResolution' as const } : {}),
            copying: lock.copying,
            contentAccessibility: true,
            modifying: lock.changing,
            annotating: lock.changing,
            fillingForms: lock.changing,
            documentAssembly: lock.changing,
          },
        }
      : {}),
  }) as unknown as KitDocument;

const opened = new WeakMap<Uint8Array, FontkitFont>();

/** A font as PDFKit takes it, read once for all documents: reading it takes longer than a page does. */
export const fontOf = (data: Uint8Array): FontkitFont => {
  let font = opened.get(data);
  if (!font) {
    font = create(data as Buffer) as FontkitFont;
    opened.set(data, font);
  }
  return font;
};
