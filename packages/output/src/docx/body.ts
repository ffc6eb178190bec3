import {
  type ContentPart,
  type LinkTarget,
  type PieceEdge,
  phrase,
  SaidError,
  safeAddress,
  type TextContent,
  type TextRun,
} from '@gaveta/core/internal';
import type { CellNode, DocumentNode, ParagraphNode, RowNode, TableNode } from '../document/nodes.ts';
import { type Bookmarks, runsLeft } from '../document/text.ts';
import type { Media } from '../office/media.ts';
import type { Relations } from '../office/relations.ts';
import { escapeAttribute, escapeXml } from '../xml/escape.ts';
import { hex, runProperties, twips } from './looks.ts';
import type { Styles } from './styles.ts';
import { runText } from './text.ts';

/** What the programs that read it take (of tables, 63 columns). */
const MOST_COLUMNS = 63;
/** English metric units in a point. */
const EMU = 12_700;

const FIELDS = { page: 'PAGE', pages: 'NUMPAGES', partPages: 'SECTIONPAGES' } as const;

/** An entry of the outline, by the name of its place. */
export interface Entry {
  level: number;
  title: string;
  bookmark: string;
}

/** What the parts of a document have in common. */
export interface Shared {
  styles: Styles;
  media: Media;
  bookmarks: Bookmarks;
  entries: Entry[];
  /** Counts what is to be told apart by a number. */
  next: () => number;
  /** Faces that texts are written in, as `family/bold/italic`. */
  faces: Set<string>;
}

const edge = (name: string, { width, color, isDashed }: PieceEdge): string =>
  `<w:${name} w:val="${isDashed ? 'dashed' : 'single'}" w:sz="${Math.max(2, Math.min(96, Math.round(width * 8)))}" w:space="0" w:color="${hex(color)}"/>`;

const edgesOf = (edges: CellNode['edges']): string =>
  (['top', 'left', 'bottom', 'right'] as const).map((side) => (edges[side] ? edge(side, edges[side]) : '')).join('');

const shade = (fill: string | undefined): string =>
  fill ? `<w:shd w:val="clear" w:color="auto" w:fill="${hex(fill)}"/>` : '';

/** A paragraph of hardly any height, as it stands between tables. */
export const spacer = (before: number, first = '', last = ''): string =>
  `<w:p><w:pPr>${first}<w:spacing w:before="${twips(before)}" w:after="0" w:line="20" w:lineRule="exact"/>${last}</w:pPr></w:p>`;

/** Writes nodes as the elements of one part of a document. */
export class Body {
  readonly relations: Relations;
  private readonly tables: TableNode[] = [];
  private isBehindTable = false;
  /** The next paragraph begins a page. */
  private isBreaking = false;

  constructor(
    relations: Relations,
    private readonly shared: Shared,
  ) {
    this.relations = relations;
  }

  nodes(nodes: readonly DocumentNode[]): string {
    return nodes.map((node) => this.node(node)).join('');
  }

  /** What comes next begins a page. */
  breakPage(): void {
    this.isBreaking = true;
  }

  /** A new section begins, which begins a page by itself. Gives whether a new page was asked for before. */
  beginSection(): boolean {
    const { isBreaking } = this;
    this.isBreaking = false;
    this.isBehindTable = false;
    return isBreaking;
  }

  /** A paragraph where the part may not end in a table. */
  end(): string {
    return this.isBehindTable ? spacer(0) : '';
  }

  /** What asks for a new page, for the properties of a paragraph. */
  private takeBreak(): string {
    const { isBreaking } = this;
    this.isBreaking = false;
    return isBreaking ? '<w:pageBreakBefore/>' : '';
  }

  node(node: DocumentNode): string {
    switch (node.kind) {
      case 'paragraph':
        this.isBehindTable = false;
        return this.paragraph(node, node.before);
      case 'table': {
        const needs = this.isBehindTable || this.isBreaking || node.before > 1;
        const between = needs ? spacer(Math.max(0, node.before - 1), this.takeBreak()) : '';
        this.tables.push(node);
        return between + table(node);
      }
      case 'row':
        return this.row(node);
      case 'tableEnds':
        this.tables.pop();
        this.isBehindTable = true;
        return '</w:tbl>';
      case 'rule': {
        this.isBehindTable = false;
        const { left, right, before } = node;
        const indent = `<w:ind w:left="${twips(left)}" w:right="${twips(right)}"/>`;
        return spacer(before, `${this.takeBreak()}<w:pBdr>${edge('bottom', node.edge)}</w:pBdr>`, indent);
      }
      case 'section':
      case 'break':
      case 'restart':
        return '';
      default:
        return node satisfies never;
    }
  }

  private row({ cells, height, above, isHeader, keepNext }: RowNode): string {
    const node = this.tables.at(-1)!;
    const { columns } = node;
    const written = cells.map((cell) => {
      const width = columns.slice(cell.column, cell.column + cell.span).reduce((sum, column) => sum + column, 0);
      return this.cell(cell, width, above, keepNext);
    });
    const last = cells.at(-1);
    const covered = last ? last.column + last.span : 0;
    const rest = columns.length - covered;
    if (rest > 0) {
      const width = columns.slice(covered).reduce((sum, column) => sum + column, 0);
      written.push(
        this.cell({ column: covered, span: rest, nodes: [], edges: {}, isHeader: false }, width, 0, keepNext),
      );
    }
    // What is longer than a line goes on over pages.
    const isWhole = cells.every(
      (cell) => cell.nodes.length < 2 && cell.nodes.every(({ kind }) => kind === 'paragraph'),
    );
    const properties = `${isWhole ? '<w:cantSplit/>' : ''}<w:trHeight w:val="${Math.max(1, twips(height))}" w:hRule="atLeast"/>${isHeader ? '<w:tblHeader/>' : ''}`;
    return `<w:tr><w:trPr>${properties}</w:trPr>${written.join('')}</w:tr>`;
  }

  private cell(
    { span, nodes, fill, edges, isHeader: _ }: CellNode,
    width: number,
    above: number,
    keepNext: boolean,
  ): string {
    const [first] = nodes;
    const text = nodes.length === 1 && first?.kind === 'paragraph' ? textOf(first) : null;
    const drawn = edgesOf(edges);
    const align =
      text && text.stands !== 'top' ? `<w:vAlign w:val="${text.stands === 'middle' ? 'center' : 'bottom'}"/>` : '';
    const margin = above > 0.5 ? `<w:tcMar><w:top w:w="${twips(above)}" w:type="dxa"/></w:tcMar>` : '';
    const direction =
      text && Math.abs(text.turn) === 90 ? `<w:textDirection w:val="${text.turn > 0 ? 'tbRl' : 'btLr'}"/>` : '';
    const properties = `<w:tcW w:w="${twips(width)}" w:type="dxa"/>${span > 1 ? `<w:gridSpan w:val="${span}"/>` : ''}${drawn ? `<w:tcBorders>${drawn}</w:tcBorders>` : ''}${shade(fill)}${text && !text.wraps && text.turn === 0 ? '<w:noWrap/>' : ''}${margin}${direction}${align}`;
    const around = this.isBehindTable;
    this.isBehindTable = false;
    let inner = nodes
      .map((node) => this.node(keepNext && node.kind === 'paragraph' ? { ...node, keepNext } : node))
      .join('');
    // A cell ends in a paragraph.
    if (nodes.length === 0 || this.isBehindTable) inner += spacer(0, keepNext ? '<w:keepNext/>' : '');
    this.isBehindTable = around;
    return `<w:tc><w:tcPr>${properties}</w:tcPr>${inner}</w:tc>`;
  }

  private paragraph(node: ParagraphNode, before: number): string {
    const { part } = node;
    const { content } = part;
    switch (content.kind) {
      case 'text':
        return this.text(node, content, before);
      case 'picture':
      case 'drawing':
        return this.picture(node, content.alternative, before);
      case 'contents':
        return '';
      default:
        return content satisfies never;
    }
  }

  private text(node: ParagraphNode, content: TextContent, before: number): string {
    const { part, left, right, fill, edges, keepNext } = node;
    const { styles, entries } = this.shared;
    const level = part.heading?.level ?? content.level;
    const first = content.runs[0]?.look ?? styles.normal;
    const style = level === undefined ? styles.of(content.style) : styles.heading(level, first);
    const words = content.runs.map(({ text }) => text).join('');
    const isLeftward = runsLeft(words);
    const drawn = edgesOf(edges);
    const line = twips(first.size * content.spacing);
    const bookmark = this.bookmarkOf(part);
    if (part.heading) entries.push({ ...part.heading, bookmark: bookmark! });
    // Room at the side that a text does not stand at is left to it: other programs set it a little wider.
    const isBeside = this.tables.length > 0 || !content.wraps;
    const hasLeft = !isBeside || content.align !== 'right';
    const hasRight = !isBeside || (content.align !== 'left' && content.align !== 'justify');
    const listed = content.listed ? 12 * (content.listed.depth + 1) : 0;
    const properties = [
      style.id ? `<w:pStyle w:val="${style.id}"/>` : '',
      keepNext ? '<w:keepNext/>' : '',
      this.takeBreak(),
      drawn ? `<w:pBdr>${drawn}</w:pBdr>` : '',
      shade(fill),
      listed > 0 ? `<w:tabs><w:tab w:val="left" w:pos="${twips(left)}"/></w:tabs>` : '',
      isLeftward ? '<w:bidi/>' : '',
      `<w:spacing w:before="${twips(before)}" w:after="0" w:line="${line}" w:lineRule="atLeast"/>`,
      left > 0.5 || right > 0.5 || listed > 0
        ? `<w:ind w:left="${twips(hasLeft ? left : 0)}" w:right="${twips(hasRight ? right : 0)}"${listed > 0 ? ` w:hanging="${twips(12)}"` : ''}/>`
        : '',
      content.align === 'left' ? '' : `<w:jc w:val="${alignment(content.align, isLeftward)}"/>`,
    ].join('');
    const mark = content.listed ? `<w:r>${runText(`${content.listed.mark}\t`)}</w:r>` : '';
    const runs = content.runs.map((run) => this.run(run, style.look, part.to));
    const inner = this.named(mark + runs.join(''), bookmark);
    return `<w:p><w:pPr>${properties}</w:pPr>${inner}</w:p>`;
  }

  /** The name of a part’s place, where links or the contents lead to it. */
  private bookmarkOf({ anchor, heading }: ContentPart): string | null {
    const { bookmarks, next } = this.shared;
    if (anchor !== undefined) return bookmarks.of(`anchor ${anchor}`);
    return heading ? bookmarks.of(`heading ${next()}`) : null;
  }

  private named(inner: string, bookmark: string | null): string {
    if (bookmark === null) return inner;
    const id = this.shared.next();
    return `<w:bookmarkStart w:id="${id}" w:name="${bookmark}"/>${inner}<w:bookmarkEnd w:id="${id}"/>`;
  }

  private run(
    { text, look, field, to }: TextRun,
    base: Parameters<typeof runProperties>[1],
    around: LinkTarget | undefined,
  ): string {
    this.shared.faces.add(`${look.family}/${look.bold}/${look.italic}`);
    const properties = runProperties(look, base, runsLeft(text));
    const inner = field
      ? `<w:r>${properties}<w:fldChar w:fldCharType="begin"/></w:r><w:r>${properties}<w:instrText xml:space="preserve"> ${FIELDS[field]} </w:instrText></w:r><w:r>${properties}<w:fldChar w:fldCharType="separate"/></w:r><w:r>${properties}<w:t>1</w:t></w:r><w:r>${properties}<w:fldChar w:fldCharType="end"/></w:r>`
      : `<w:r>${properties}${runText(text)}</w:r>`;
    return this.linked(inner, to ?? around);
  }

  private linked(inner: string, to: LinkTarget | undefined): string {
    if (!to) return inner;
    if ('anchor' in to) {
      const name = this.shared.bookmarks.of(`anchor ${to.anchor}`);
      return `<w:hyperlink w:anchor="${name}">${inner}</w:hyperlink>`;
    }
    const address = 'address' in to ? safeAddress(to.address) : null;
    if (address === null) return inner;
    return `<w:hyperlink r:id="${this.relations.id('hyperlink', address, true)}">${inner}</w:hyperlink>`;
  }

  private picture({ part, left, keepNext }: ParagraphNode, alternative: string, before: number): string {
    const files = this.shared.media.of(part.content);
    if (!files) return spacer(before);
    const [width, height] = [Math.max(1, Math.round(part.width * EMU)), Math.max(1, Math.round(part.height * EMU))];
    const id = this.shared.next();
    const image = this.relations.id('image', `media/${files.file}`);
    const vector = files.svg
      ? `<a:extLst><a:ext uri="{96DAC541-7B7A-43D3-8B79-37D633B846F1}"><asvg:svgBlip xmlns:asvg="http://schemas.microsoft.com/office/drawing/2016/SVG/main" r:embed="${this.relations.id('image', `media/${files.svg}`)}"/></a:ext></a:extLst>`
      : '';
    const said = escapeAttribute(alternative);
    const drawing = `<w:drawing><wp:inline distT="0" distB="0" distL="0" distR="0"><wp:extent cx="${width}" cy="${height}"/><wp:docPr id="${id}" name="Picture ${id}" descr="${said}"/><wp:cNvGraphicFramePr/><a:graphic xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main"><a:graphicData uri="http://schemas.openxmlformats.org/drawingml/2006/picture"><pic:pic xmlns:pic="http://schemas.openxmlformats.org/drawingml/2006/picture"><pic:nvPicPr><pic:cNvPr id="${id}" name="Picture ${id}" descr="${said}"/><pic:cNvPicPr/></pic:nvPicPr><pic:blipFill><a:blip r:embed="${image}">${vector}</a:blip>${cropped(part)}<a:stretch><a:fillRect/></a:stretch></pic:blipFill><pic:spPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="${width}" cy="${height}"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom></pic:spPr></pic:pic></a:graphicData></a:graphic></wp:inline></w:drawing>`;
    const properties = `${keepNext ? '<w:keepNext/>' : ''}${this.takeBreak()}<w:spacing w:before="${twips(before)}" w:after="0"/><w:ind w:left="${twips(left)}"/>`;
    const inner = this.named(this.linked(`<w:r>${drawing}</w:r>`, part.to), this.bookmarkOf(part));
    return `<w:p><w:pPr>${properties}</w:pPr>${inner}</w:p>`;
  }
}

const textOf = ({ part: { content } }: ParagraphNode): TextContent | null => (content.kind === 'text' ? content : null);

/** In text that runs to the left, what is at the start is at the right. */
const alignment = (align: TextContent['align'], isLeftward: boolean): string => {
  if (align === 'justify') return 'both';
  if (align === 'center') return 'center';
  return isLeftward ? 'left' : 'right';
};

/** What of a picture is seen, in thousandths of a percent from each side. */
const cropped = ({ content }: ContentPart): string => {
  if (content.kind !== 'picture' || !content.crop) return '';
  const { left, top, right, bottom } = content.crop;
  const share = (part: number): number => Math.max(0, Math.round(part * 100_000));
  return `<a:srcRect l="${share(left)}" t="${share(top)}" r="${share(right)}" b="${share(bottom)}"/>`;
};

const table = ({ columns, left }: TableNode): string => {
  if (columns.length > MOST_COLUMNS)
    throw new SaidError(phrase('table-many-columns', { count: columns.length, most: MOST_COLUMNS }));
  const whole = columns.reduce((sum, column) => sum + column, 0);
  const grid = columns.map((column) => `<w:gridCol w:w="${twips(column)}"/>`).join('');
  return `<w:tbl><w:tblPr><w:tblW w:w="${twips(whole)}" w:type="dxa"/><w:tblInd w:w="${twips(left)}" w:type="dxa"/><w:tblLayout w:type="fixed"/><w:tblCellMar><w:left w:w="0" w:type="dxa"/><w:right w:w="0" w:type="dxa"/></w:tblCellMar><w:tblLook w:val="0020" w:firstRow="1"/></w:tblPr><w:tblGrid>${grid}</w:tblGrid>`;
};

/** The list of the headings of a document, which the program that shows it keeps up to date. */
export const contentsXml = (entries: readonly Entry[], levels: number): string => {
  const listed = entries.filter(({ level }) => level <= levels);
  const begin = `<w:r><w:fldChar w:fldCharType="begin"/></w:r><w:r><w:instrText xml:space="preserve"> TOC \\o "1-${levels}" \\h \\u </w:instrText></w:r><w:r><w:fldChar w:fldCharType="separate"/></w:r>`;
  const end = '<w:r><w:fldChar w:fldCharType="end"/></w:r>';
  if (listed.length === 0) return `<w:p>${begin}${end}</w:p>`;
  return listed
    .map(({ level, title, bookmark }, i) => {
      const page = `<w:r><w:tab/></w:r><w:r><w:fldChar w:fldCharType="begin"/></w:r><w:r><w:instrText xml:space="preserve"> PAGEREF ${bookmark} \\h </w:instrText></w:r><w:r><w:fldChar w:fldCharType="separate"/></w:r><w:r><w:t>1</w:t></w:r><w:r><w:fldChar w:fldCharType="end"/></w:r>`;
      const entry = `<w:hyperlink w:anchor="${bookmark}"><w:r><w:t xml:space="preserve">${escapeXml(title)}</w:t></w:r>${page}</w:hyperlink>`;
      return `<w:p><w:pPr><w:pStyle w:val="TOC${Math.min(6, level)}"/></w:pPr>${i === 0 ? begin : ''}${entry}${i === listed.length - 1 ? end : ''}</w:p>`;
    })
    .join('');
};
