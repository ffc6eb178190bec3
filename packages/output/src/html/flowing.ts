import type { Writable } from 'node:stream';
import {
  type ContentPart,
  type ContentSection,
  type DrawingContent,
  type LinkTarget,
  type PieceEdge,
  type RunLook,
  safeAddress,
  type TextContent,
  type TextRun,
} from '@gaveta/core/internal';
import { nodesOfBand, throughNodes } from '../document/builder.ts';
import { drawingPng, drawingSvg } from '../document/drawing.ts';
import {
  type CellNode,
  type DocumentNode,
  type ParagraphNode,
  partsIn,
  type RowNode,
  type TableNode,
} from '../document/nodes.ts';
import { LaterText } from '../later-text.ts';
import type { ContentRun } from '../output.ts';
import { escapeAttribute, escapeXml } from '../xml/escape.ts';
import { anchorId } from './anchors.ts';
import type { FlowingOptions } from './flowing-options.ts';
import { Looks } from './looks.ts';
import { UsedFonts } from './web-fonts.ts';

const STYLE = `body{margin:0;padding:16px;background:#fff;font-family:"Source Sans 3",system-ui,sans-serif}
main{margin:0 auto}
p,h1,h2,h3,h4,h5,h6{margin:0;font-size:inherit;font-weight:inherit}
ul,ol{margin:0;padding-left:1.4em}
.wide{overflow-x:auto}
table{border-collapse:collapse;width:100%}
td,th{padding:1px 3px;text-align:left;vertical-align:top;font-weight:inherit}
img{display:block;max-width:100%;height:auto}
hr{border:0;margin:0}
nav ol{list-style:none;padding:0;font-size:10pt;line-height:1.7}
nav a{color:inherit;text-decoration:none}
nav a:hover{text-decoration:underline}
.page{height:24pt;break-before:page}
@media print{thead{display:table-header-group}tr{break-inside:avoid}}
`;

const pt = (points: number): string => `${Math.round(points * 10) / 10}pt`;

const edge = ({ width, color, isDashed }: PieceEdge): string =>
  `${pt(Math.max(0.5, width))} ${isDashed ? 'dashed' : 'solid'} ${color}`;

const edges = (drawn: CellNode['edges']): string[] =>
  (['top', 'right', 'bottom', 'left'] as const).flatMap((side) => {
    const one = drawn[side];
    return one ? [`border-${side}:${edge(one)}`] : [];
  });

/** Where a link leads in a document of its own; null for what only the viewer can follow. */
const addressOf = (to: LinkTarget | undefined): string | null => {
  if (!to) return null;
  if ('address' in to) return safeAddress(to.address);
  return 'anchor' in to ? `#${anchorId(to.anchor)}` : null;
};

interface Heading {
  level: number;
  title: string;
  id: string;
}

/** Lists that are open: their kind, outermost first. */
type OpenLists = ('ul' | 'ol')[];

/** Writes a document as HTML that says what is a heading, a table and its captions. */
class Flowing {
  readonly looks: Looks;
  readonly headings: Heading[] = [];
  readonly fonts = new UsedFonts();
  private readonly images = new Map<string, string>();
  private readonly lists: OpenLists = [];
  /** Of the tables that are open: whether their captions, or their rows, are being written. */
  private readonly tables: ('empty' | 'head' | 'body')[] = [];
  private readonly widths: TableNode[] = [];

  constructor(private readonly run: ContentRun<FlowingOptions>) {
    this.looks = new Looks(run.options.looks === 'inline');
  }

  /** Gets the pictures that nodes show. */
  async ready(nodes: readonly DocumentNode[]): Promise<void> {
    for (const { content } of partsIn(nodes)) {
      if (content.kind !== 'picture' || this.images.has(content.picture)) continue;
      const bytes = await this.run.pictures(content.picture);
      const kind = bytes?.[0] === 0x89 ? 'png' : 'jpeg';
      const address = bytes ? `data:image/${kind};base64,${Buffer.from(bytes).toString('base64')}` : '';
      this.images.set(content.picture, address);
    }
  }

  /** `width`: of what they stand in, in points. */
  nodes(nodes: readonly DocumentNode[], width: number): string {
    return nodes.map((node) => this.node(node, width)).join('');
  }

  node(node: DocumentNode, width: number): string {
    const ended = node.kind === 'paragraph' && this.listOf(node) ? '' : this.endLists(0);
    return ended + this.written(node, width);
  }

  private written(node: DocumentNode, width: number): string {
    switch (node.kind) {
      case 'paragraph':
        return this.paragraph(node, false);
      case 'table': {
        this.tables.push('empty');
        this.widths.push(node);
        const whole = node.columns.reduce((sum, column) => sum + column, 0);
        const share = (points: number): string => `${Math.round((points / Math.max(1, width)) * 1000) / 10}%`;
        const look = this.looks.of([
          node.before > 0 && `margin-top:${pt(node.before)}`,
          node.left > 1 && `margin-left:${share(node.left)}`,
          `width:${share(Math.min(whole, width))}`,
        ]);
        const columns = node.columns.map(
          (column) => `<col style="width:${Math.round((column / whole) * 1000) / 10}%">`,
        );
        return `<div class="wide"><table${look}><colgroup>${columns.join('')}</colgroup>\n`;
      }
      case 'row':
        return this.row(node);
      case 'tableEnds': {
        const state = this.tables.pop();
        this.widths.pop();
        const end = state === 'head' ? '</thead>' : state === 'body' ? '</tbody>' : '';
        return `${end}</table></div>\n`;
      }
      case 'rule':
        return `<hr${this.looks.of([
          `border-top:${edge(node.edge)}`,
          node.before > 0 && `margin-top:${pt(node.before)}`,
          node.left > 1 && `margin-left:${pt(node.left)}`,
          node.right > 1 && `margin-right:${pt(node.right)}`,
        ])}>\n`;
      case 'break':
        return `<div${this.run.options.looks === 'sheet' ? ' class="page"' : this.looks.of(['height:24pt'])}></div>\n`;
      case 'section':
      case 'restart':
        return '';
      default:
        return node satisfies never;
    }
  }

  private row(row: RowNode): string {
    const state = this.tables.at(-1)!;
    let begin = '';
    if (row.isHeader && state === 'empty') {
      begin = '<thead>';
      this.tables[this.tables.length - 1] = 'head';
    } else if (!row.isHeader && state !== 'body') {
      begin = `${state === 'head' ? '</thead>' : ''}<tbody>`;
      this.tables[this.tables.length - 1] = 'body';
    }
    const { columns } = this.widths.at(-1)!;
    const cells = row.cells.map((cell) => {
      const width = columns.slice(cell.column, cell.column + cell.span).reduce((sum, column) => sum + column, 0);
      return this.cell(cell, row, width);
    });
    return `${begin}<tr>${cells.join('')}</tr>\n`;
  }

  private cell({ span, nodes, fill, edges: drawn, isHeader }: CellNode, row: RowNode, width: number): string {
    const [first] = nodes;
    const text = nodes.length === 1 && first?.kind === 'paragraph' ? first : null;
    const content = text && text.part.content.kind === 'text' ? text.part.content : null;
    const look = this.looks.of([
      fill && `background:${fill}`,
      ...edges(drawn),
      row.above > 2 && `padding-top:${pt(row.above)}`,
      content && content.align !== 'left' && `text-align:${content.align}`,
      content && content.stands !== 'top' && `vertical-align:${content.stands}`,
      text && content?.align === 'right' && text.right > 3 && `padding-right:${pt(text.right)}`,
      text && content?.align !== 'right' && text.left > 3 && `padding-left:${pt(text.left)}`,
      ...(content ? lookOf(content.runs[0]?.look) : []),
    ]);
    const name = isHeader ? 'th' : 'td';
    const scope = isHeader ? ` scope="${row.isHeader ? 'col' : 'row'}"` : '';
    const spans = span > 1 ? ` colspan="${span}"` : '';
    const inner = content ? this.paragraph(text!, true) : this.nodes(nodes, width) + this.endLists(0);
    return `<${name}${scope}${spans}${look}>${inner}</${name}>`;
  }

  /** The list that a paragraph is an item of; null for any other. */
  private listOf({ part }: ParagraphNode): TextContent['listed'] | null {
    return part.content.kind === 'text' ? (part.content.listed ?? null) : null;
  }

  private endLists(depth: number): string {
    let ended = '';
    while (this.lists.length > depth) ended += `</${this.lists.pop()}>`;
    return ended;
  }

  /** `isBare`: its looks are those of the cell around it. */
  private paragraph(node: ParagraphNode, isBare: boolean): string {
    const { part } = node;
    const { content } = part;
    const id = part.anchor === undefined ? '' : ` id="${escapeAttribute(anchorId(part.anchor))}"`;
    switch (content.kind) {
      case 'text':
        return this.text(node, content, id, isBare);
      case 'picture':
        return this.image(node, this.images.get(content.picture) ?? '', content.alternative, id);
      case 'drawing':
        return this.image(node, this.drawn(part, content), content.alternative, id);
      case 'contents':
        return '';
      default:
        return content satisfies never;
    }
  }

  /** Programs for mail know no SVG. */
  private drawn(part: ContentPart, drawing: DrawingContent): string {
    const { book, options } = this.run;
    return options.looks === 'inline'
      ? `data:image/png;base64,${Buffer.from(drawingPng(part, drawing, book, 2)).toString('base64')}`
      : `data:image/svg+xml;base64,${Buffer.from(drawingSvg(part, drawing, book)).toString('base64')}`;
  }

  private image({ part, left, before }: ParagraphNode, address: string, alternative: string, id: string): string {
    const look = this.looks.of([
      `width:${pt(part.width)}`,
      'max-width:100%',
      left > 1 && `margin-left:${pt(left)}`,
      before > 0 && `margin-top:${pt(before)}`,
    ]);
    const image = `<img${id} src="${address}" alt="${escapeAttribute(alternative)}"${look}>`;
    return this.linked(image, part.to);
  }

  private linked(inner: string, to: LinkTarget | undefined): string {
    const address = addressOf(to);
    return address === null ? inner : `<a href="${escapeAttribute(address)}">${inner}</a>`;
  }

  private text(node: ParagraphNode, content: TextContent, id: string, isBare: boolean): string {
    const { part, left, right, before, fill, edges: drawn } = node;
    const base = content.runs[0]?.look;
    const inner = this.linked(content.runs.map((run) => this.ran(run, base)).join(''), part.to);
    const level = part.heading?.level ?? content.level;
    const own = isBare
      ? []
      : [
          ...lookOf(base),
          content.align !== 'left' && `text-align:${content.align}`,
          left > 1 && content.align !== 'right' && `margin-left:${pt(left)}`,
          right > 1 && content.align === 'right' && `margin-right:${pt(right)}`,
          before > 0 && `margin-top:${pt(before)}`,
          fill && `background:${fill}`,
          ...edges(drawn),
        ];
    if (level !== undefined) {
      const own_id = id || ` id="h-${this.headings.length + 1}"`;
      if (part.heading) this.headings.push({ ...part.heading, id: own_id.slice(5, -1) });
      return `<h${level}${own_id}${this.looks.of(own)}>${inner}</h${level}>${isBare ? '' : '\n'}`;
    }
    const { listed } = content;
    if (listed && !isBare) {
      const kind = listed.mark === '•' ? 'ul' : 'ol';
      let begin = this.endLists(listed.depth + 1);
      if (this.lists.length === listed.depth + 1 && this.lists.at(-1) !== kind) begin += this.endLists(listed.depth);
      while (this.lists.length <= listed.depth) {
        this.lists.push(kind);
        begin += `<${kind}>`;
      }
      const number = kind === 'ol' ? ` value="${Number.parseInt(listed.mark, 10) || 1}"` : '';
      return `${begin}<li${number}${this.looks.of(lookOf(base))}>${inner}</li>`;
    }
    if (isBare) return id ? `<span${id}>${inner}</span>` : inner;
    return `<p${id}${this.looks.of(own)}>${inner === '' ? '&nbsp;' : inner}</p>\n`;
  }

  /** A stretch of text, with the looks that differ from those around it. */
  private ran({ text, look, to, field }: TextRun, base: RunLook | undefined): string {
    if (field) return '';
    this.fonts.addText(this.run.book.find(look.family, look.bold, look.italic).key, text);
    const words = escapeXml(text).replaceAll('\n', '<br>');
    const own = base && look !== base ? lookOf(look).filter((one) => !lookOf(base).includes(one)) : [];
    const back = base && look !== base ? undone(look, base) : [];
    const style = this.looks.of([...own, ...back]);
    return this.linked(style === '' ? words : `<span${style}>${words}</span>`, to);
  }
}

const lookOf = (look: RunLook | undefined): string[] => {
  if (!look) return [];
  const { family, size, bold, italic, underline, strike, color } = look;
  const lines = [underline && 'underline', strike && 'line-through'].filter(Boolean);
  return [
    `font-family:"${family.replaceAll('"', '')}",${/serif/i.test(family) && !/sans/i.test(family) ? 'serif' : 'sans-serif'}`,
    `font-size:${pt(size)}`,
    ...(bold ? ['font-weight:700'] : []),
    ...(italic ? ['font-style:italic'] : []),
    ...(lines.length > 0 ? [`text-decoration:${lines.join(' ')}`] : []),
    `color:${color}`,
  ];
};

/** What the text around has and this stretch has not. */
const undone = (look: RunLook, base: RunLook): string[] => [
  ...(base.bold && !look.bold ? ['font-weight:400'] : []),
  ...(base.italic && !look.italic ? ['font-style:normal'] : []),
];

/** Whether nodes show a number of a page, which there is none of here. */
const isNumbered = (node: DocumentNode): boolean =>
  [...partsIn([node])].some(
    ({ content }) => content.kind === 'text' && content.runs.some(({ field }) => field !== undefined),
  );

const contentsOf = (headings: readonly Heading[]): string =>
  headings.length === 0
    ? ''
    : `<nav><ol>${headings
        .map(
          ({ level, title, id }) =>
            `<li style="padding-left:${(level - 1) * 14}pt"><a href="#${id}">${escapeXml(title)}</a></li>`,
        )
        .join('')}</ol></nav>\n`;

/** A report as one HTML document without pages. */
export const writeFlowing = async (
  run: ContentRun<FlowingOptions>,
  sink: Writable,
  signal: AbortSignal,
): Promise<void> => {
  const { title, language, options } = run;
  const text = new LaterText(sink, signal);
  const html = new Flowing(run);
  let deepest = 0;
  let width = 0;
  let section: ContentSection | null = null;
  const put = async (nodes: readonly DocumentNode[]): Promise<void> => {
    await html.ready(nodes);
    for (const node of nodes) {
      if (node.kind === 'section') {
        if (section) await bands(section, 'footer');
        section = node;
        width = node.width - node.margins.left - node.margins.right;
        await bands(node, 'header');
        continue;
      }
      if (node.kind === 'paragraph' && node.part.content.kind === 'contents') {
        deepest = node.part.content.levels;
        await text.leaveRoom();
      }
      await text.write(html.node(node, width));
    }
  };
  const bands = async (one: ContentSection, band: 'header' | 'footer'): Promise<void> => {
    if (!options.bands) return;
    const nodes = nodesOfBand(one, band).filter((node) => !isNumbered(node));
    if (nodes.length === 0) return;
    await html.ready(nodes);
    await text.write(`<${band}>${html.nodes(nodes, width)}</${band}>\n`);
  };
  try {
    if (options.whole)
      await text.write(
        `<!doctype html>\n<html lang="${escapeAttribute(language)}"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>${escapeXml(title)}</title><style>${STYLE}</style></head><body>\n`,
      );
    await text.write('<main>\n');
    await throughNodes(run.content, put);
    const last: ContentSection | null = section;
    if (last) await bands(last, 'footer');
    await text.write('</main>\n');
    const rules = [...html.looks.rules()];
    if (width > 0) rules.unshift(`main{max-width:${pt(width)}}\n`);
    if (options.looks === 'sheet') {
      await text.write(`<style>${rules.join('')}`);
      for await (const rule of html.fonts.rules(run.book)) await text.write(rule);
      await text.write('</style>\n');
    }
    if (options.whole) await text.write('</body></html>\n');
    await text.end(contentsOf(html.headings.filter(({ level }) => level <= deepest)));
  } finally {
    await text.close();
  }
};
