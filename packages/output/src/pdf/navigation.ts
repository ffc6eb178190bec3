import type { LinkMark, Mark, OutlineMark, Page } from '@gaveta/core/internal';
import type { KitDocument, KitOutline, KitReference } from './kit.ts';

/** Tells which object a link became; gives its key in the tree of parents, where there is one. */
export type LinkHeard = (place: number, object: number) => number;

/** Links, places that they lead to, and the outline. */
export class Navigation {
  /** The entry that entries of each deeper level hang under; the outline itself first. */
  private readonly under: { level: number; entry: KitOutline }[];
  private readonly anchors = new Set<string>();

  constructor(private readonly document: KitDocument) {
    this.under = [{ level: 0, entry: document.outline }];
  }

  /** Takes the marks of the page that has just been added. `heard`: told of each link, by the place of its mark. */
  page(page: Page, heard: LinkHeard | null): void {
    const links: KitReference[] = [];
    /** Words that came late bring the links below them once more. */
    const places = new Set<string>();
    for (const [place, mark] of page.marks.entries()) {
      if (mark.kind !== 'link') this.mark(mark, page);
      else {
        const key = JSON.stringify([mark.x, mark.y, mark.width, mark.height, mark.to]);
        if (places.has(key)) continue;
        places.add(key);
        const link = this.link(mark, page, heard && ((object) => heard(place, object)));
        if (link) links.push(link);
      }
    }
    const { data } = this.document.page.dictionary;
    if (links.length === 0) return;
    data.Annots = links;
    // From one to the next in the order in which they are read.
    if (heard) data.Tabs = 'S';
  }

  private mark(mark: Mark, page: Page): void {
    if (mark.kind === 'anchor') {
      // The first of several with one name is the one that links lead to.
      if (this.anchors.has(mark.name)) return;
      this.anchors.add(mark.name);
      this.document.addNamedDestination(mark.name, 'XYZ', mark.x, mark.y, null);
    } else if (mark.kind === 'outline') this.outline(mark, page.height);
  }

  /** Null for a link to a report with values, which a file cannot follow. */
  private link(
    { x, y, width, height, to }: LinkMark,
    { height: pageHeight, marks }: Page,
    heard: ((object: number) => number) | null,
  ): KitReference | null {
    if (!('address' in to || 'anchor' in to)) return null;
    // PDFKit writes plain strings as names, and String objects as strings.
    const action =
      'address' in to
        ? { S: 'URI', URI: Object(encodeURI(decodeSafely(to.address))) }
        : { S: 'GoTo', D: Object(to.anchor) };
    const reference = this.document.ref({
      Type: 'Annot',
      Subtype: 'Link',
      Rect: [x, pageHeight - y - height, x + width, pageHeight - y],
      Border: [0, 0, 0],
      // It is printed as what it is on the screen.
      F: 4,
      A: action,
      ...(heard ? { Contents: Object('address' in to ? to.address : wordsIn(marks, { x, y, width, height })) } : {}),
    });
    if (heard) reference.data.StructParent = heard(reference.id);
    reference.end();
    return reference;
  }

  private outline({ level, title, x, y }: OutlineMark, pageHeight: number): void {
    while (this.under.at(-1)!.level >= level) this.under.pop();
    const entry = this.under.at(-1)!.entry.addItem(title);
    entry.outlineData.Dest = [this.document.page.dictionary, 'XYZ', x, pageHeight - y, null];
    this.under.push({ level, entry });
  }
}

/** The words that a link lies over; its anchor’s are those that it leads to. */
const wordsIn = (marks: readonly Mark[], { x, y, width, height }: Omit<LinkMark, 'kind' | 'to'>): string =>
  marks
    .flatMap((mark) => (mark.kind === 'text' && mark.as !== 'artifact' ? [mark] : []))
    .filter((mark) => mark.x >= x - 1 && mark.x <= x + width && mark.y >= y && mark.y <= y + height + 1)
    .map(({ text }) => text)
    .join(' ')
    .slice(0, 500) || '→';

/** An address whose escapes are not escaped again. */
const decodeSafely = (address: string): string => {
  try {
    return decodeURI(address);
  } catch {
    return address;
  }
};
