import type { Writable } from 'node:stream';
import type { ContentBlock, ContentSection } from '@gaveta/core/internal';
import { Archive } from '../archive.ts';
import { nodesOfBlock, throughNodes } from '../document/builder.ts';
import type { DocumentNode } from '../document/nodes.ts';
import { PagedText, type PagedWriter } from '../document/paged-text.ts';
import { Bookmarks } from '../document/text.ts';
import { Media } from '../office/media.ts';
import { HEAD, Relations } from '../office/relations.ts';
import type { ContentRun } from '../output.ts';
import { PartText } from '../part-text.ts';
import { escapeAttribute, escapeXml } from '../xml/escape.ts';
import { Body, contentsXml, type Shared, spacer } from './body.ts';
import { addFonts } from './fonts.ts';
import { twips } from './looks.ts';
import type { DocxOptions } from './options.ts';
import { Styles, WORD } from './styles.ts';

const NAMES = `xmlns:w="${WORD}" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships" xmlns:wp="http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing"`;
const TYPE = 'application/vnd.openxmlformats-officedocument.wordprocessingml';
const OFFICE = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';

/** A section of pages on its way into the document. */
interface OpenSection {
  section: ContentSection;
  /** The parts of the tops and bottoms of its pages. */
  references: string;
  type: 'nextPage' | 'oddPage' | 'evenPage';
  /** Its pages are numbered from 1. */
  restarts: boolean;
}

class Document implements PagedWriter {
  readonly relations = new Relations();
  private readonly body: Body;
  private open: OpenSection | null = null;
  private bands = 0;
  private hasEven = false;

  constructor(
    private readonly run: ContentRun<DocxOptions>,
    private readonly archive: Archive,
    private readonly text: PartText,
    private readonly shared: Shared,
  ) {
    this.body = new Body(this.relations, shared);
  }

  async section(section: ContentSection): Promise<void> {
    await this.endSection();
    this.open = { section, references: await this.references(section), type: 'nextPage', restarts: false };
  }

  async breakPage(parity: 'odd' | 'even' | null): Promise<void> {
    if (parity) await this.turn({ type: parity === 'odd' ? 'oddPage' : 'evenPage' });
    else this.body.breakPage();
  }

  async restart(): Promise<void> {
    if (this.body.beginSection()) await this.turn({ restarts: true });
    else if (this.open) this.open.restarts = true;
  }

  written(node: DocumentNode): string {
    return this.body.node(node);
  }

  /** The section goes on as another one. */
  private async turn(change: Partial<OpenSection>): Promise<void> {
    const { open } = this;
    if (!open) return;
    await this.endSection();
    this.open = { ...open, type: 'nextPage', restarts: false, ...change };
  }

  private async endSection(): Promise<void> {
    if (!this.open) return;
    await this.text.write(spacer(0, '', sectionXml(this.open)));
    this.body.beginSection();
  }

  /** Puts the tops and bottoms of a section’s pages into the archive. */
  private async references(section: ContentSection): Promise<string> {
    const { first, even } = section;
    if (even) this.hasEven = true;
    const all: [type: string, bands: Pick<ContentSection, 'header' | 'footer'> | undefined][] = [
      ['default', section],
      ['first', first],
      ['even', even],
    ];
    let references = '';
    for (const [type, bands] of all) {
      if (!bands) continue;
      for (const band of ['header', 'footer'] as const)
        references += `<w:${band}Reference w:type="${type}" r:id="${await this.band(band, bands[band], section)}"/>`;
    }
    return references;
  }

  private async band(kind: 'header' | 'footer', block: ContentBlock | null, section: ContentSection): Promise<string> {
    const { archive, shared } = this;
    const name = `${kind}${++this.bands}.xml`;
    const relations = new Relations();
    const nodes = block ? nodesOfBlock(block, section.width - section.margins.left - section.margins.right) : [];
    await shared.media.add(nodes);
    const body = new Body(relations, shared);
    const inner = body.nodes(nodes.filter((node) => node.kind !== 'section'));
    const tag = kind === 'header' ? 'hdr' : 'ftr';
    const rest = inner === '' ? spacer(0) : body.end();
    await archive.add(`word/${name}`, `${HEAD}<w:${tag} ${NAMES}>${inner}${rest}</w:${tag}>`);
    if (!relations.isEmpty) await archive.add(`word/_rels/${name}.rels`, relations.xml());
    return this.relations.id(kind, name);
  }

  /** Completes the document and its parts. */
  async end(contents: readonly number[], signal: AbortSignal): Promise<void> {
    const { archive, text, body, shared, run, relations } = this;
    const { options, book } = run;
    await text.write(`${body.end()}${this.open ? sectionXml(this.open) : ''}</w:body></w:document>`);
    const listed = contents.map((levels) => contentsXml(shared.entries, levels));
    await text.into(archive, 'word/document.xml', listed, signal);
    await archive.add('word/styles.xml', shared.styles.xml());
    await addFonts(archive, shared.faces, book, options.fonts);
    const embeds = options.fonts ? '<w:embedTrueTypeFonts/>' : '';
    await archive.add(
      'word/settings.xml',
      `${HEAD}<w:settings xmlns:w="${WORD}">${embeds}${this.hasEven ? '<w:evenAndOddHeaders/>' : ''}${contents.length > 0 ? '<w:updateFields w:val="true"/>' : ''}<w:compat><w:compatSetting w:name="compatibilityMode" w:uri="http://schemas.microsoft.com/office/word" w:val="15"/></w:compat></w:settings>`,
    );
    for (const kind of ['styles', 'settings', 'fontTable']) relations.id(kind, `${kind}.xml`);
    await archive.add('word/_rels/document.xml.rels', relations.xml());
    await archive.add('docProps/core.xml', coreXml(run));
    await archive.add(
      '_rels/.rels',
      `${HEAD}<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="${OFFICE}/officeDocument" Target="word/document.xml"/><Relationship Id="rId2" Type="http://schemas.openxmlformats.org/package/2006/relationships/metadata/core-properties" Target="docProps/core.xml"/></Relationships>`,
    );
    await archive.add('[Content_Types].xml', this.types());
  }

  private types(): string {
    const part = (name: string, type: string): string =>
      `<Override PartName="/word/${name}" ContentType="${TYPE}.${type}+xml"/>`;
    const bands = [...this.relations.targets('header'), ...this.relations.targets('footer')];
    const parts = [
      part('document.xml', 'document.main'),
      part('styles.xml', 'styles'),
      part('settings.xml', 'settings'),
      part('fontTable.xml', 'fontTable'),
      ...bands.map((name) => part(name, name.startsWith('header') ? 'header' : 'footer')),
    ];
    const kinds: [string, string][] = [
      ['rels', 'application/vnd.openxmlformats-package.relationships+xml'],
      ['xml', 'application/xml'],
      ['png', 'image/png'],
      ['jpeg', 'image/jpeg'],
      ['svg', 'image/svg+xml'],
      ['odttf', 'application/vnd.openxmlformats-officedocument.obfuscatedFont'],
    ];
    const defaults = kinds.map(([extension, type]) => `<Default Extension="${extension}" ContentType="${type}"/>`);
    return `${HEAD}<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">${defaults.join('')}${parts.join('')}<Override PartName="/docProps/core.xml" ContentType="application/vnd.openxmlformats-package.core-properties+xml"/></Types>`;
  }
}

const coreXml = ({ title, language, options }: ContentRun<DocxOptions>): string =>
  `${HEAD}<cp:coreProperties xmlns:cp="http://schemas.openxmlformats.org/package/2006/metadata/core-properties" xmlns:dc="http://purl.org/dc/elements/1.1/"><dc:title>${escapeXml(title)}</dc:title>${options.author ? `<dc:creator>${escapeXml(options.author)}</dc:creator>` : ''}<dc:language>${escapeAttribute(language)}</dc:language></cp:coreProperties>`;

const sectionXml = ({ section, references, type, restarts }: OpenSection): string => {
  const { width, height, margins, header, footer, first } = section;
  const orient = width > height ? ' w:orient="landscape"' : '';
  const top = margins.top + (header?.height ?? 0);
  const bottom = margins.bottom + (footer?.height ?? 0);
  const side = (points: number): number => Math.max(0, twips(points));
  return `<w:sectPr>${references}<w:type w:val="${type}"/><w:pgSz w:w="${side(width)}" w:h="${side(height)}"${orient}/><w:pgMar w:top="${side(top)}" w:right="${side(margins.right)}" w:bottom="${side(bottom)}" w:left="${side(margins.left)}" w:header="${side(margins.top)}" w:footer="${side(margins.bottom)}" w:gutter="0"/>${restarts ? '<w:pgNumType w:start="1"/>' : ''}${first ? '<w:titlePg/>' : ''}</w:sectPr>`;
};

/** A report as a document of WordprocessingML, while it is read. */
export const writeDocx = async (run: ContentRun<DocxOptions>, sink: Writable, signal: AbortSignal): Promise<void> => {
  const archive = new Archive(sink);
  const text = await PartText.open();
  try {
    let count = 0;
    const shared: Shared = {
      styles: new Styles(run.book, run.styles, run.language),
      media: new Media(archive, 'word/media', run.pictures, run.book),
      bookmarks: new Bookmarks(),
      entries: [],
      next: () => ++count,
      faces: new Set(),
    };
    const document = new Document(run, archive, text, shared);
    await text.write(`${HEAD}<w:document ${NAMES}><w:body>`);
    const paged = new PagedText(shared.media, text, document);
    await throughNodes(run.content, (nodes) => paged.put(nodes));
    await document.end(paged.contents, signal);
    await archive.end();
  } finally {
    await text.close();
  }
};
