import {
  type ContentPart,
  type LinkTarget,
  type Look,
  type RunLook,
  safeAddress,
  type TextContent,
  type TextRun,
} from '@gaveta/core/internal';
import { baseOf } from '../document/looks.ts';
import type { CellNode, DocumentNode, ParagraphNode, RowNode, TableNode } from '../document/nodes.ts';
import { runsLeft } from '../document/text.ts';
import type { Media } from '../office/media.ts';
import { escapeAttribute, escapeXml } from '../xml/escape.ts';
import { attributes, edgeText, type OwnStyles, pt, styleName, textProperties } from './styles.ts';

/** An entry of the outline, by the name of its place. */
export interface Entry {
  level: number;
  title: string;
  place: string;
}

/** What the parts of a document have in common. */
export interface Shared {
  media: Media;
  entries: Entry[];
  normal: RunLook;
  /** The named styles of the report. */
  looks: Readonly<Record<string, Look>>;
  /** Faces that texts are written in, as `family/bold/italic`. */
  faces: Set<string>;
  next: () => number;
}

const edgesOf = (edges: CellNode['edges']): Record<string, string | undefined> => ({
  'fo:border-top': edgeText(edges.top),
  'fo:border-bottom': edgeText(edges.bottom),
  'fo:border-left': edgeText(edges.left),
  'fo:border-right': edgeText(edges.right),
});

/** Text of paragraphs: line ends, tabs, and more than one space, are elements. */
export const words = (text: string): string =>
  text
    .split(/(\n|\t| {2,}|^ | $)/)
    .map((part) => {
      if (part === '\n') return '<text:line-break/>';
      if (part === '\t') return '<text:tab/>';
      if (/^ +$/.test(part)) return `<text:s text:c="${part.length}"/>`;
      return escapeXml(part);
    })
    .join('');

const placeOf = (anchor: string): string => `place ${anchor}`;

/** Writes nodes as the elements of one part of a document. */
export class Body {
  private readonly tables: { node: TableNode; isHeading: boolean }[] = [];
  /** What the next paragraph or table begins with: a page, or pages of another kind. */
  private beginning: Record<string, string | undefined> = {};
  private master: string | null = null;
  private readonly names = new Map<string, string>();

  constructor(
    readonly styles: OwnStyles,
    private readonly shared: Shared,
  ) {}

  nodes(nodes: readonly DocumentNode[]): string {
    return nodes.map((node) => this.node(node)).join('');
  }

  /** What comes next begins a page. */
  breakPage(): void {
    if (this.master === null) this.beginning['fo:break-before'] = 'page';
  }

  /** What comes next begins pages of this kind; their numbering from 1 where it starts anew. */
  turn(master: string, restarts: boolean): void {
    this.master = master;
    this.beginning = restarts ? { 'style:page-number': '1' } : {};
  }

  /** Whether a page is about to begin. */
  get isBreaking(): boolean {
    return this.master !== null || this.beginning['fo:break-before'] !== undefined;
  }

  /** The properties and the master page that the next paragraph or table begins with. */
  private begun(): { properties: Record<string, string | undefined>; more: string } {
    const { beginning, master } = this;
    this.beginning = {};
    this.master = null;
    return { properties: beginning, more: master === null ? '' : ` style:master-page-name="${master}"` };
  }

  node(node: DocumentNode): string {
    switch (node.kind) {
      case 'paragraph':
        return this.paragraph(node);
      case 'table':
        return this.table(node);
      case 'row':
        return this.row(node);
      case 'tableEnds': {
        const { isHeading } = this.tables.pop()!;
        return `${isHeading ? '</table:table-header-rows>' : ''}</table:table>`;
      }
      case 'rule': {
        const { edge, left, right, before } = node;
        const properties = {
          'fo:border-bottom': edgeText(edge),
          'fo:margin-left': pt(left),
          'fo:margin-right': pt(right),
          'fo:margin-top': pt(before),
          'fo:line-height': '1pt',
        };
        return `<text:p text:style-name="${this.paragraphStyle(properties, null, '')}"/>`;
      }
      case 'section':
      case 'break':
      case 'restart':
        return '';
      default:
        return node satisfies never;
    }
  }

  /** The name of a style, worked out once for all that have the same key; null for one that is by itself. */
  private known(key: string | null, make: () => string): string {
    if (key === null) return make();
    let name = this.names.get(key);
    if (name === undefined) {
      name = make();
      this.names.set(key, name);
    }
    return name;
  }

  private paragraphStyle(own: Record<string, string | undefined>, look: RunLook | null, parent: string): string {
    const { properties, more } = this.begun();
    const written = `<style:paragraph-properties${attributes({ 'fo:margin-top': '0pt', 'fo:margin-bottom': '0pt', ...own, ...properties })}/>${look ? textProperties(look) : ''}`;
    return this.styles.name('paragraph', written, `${parent}${more}`);
  }

  private table(node: TableNode): string {
    const { columns, left, before } = node;
    const whole = columns.reduce((sum, column) => sum + column, 0);
    const { properties, more } = this.begun();
    const style = this.styles.name(
      'table',
      `<style:table-properties${attributes({
        'style:width': pt(whole),
        'fo:margin-left': pt(left),
        'fo:margin-top': pt(before),
        'table:align': 'left',
        'table:border-model': 'collapsing',
        ...properties,
      })}/>`,
      more,
    );
    const listed = columns.map((column) => {
      const own = this.styles.name(
        'table-column',
        `<style:table-column-properties style:column-width="${pt(column)}"/>`,
      );
      return `<table:table-column table:style-name="${own}"/>`;
    });
    const name = `Table${this.shared.next()}`;
    this.tables.push({ node, isHeading: false });
    return `<table:table table:name="${name}" table:style-name="${style}">${listed.join('')}`;
  }

  private row({ cells, height, above, isHeader }: RowNode): string {
    const open = this.tables.at(-1)!;
    let begin = '';
    if (isHeader && !open.isHeading) begin = '<table:table-header-rows>';
    else if (!isHeader && open.isHeading) begin = '</table:table-header-rows>';
    open.isHeading = isHeader;
    const isWhole = cells.every((cell) => cell.nodes.length < 2);
    const style = this.known(`row ${height} ${isWhole}`, () =>
      this.styles.name(
        'table-row',
        `<style:table-row-properties style:min-row-height="${pt(Math.max(1, height))}" fo:keep-together="${isWhole ? 'always' : 'auto'}"/>`,
      ),
    );
    let column = 0;
    let written = '';
    for (const cell of cells) {
      written += this.cell(cell, above) + '<table:covered-table-cell/>'.repeat(cell.span - 1);
      column = cell.column + cell.span;
    }
    const rest = open.node.columns.length - column;
    if (rest > 0)
      written += `<table:table-cell${rest > 1 ? ` table:number-columns-spanned="${rest}"` : ''}/>${'<table:covered-table-cell/>'.repeat(rest - 1)}`;
    return `${begin}<table:table-row table:style-name="${style}">${written}</table:table-row>`;
  }

  private cell({ span, nodes, fill, edges }: CellNode, above: number): string {
    const [first] = nodes;
    const text =
      nodes.length === 1 && first?.kind === 'paragraph' && first.part.content.kind === 'text'
        ? first.part.content
        : null;
    const drawn = Object.keys(edges).length > 0 ? JSON.stringify(edges) : '';
    const style = this.known(`cell ${fill} ${above} ${text?.stands} ${drawn}`, () =>
      this.styles.name(
        'table-cell',
        `<style:table-cell-properties${attributes({
          'fo:background-color': fill,
          'fo:padding': '0pt',
          'fo:padding-top': pt(Math.max(0, above)),
          'style:vertical-align': text && text.stands !== 'top' ? text.stands : 'top',
          ...edgesOf(edges),
        })}/>`,
      ),
    );
    const inner = nodes.map((node) => this.node(node)).join('');
    const empty =
      inner === '' ? `<text:p text:style-name="${this.paragraphStyle({ 'fo:line-height': '1pt' }, null, '')}"/>` : '';
    return `<table:table-cell table:style-name="${style}"${span > 1 ? ` table:number-columns-spanned="${span}"` : ''}>${inner}${empty}</table:table-cell>`;
  }

  private paragraph(node: ParagraphNode): string {
    const { part } = node;
    const { content } = part;
    switch (content.kind) {
      case 'text':
        return this.text(node, content);
      case 'picture':
      case 'drawing':
        return this.picture(node, content.alternative);
      case 'contents':
        return '';
      default:
        return content satisfies never;
    }
  }

  private text(node: ParagraphNode, content: TextContent): string {
    const { part, left, right, before, fill, edges, keepNext } = node;
    const { shared } = this;
    const level = part.heading?.level ?? content.level;
    const named = content.style !== undefined && content.style in shared.looks ? content.style : undefined;
    const look = named === undefined ? shared.normal : baseOf(shared.looks[named]!, shared.normal);
    const first = content.runs[0]?.look ?? look;
    const all = content.runs.map(({ text }) => text).join('');
    const isLeftward = runsLeft(all);
    const isBeside = this.tables.length > 0 || !content.wraps;
    const hasLeft = !isBeside || content.align !== 'right';
    const hasRight = !isBeside || (content.align !== 'left' && content.align !== 'justify');
    const indent = content.listed ? 12 : 0;
    const isPlain = Object.keys(edges).length === 0 && !this.isBreaking;
    const facts = `${left} ${right} ${before} ${hasLeft} ${hasRight} ${indent} ${content.align} ${isLeftward}`;
    const looks = `${first.size * content.spacing} ${keepNext} ${fill} ${level} ${named} ${textProperties(first)}`;
    const style = this.known(isPlain ? `${facts} ${looks}` : null, () =>
      this.paragraphStyle(
        {
          'fo:margin-left': pt(hasLeft ? left : 0),
          'fo:margin-right': pt(hasRight ? right : 0),
          'fo:margin-top': pt(before),
          'fo:text-indent': indent > 0 ? pt(-indent) : undefined,
          'fo:text-align': alignment(content.align, isLeftward),
          'style:line-height-at-least': pt(first.size * content.spacing),
          'fo:keep-with-next': keepNext ? 'always' : undefined,
          'fo:background-color': fill,
          'style:writing-mode': isLeftward ? 'rl-tb' : undefined,
          ...edgesOf(edges),
        },
        first,
        level === undefined
          ? named === undefined
            ? ''
            : ` style:parent-style-name="${styleName(named)}"`
          : ` style:parent-style-name="Heading_20_${level}"`,
      ),
    );
    const mark = content.listed ? `${words(content.listed.mark)}<text:tab/>` : '';
    const inner = this.named(part) + mark + content.runs.map((run) => this.run(run, first, part.to)).join('');
    return level === undefined
      ? `<text:p text:style-name="${style}">${inner}</text:p>`
      : `<text:h text:style-name="${style}" text:outline-level="${level}">${inner}</text:h>`;
  }

  /** The names of a part’s place, by which links and the contents lead to it. */
  private named({ anchor, heading }: ContentPart): string {
    const place = anchor === undefined ? (heading ? `heading ${this.shared.next()}` : null) : placeOf(anchor);
    if (place === null) return '';
    if (heading) this.shared.entries.push({ ...heading, place });
    return `<text:bookmark text:name="${escapeAttribute(place)}"/>`;
  }

  private run({ text, look, field, to }: TextRun, base: RunLook, around: LinkTarget | undefined): string {
    this.shared.faces.add(`${look.family}/${look.bold}/${look.italic}`);
    const inner =
      field === 'page'
        ? '<text:page-number text:select-page="current">1</text:page-number>'
        : field
          ? '<text:page-count>1</text:page-count>'
          : words(text);
    const isSame = look === base || textProperties(look) === textProperties(base);
    const styled = isSame
      ? inner
      : `<text:span text:style-name="${this.styles.name('text', textProperties(look))}">${inner}</text:span>`;
    return this.linked(styled, to ?? around);
  }

  private linked(inner: string, to: LinkTarget | undefined): string {
    if (!to) return inner;
    const address = 'anchor' in to ? `#${placeOf(to.anchor)}` : 'address' in to ? safeAddress(to.address) : null;
    return address === null
      ? inner
      : `<text:a xlink:type="simple" xlink:href="${escapeAttribute(address)}">${inner}</text:a>`;
  }

  private picture(node: ParagraphNode, alternative: string): string {
    const { part, left, before, keepNext } = node;
    const files = this.shared.media.of(part.content);
    if (!files) return '';
    const { width, height } = part;
    const style = this.paragraphStyle(
      { 'fo:margin-left': pt(left), 'fo:margin-top': pt(before), 'fo:keep-with-next': keepNext ? 'always' : undefined },
      null,
      '',
    );
    const crop = part.content.kind === 'picture' ? part.content.crop : undefined;
    const frame = this.styles.name(
      'graphic',
      `<style:graphic-properties style:vertical-pos="top" style:vertical-rel="baseline"${crop ? ` fo:clip="${clipOf(part, crop)}"` : ''}/>`,
    );
    const image = (file: string): string =>
      `<draw:image xlink:href="Pictures/${file}" xlink:type="simple" xlink:show="embed" xlink:actuate="onLoad"/>`;
    // Programs show the first form that they know.
    const forms = (files.svg ? image(files.svg) : '') + image(files.file);
    const drawn = `<draw:frame draw:style-name="${frame}" draw:name="Picture${this.shared.next()}" text:anchor-type="as-char" svg:width="${pt(width)}" svg:height="${pt(height)}">${forms}<svg:title>${escapeXml(alternative)}</svg:title></draw:frame>`;
    return `<text:p text:style-name="${style}">${this.named(part)}${this.linked(drawn, part.to)}</text:p>`;
  }
}

/** How much of a picture is not seen, as lengths of the whole. */
const clipOf = (
  { width, height }: ContentPart,
  { left, top, right, bottom }: Record<'left' | 'top' | 'right' | 'bottom', number>,
): string => {
  const wide = width / Math.max(0.01, 1 - left - right);
  const high = height / Math.max(0.01, 1 - top - bottom);
  return `rect(${pt(top * high)}, ${pt(right * wide)}, ${pt(bottom * high)}, ${pt(left * wide)})`;
};

const alignment = (align: TextContent['align'], isLeftward: boolean): string => {
  if (align === 'justify' || align === 'center') return align;
  return (align === 'right') === isLeftward ? 'start' : 'end';
};

/** The list of the headings of a document. */
export const contentsXml = (entries: readonly Entry[], levels: number, number: number): string => {
  const listed = entries.filter(({ level }) => level <= levels);
  const templates = [1, 2, 3, 4, 5, 6].map(
    (level) =>
      `<text:table-of-content-entry-template text:outline-level="${level}" text:style-name="Contents_20_${level}"><text:index-entry-link-start/><text:index-entry-text/><text:index-entry-tab-stop style:type="right" style:leader-char="."/><text:index-entry-page-number/><text:index-entry-link-end/></text:table-of-content-entry-template>`,
  );
  const body = listed.map(
    ({ level, title, place }) =>
      `<text:p text:style-name="Contents_20_${level}"><text:a xlink:type="simple" xlink:href="#${escapeAttribute(place)}" text:style-name="Index_20_Link" text:visited-style-name="Index_20_Link">${words(title)}<text:tab/><text:bookmark-ref text:reference-format="page" text:ref-name="${escapeAttribute(place)}">1</text:bookmark-ref></text:a></text:p>`,
  );
  return `<text:table-of-content text:name="Contents${number}"><text:table-of-content-source text:outline-level="${levels}">${templates.join('')}</text:table-of-content-source><text:index-body>${body.join('')}</text:index-body></text:table-of-content>`;
};
