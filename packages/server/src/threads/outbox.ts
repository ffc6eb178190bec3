import type { Page, PagePicture, PlaceInRun } from '@gaveta/core/internal';
import { pictureFile } from '@gaveta/output/writer';
import { navigationOf } from '../pages/navigation.ts';
import { writeWords } from '../pages/page-words.ts';
import { type PlaceAsked, PlaceFinder } from '../pages/place-finder.ts';
import { type PageHeader, writePage } from '../pages/spool.ts';
import type { Calls } from './calls.ts';
import type { RunCalls, WrittenPicture } from './job.ts';

/** Bytes of pages that leave together. */
const FULL = 256 * 1024;

/** Milliseconds that a page waits for others at most. */
const PATIENCE = 100;

/** Pages past the one where a reader reads on that leave with it. */
const AHEAD = 2;

/** Hands pages over, several at once; the first one by itself, since somebody waits for it. */
export class Outbox {
  private data: Uint8Array[] = [];
  private words: Uint8Array[] = [];
  private pages: PageHeader[] = [];
  private pictures: WrittenPicture[] = [];
  private navigation: ReturnType<typeof navigationOf> = { headings: [], anchors: [] };
  private bytes = 0;
  private last = performance.now();
  private sent: Promise<void> = Promise.resolve();

  private hasBegun = false;
  /** The pages from where its reader reads on have left, or leave now. */
  private isPlaced = false;
  private readonly finder: PlaceFinder | null;

  constructor(
    private readonly host: Calls<RunCalls>,
    at: PlaceAsked | null,
  ) {
    this.finder = at && new PlaceFinder(at);
  }

  /** A picture goes with the next page. */
  show(picture: PagePicture): void {
    const data = pictureFile(picture);
    this.pictures.push({ hash: picture.hash, data });
    this.bytes += data.length;
  }

  async add(page: Page): Promise<void> {
    const written = writePage(page);
    this.data.push(written);
    const { width, height, late = false } = page;
    const words = writeWords(page);
    this.words.push(words);
    this.pages.push({ length: written.length, words: words.length, width, height, late });
    const { headings, anchors } = navigationOf(page);
    this.navigation.headings.push(...headings);
    this.navigation.anchors.push(...anchors);
    this.bytes += written.length;
    if (!this.hasBegun) {
      this.hasBegun = true;
      if (page.number > 1) await this.host.reuse(page.number - 1);
      this.finder?.same(page.number - 1);
    }
    this.finder?.see(page);
    if (this.isAwaited(page) || this.bytes >= FULL || performance.now() - this.last > PATIENCE) await this.send();
  }

  /** Whether somebody waits for this page: the first one, or the last of those that fill a screen from where they read on. */
  private isAwaited({ number }: Page): boolean {
    if (!this.finder) return number === 1;
    const { place, isFound } = this.finder;
    if (this.isPlaced || !isFound || !place || number < place.page + AHEAD) return false;
    this.isPlaced = true;
    return true;
  }

  /** One parcel is on its way while the next is being filled. */
  private async send(): Promise<void> {
    await this.sent;
    const { pages, pictures, navigation } = this;
    const place = this.isPlaced ? this.place : null;
    const parcel = {
      data: Buffer.concat(this.data),
      words: Buffer.concat(this.words),
      pages,
      pictures,
      navigation,
      place,
    };
    this.data = [];
    this.words = [];
    this.pages = [];
    this.pictures = [];
    this.navigation = { headings: [], anchors: [] };
    this.bytes = 0;
    this.last = performance.now();
    this.sent = this.host.pages(parcel);
    // Heard when the next one is sent, or at the end.
    this.sent.catch(() => {});
  }

  async flush(): Promise<void> {
    if (this.pages.length > 0 || this.pictures.length > 0) await this.send();
    await this.sent;
  }

  /** What comes closest to what a reader looked at. */
  get place(): PlaceInRun | null {
    return this.finder?.place ?? null;
  }
}
