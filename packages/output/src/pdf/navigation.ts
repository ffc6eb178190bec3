import type { LinkMark, Mark, OutlineMark, Page } from '@gaveta/core/internal';
import type { KitDocument, KitOutline, KitReference } from './kit.ts';

/** Links, places that they lead to, and the outline. */
export class Navigation {
  /** The entry that entries of each deeper level hang under; the outline itself first. */
  private readonly under: { level: number; entry: KitOutline }[];
  private readonly anchors = new Set<string>();

  constructor(private readonly document: KitDocument) {
    this.under = [{ level: 0, entry: document.outline }];
  }

  /** Takes the marks of the page that has just been added. */
  page(page: Page): void {
    const links: KitReference[] = [];
    for (const mark of page.marks) this.mark(mark, page, links);
    if (links.length > 0) this.document.page.dictionary.data.Annots = links;
  }

  private mark(mark: Mark, page: Page, links: KitReference[]): void {
    if (mark.kind === 'link') {
      const link = this.link(mark, page.height);
      if (link) links.push(link);
    } else if (mark.kind === 'anchor') {
      // The first of several with one name is the one that links lead to.
      if (this.anchors.has(mark.name)) return;
      this.anchors.add(mark.name);
      this.document.addNamedDestination(mark.name, 'XYZ', mark.x, mark.y, null);
    } else if (mark.kind === 'outline') this.outline(mark, page.height);
  }

  /** Null for a link to a report with values, which a file cannot follow. */
  private link({ x, y, width, height, to }: LinkMark, pageHeight: number): KitReference | null {
    if ('report' in to || 'set' in to) return null;
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
      A: action,
    });
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

/** An address whose escapes are not escaped again. */
const decodeSafely = (address: string): string => {
  try {
    return decodeURI(address);
  } catch {
    return address;
  }
};
