import type { Writable } from 'node:stream';
import { promisify } from 'node:util';
import { deflate } from 'node:zlib';
import type { FontBook, LateFill, Mark, Page } from '@gaveta/core/internal';
import type { AttachedFile } from '../output.ts';
import { Target } from '../target.ts';
import type { PageWriter, PictureFiles } from '../writer.ts';
import { attach } from './attached.ts';
import { contentOf, type Ink } from './content.ts';
import { Face } from './face.ts';
import { fontOf, type KitDocument, type KitReference, openDocument, type PdfLock } from './kit.ts';
import { PageLabels } from './labels.ts';
import { metadataOf, PRODUCER } from './metadata.ts';
import { Navigation } from './navigation.ts';
import { PdfObjects } from './objects.ts';
import { type Opening, type PagesLayout, showAs } from './opening.ts';
import { PictureThreads } from './pictures.ts';
import type { PackedPicture } from './png.ts';
import type { LinkObject, MarkTags } from './structure/page-tags.ts';
import { Tagger } from './structure/tagger.ts';
import { StructureTree } from './structure/tree.ts';

const compress = promisify(deflate);

export interface PdfOptions {
  title: string;
  author?: string;
  /** BCP 47 tag. */
  language?: string;
  createdAt?: Date;
  /** What keeps it closed, or something of it from its readers. */
  lock?: PdfLock;
  /** Data that go with it. */
  attached?: AttachedFile;
  opens?: Opening;
  layout?: PagesLayout;
  /** Asked once for each picture; where it is left out, none is drawn. */
  pictures?: PictureFiles;
  /** Says what everything on its pages is to who has it read aloud or takes it out; left out: yes. */
  tagged?: boolean;
  /** Unpacks pictures; whoever made it closes it. Left out: the writer has threads of its own. */
  threads?: PictureThreads;
}

/** A JPEG of the colours of print in those of screens. */
const asScreen = async (bytes: Uint8Array): Promise<Buffer> => {
  const { default: sharp } = await import('sharp');
  return sharp(bytes).toColourspace('srgb').jpeg({ quality: 92, chromaSubsampling: '4:4:4' }).toBuffer();
};

/** First byte of a PNG (its specification, section 5.2). */
const PNG = 0x89;

/** Colours that are kept as numbers. */
const MOST_COLORS = 1000;

/** Pages whose compression may be under way at once; more would only fill memory. */
const AT_ONCE = 8;

/**
 * Writes a PDF (ISO 32000-1). PDFKit makes the file, its fonts and pictures; page contents are written straight from the
 * marks, with one glyph lookup per character: shaping each string measured 20 times slower on 100,000 rows.
 */
export const createPdfWriter = (target: Writable, book: FontBook, options: PdfOptions): PageWriter => {
  const { pictures = async () => null, threads, tagged = true, lock = null } = options;
  const { title, author = PRODUCER, language = 'en', createdAt = new Date() } = options;
  const facts = { title: title.trim() || PRODUCER, author, language, createdAt };
  const info = {
    Title: facts.title,
    Author: author,
    Producer: PRODUCER,
    Creator: PRODUCER,
    CreationDate: createdAt,
    ModDate: createdAt,
  };
  // What is kept must open by itself.
  const isArchive = tagged && !lock;
  const archive = isArchive ? (options.attached ? 3 : 2) : null;
  const document = openDocument({ info, language, lock, isArchive });
  document.endMetadata = () => {
    const packet = document.ref({ Type: 'Metadata', Subtype: 'XML' });
    packet.compress = false;
    packet.write(Buffer.from(metadataOf(facts, { archive, accessible: tagged })));
    packet.end();
    document._root.data.Metadata = packet;
  };
  document.pipe(target);
  return new PdfWriter(
    document,
    new Target(target),
    book,
    pictures,
    threads ?? new PictureThreads(),
    threads === undefined,
    tagged,
    options,
  );
};

class PdfWriter implements PageWriter, Ink {
  /** One dictionary of fonts and pictures for all pages: what is drawn late may need any of them. */
  private readonly resources: KitReference;
  private readonly fonts: Record<string, KitReference> = {};
  private readonly pictures: Record<string, KitReference> = {};
  /** Graphics states by opacity: `o50` for one half. */
  private readonly states: Record<string, KitReference> = {};
  private readonly navigation: Navigation;
  private readonly labels = new PageLabels();
  private readonly objects: PdfObjects;
  private readonly tree: StructureTree | null = null;
  private readonly tagger: Tagger | null = null;
  private readonly faces = new Map<string, Face>();
  private readonly colors = new Map<string, string>();
  private readonly images = new Map<string, string | null>();
  private readonly late = new Map<number, KitReference>();
  private readonly running = new Set<Promise<void>>();
  private failure: Error | null = null;
  private height = 0;
  private first: KitReference | null = null;
  private readonly heights = new Map<number, number>();

  constructor(
    private readonly document: KitDocument,
    private readonly target: Target,
    private readonly book: FontBook,
    private readonly files: PictureFiles,
    private readonly threads: PictureThreads,
    private readonly ownsThreads: boolean,
    isTagged: boolean,
    private readonly settings: Pick<PdfOptions, 'attached' | 'opens' | 'layout'>,
  ) {
    this.objects = new PdfObjects(document, (data, packed) => {
      const reference = document.ref(data);
      this.deliver(reference, packed);
      return reference.id;
    });
    if (isTagged) {
      this.tree = new StructureTree(document, this.objects);
      this.tagger = new Tagger(this.tree);
    }
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
    this.first ??= kit.dictionary;
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
    this.labels.page(page);
    const tags = this.navigate(page, kit);
    this.height = page.height;
    this.finish(kit.content, this.content(page.marks, tags));
    if (this.running.size >= AT_ONCE) await Promise.race(this.running);
    if (document.readableLength > 1 << 20) await this.target.drained();
  }

  /** Links, outline, and what everything on the page is. */
  private navigate(page: Page, { dictionary }: KitDocument['page']): MarkTags | null {
    const { tree, tagger, navigation } = this;
    if (!tree || !tagger) {
      navigation.page(page, null);
      return null;
    }
    const links = new Map<number, LinkObject>();
    const key = tree.key();
    dictionary.data.StructParents = key;
    navigation.page(page, (place, id) => {
      const link = { id, key: tree.key() };
      links.set(place, link);
      return link.key;
    });
    return tagger.page(page, dictionary.id, key, links);
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
      reference.write(this.content(marks, this.tagger?.late(page, marks) ?? null) || ' ');
      reference.end();
    }
    for (const reference of this.late.values()) {
      // Without a stream readers take the page for broken.
      reference.compress = false;
      reference.write(' ');
      reference.end();
    }
    this.tagger?.close();
    this.objects.flush();
    await this.settled();
    this.resources.end();
    const labels = this.labels.tree;
    if (labels) this.document._root.data.PageLabels = labels;
    const { attached, opens = 'reader', layout = 'reader' } = this.settings;
    showAs(this.document, this.first, opens, layout);
    if (attached) await attach(this.document, attached, this.document.info.CreationDate as Date);
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

  /** Waits until everything is compressed. */
  private async settled(): Promise<void> {
    while (this.running.size > 0) await Promise.all(this.running);
    this.check();
  }

  /** Compresses a content stream away from the main thread, and ends its object. */
  private finish(reference: KitReference, content: string): void {
    this.deliver(reference, compress(Buffer.from(content, 'latin1')));
  }

  /** Ends an object once its stream is compressed. */
  private deliver(reference: KitReference, packed: Promise<Buffer>): void {
    const job = packed
      .then((data) => {
        reference.data = { ...reference.data, Length: data.length, Filter: 'FlateDecode' };
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

  private content(marks: readonly Mark[], tags: MarkTags | null): string {
    return contentOf(marks, this.height, this, tags);
  }

  /** Name of a graphics state with an opacity. */
  opacity(value: number): string {
    const name = `o${Math.round(value * 100)}`;
    if (!this.states[name]) {
      const state = this.document.ref({ Type: 'ExtGState', ca: value, CA: value });
      state.end();
      this.states[name] = state;
    }
    return `/${name}`;
  }

  image(hash: string): string | null {
    return this.images.get(hash) ?? null;
  }

  rgb(color: string): string {
    let found = this.colors.get(color);
    if (!found) {
      const part = (at: number): number =>
        Math.round((Number.parseInt(color.slice(at, at + 2), 16) / 255) * 1000) / 1000;
      found = `${part(1)} ${part(3)} ${part(5)}`;
      // Formulas may give as many as they like.
      if (this.colors.size < MOST_COLORS) this.colors.set(color, found);
    }
    return found;
  }

  face(key: string): Face {
    let face = this.faces.get(key);
    if (!face) {
      const font = this.book.byKey(key);
      this.document.font(fontOf(font.file.data), key);
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
      const opened = this.document.openImage(Buffer.from(bytes));
      // Colours of print have no place among those of the file’s profile.
      const image = opened.colorSpace === 'DeviceCMYK' ? this.document.openImage(await asScreen(bytes)) : opened;
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
