import type { Writable } from 'node:stream';
import { type ContentBlock, type ContentSection, DEFAULT_LOOK } from '@gaveta/core/internal';
import { Archive } from '../archive.ts';
import { nodesOfBlock, throughNodes } from '../document/builder.ts';
import { baseOf } from '../document/looks.ts';
import type { DocumentNode } from '../document/nodes.ts';
import { PagedText, type PagedWriter } from '../document/paged-text.ts';
import { Media } from '../office/media.ts';
import type { ContentRun } from '../output.ts';
import { PartText } from '../part-text.ts';
import { escapeAttribute } from '../xml/escape.ts';
import { Body, contentsXml, type Shared } from './body.ts';
import type { OdtOptions } from './options.ts';
import { manifestXml, metaXml, OASIS, pageLayoutXml } from './package.ts';
import { attributes, OwnStyles, pt, styleName, textProperties } from './styles.ts';

const HEAD = '<?xml version="1.0" encoding="UTF-8"?>\n';
const NAMES = `xmlns:office="${OASIS}:office:1.0" xmlns:style="${OASIS}:style:1.0" xmlns:text="${OASIS}:text:1.0" xmlns:table="${OASIS}:table:1.0" xmlns:draw="${OASIS}:drawing:1.0" xmlns:fo="${OASIS}:xsl-fo-compatible:1.0" xmlns:svg="${OASIS}:svg-compatible:1.0" xmlns:xlink="http://www.w3.org/1999/xlink" office:version="1.3"`;
const MIME = 'application/vnd.oasis.opendocument.text';

const LEVELS = [1, 2, 3, 4, 5, 6] as const;

class Document implements PagedWriter {
  private readonly bands = new OwnStyles('H');
  private readonly layouts: string[] = [];
  private readonly masters: string[] = [];
  private readonly body: Body;
  private readonly own = new OwnStyles();
  private current: ContentSection | null = null;

  constructor(
    private readonly run: ContentRun<OdtOptions>,
    private readonly archive: Archive,
    private readonly text: PartText,
    private readonly shared: Shared,
  ) {
    this.body = new Body(this.own, shared);
  }

  async section(section: ContentSection): Promise<void> {
    this.current = section;
    this.body.turn(await this.master(section, null), false);
  }

  async breakPage(parity: 'odd' | 'even' | null): Promise<void> {
    if (parity && this.current) this.body.turn(await this.master(this.current, parity), false);
    else this.body.breakPage();
  }

  async restart(): Promise<void> {
    if (this.body.isBreaking && this.current) this.body.turn(await this.master(this.current, null), true);
  }

  written(node: DocumentNode): string {
    return this.body.node(node);
  }

  /** A kind of page: its paper and its bands. Gives its name. */
  private async master(section: ContentSection, parity: 'odd' | 'even' | null): Promise<string> {
    const name = `Page${this.masters.length + 1}`;
    const { first, even } = section;
    const usage = parity === 'odd' ? 'right' : parity === 'even' ? 'left' : 'all';
    const hasHeader = Boolean(section.header ?? first?.header ?? even?.header);
    const hasFooter = Boolean(section.footer ?? first?.footer ?? even?.footer);
    this.layouts.push(pageLayoutXml(`L${name}`, section, { header: hasHeader, footer: hasFooter }, { usage }));
    const written = async (tag: string, block: ContentBlock | null | undefined): Promise<string> =>
      `<style:${tag}>${block ? await this.bandXml(block, section) : '<text:p/>'}</style:${tag}>`;
    let inner = '';
    if (hasHeader) {
      inner += await written('header', section.header);
      if (even) inner += await written('header-left', even.header);
      if (first) inner += await written('header-first', first.header);
    }
    if (hasFooter) {
      inner += await written('footer', section.footer);
      if (even) inner += await written('footer-left', even.footer);
      if (first) inner += await written('footer-first', first.footer);
    }
    this.masters.push(
      `<style:master-page style:name="${name}" style:page-layout-name="L${name}">${inner}</style:master-page>`,
    );
    return name;
  }

  private async bandXml(block: ContentBlock, section: ContentSection): Promise<string> {
    const nodes = nodesOfBlock(block, section.width - section.margins.left - section.margins.right);
    await this.shared.media.add(nodes);
    return new Body(this.bands, this.shared).nodes(nodes) || '<text:p/>';
  }

  /** Completes the document and its parts. */
  async end(contents: readonly number[], signal: AbortSignal): Promise<void> {
    const { archive, text, shared, run } = this;
    const { options, title, language } = run;
    await text.write('</office:text></office:body></office:document-content>');
    const fonts = options.fonts ? await this.fonts() : '';
    const listed = contents.map((levels, i) => contentsXml(shared.entries, levels, i + 1));
    await text.into(
      archive,
      'content.xml',
      [`${fonts}<office:automatic-styles>${this.own.xml()}</office:automatic-styles>`, ...listed],
      signal,
    );
    const parent = (name: string, look: string, more = ''): string =>
      `<style:style style:name="${styleName(name)}" style:display-name="${escapeAttribute(name)}" style:family="paragraph" style:parent-style-name="Standard"${more}>${look}</style:style>`;
    const heading = (level: number): string =>
      `<style:style style:name="Heading_20_${level}" style:display-name="Heading ${level}" style:family="paragraph" style:parent-style-name="Standard" style:default-outline-level="${level}"><style:paragraph-properties fo:keep-with-next="always"/>${textProperties({ ...shared.normal, bold: true, size: 18 - 2 * level })}</style:style>`;
    const contentsStyle = (level: number): string =>
      `<style:style style:name="Contents_20_${level}" style:display-name="Contents ${level}" style:family="paragraph" style:parent-style-name="Standard"><style:paragraph-properties fo:margin-left="${pt((level - 1) * 12)}" fo:margin-top="2pt" fo:margin-bottom="2pt"><style:tab-stops><style:tab-stop style:position="${pt(450)}" style:type="right" style:leader-style="dotted" style:leader-text="."/></style:tab-stops></style:paragraph-properties></style:style>`;
    const [country] = language.split('-').slice(1);
    const locale = attributes({
      'fo:language': language.split('-')[0],
      'fo:country': country?.length === 2 ? country : 'none',
    });
    const defaults = textProperties(shared.normal).replace('/>', `${locale}/>`);
    await archive.add(
      'styles.xml',
      `${HEAD}<office:document-styles ${NAMES}>${fonts}<office:styles><style:default-style style:family="paragraph">${defaults}</style:default-style><style:style style:name="Standard" style:family="paragraph"/><style:style style:name="Index_20_Link" style:display-name="Index Link" style:family="text"/>${LEVELS.map(heading).join('')}${LEVELS.map(contentsStyle).join('')}${Object.entries(
        shared.looks,
      )
        .map(([name, look]) => parent(name, textProperties(baseOf(look, shared.normal))))
        .join(
          '',
        )}</office:styles><office:automatic-styles>${this.bands.xml()}${this.layouts.join('')}</office:automatic-styles><office:master-styles>${this.masters.join('')}</office:master-styles></office:document-styles>`,
    );
    await archive.add('meta.xml', metaXml({ title, language, author: options.author }));
    await archive.add('META-INF/manifest.xml', manifestXml(archive, MIME, ['content.xml', 'styles.xml', 'meta.xml']));
  }

  /** The fonts that texts are written in, held by the document. */
  private async fonts(): Promise<string> {
    const { archive, shared, run } = this;
    const families = new Map<string, string[]>();
    const held = new Set<string>();
    let number = 0;
    for (const face of shared.faces) {
      const [family, bold, italic] = face.split('/') as [string, string, string];
      const forms = families.get(family) ?? [];
      families.set(family, forms);
      if (!run.book.has(family)) continue;
      const { file, key } = run.book.find(family, bold === 'true', italic === 'true');
      if (held.has(key)) continue;
      held.add(key);
      const name = `Fonts/font${++number}.ttf`;
      await archive.add(name, file.data);
      forms.push(
        `<svg:font-face-uri xlink:href="${name}" xlink:type="simple"><svg:font-face-format svg:string="truetype"/></svg:font-face-uri>`,
      );
    }
    const faces = [...families].map(([family, forms]) => {
      const source = forms.length > 0 ? `<svg:font-face-src>${forms.join('')}</svg:font-face-src>` : '';
      const name = escapeAttribute(family);
      return `<style:font-face style:name="${name}" svg:font-family="${escapeAttribute(`'${family.replaceAll("'", '')}'`)}">${source}</style:font-face>`;
    });
    return `<office:font-face-decls>${faces.join('')}</office:font-face-decls>`;
  }
}

/** A report as a text document of OpenDocument, while it is read. */
export const writeOdt = async (run: ContentRun<OdtOptions>, sink: Writable, signal: AbortSignal): Promise<void> => {
  const archive = new Archive(sink);
  const text = await PartText.open();
  try {
    // It stands first, and as it is, so that the kind of the file can be told by its first bytes.
    await archive.add('mimetype', MIME, { stored: true });
    let count = 0;
    const { size, color } = DEFAULT_LOOK;
    const shared: Shared = {
      media: new Media(archive, 'Pictures', run.pictures, run.book),
      entries: [],
      normal: {
        family: run.book.families[0]!,
        size,
        bold: false,
        italic: false,
        underline: false,
        strike: false,
        color,
      },
      looks: run.styles,
      faces: new Set([`${run.book.families[0]!}/false/false`]),
      next: () => ++count,
    };
    const document = new Document(run, archive, text, shared);
    await text.write(`${HEAD}<office:document-content ${NAMES}>`);
    // Styles are known when everything is written.
    await text.leaveRoom();
    await text.write('<office:body><office:text>');
    const paged = new PagedText(shared.media, text, document);
    await throughNodes(run.content, (nodes) => paged.put(nodes));
    await document.end(paged.contents, signal);
    await archive.end();
  } finally {
    await text.close();
  }
};
