import type { Writable } from 'node:stream';
import { type ContentPart, type LinkTarget, safeAddress, type TextContent, type TextRun } from '@gaveta/core/internal';
import { drawingPng } from '../document/drawing.ts';
import { type ParagraphNode, partsIn, type RowNode, type TableNode } from '../document/nodes.ts';
import { type TableTeller, throughTables } from '../document/whole-tables.ts';
import { linesOf, plainWords, wordsOf } from '../document/words.ts';
import { LaterText } from '../later-text.ts';
import type { ContentRun } from '../output.ts';
import type { MarkdownOptions } from './options.ts';

/** Signs that Markdown would take for more than they are. */
const SIGNS = /[\\`*_[\]<>|~]/g;

export const escaped = (words: string): string => words.replace(SIGNS, (sign) => `\\${sign}`).replaceAll('&', '&amp;');

/** What makes a line more than a paragraph where it stands at its start. */
const atStart = (line: string): string =>
  line.replace(
    /^(\s*)([#+-]|\d+[.)])(?=\s|$)/,
    (_, space: string, sign: string) => `${space}${sign.slice(0, -1)}\\${sign.slice(-1)}`,
  );

const addressOf = (to: LinkTarget | undefined): string | null =>
  to && 'address' in to
    ? (safeAddress(to.address)?.replace(/[\s()<>\\]/g, (sign) =>
        encodeURIComponent(sign).replace('(', '%28').replace(')', '%29'),
      ) ?? null)
    : null;

/** Words with their looks and links. */
const worded = (words: string, { look }: TextRun, to: LinkTarget | undefined): string => {
  if (words.trim() === '') return words;
  const [, before = '', inner = '', after = ''] = /^(\s*)([\s\S]*?)(\s*)$/.exec(words) ?? [];
  let written = escaped(inner);
  if (look.bold) written = `**${written}**`;
  if (look.italic) written = `*${written}*`;
  if (look.strike) written = `~~${written}~~`;
  const address = addressOf(to);
  return before + (address === null ? written : `[${written}](${address})`) + after;
};

/** As {@link worded}, where the bold of a heading or a caption says nothing. */
const plainly = (words: string, run: TextRun, to: LinkTarget | undefined): string =>
  worded(words, { ...run, look: { ...run.look, bold: false } }, to);

const alignOf = (rows: readonly RowNode[], column: number): string => {
  for (const { cells, isHeader } of rows) {
    const cell = isHeader ? undefined : cells.find((one) => one.column === column && one.nodes.length > 0);
    const [first] = cell?.nodes ?? [];
    const text: TextContent | null =
      first?.kind === 'paragraph' && first.part.content.kind === 'text' ? first.part.content : null;
    if (text) return text.align === 'right' ? '---:' : text.align === 'center' ? ':---:' : '---';
  }
  return '---';
};

class Markdown implements TableTeller {
  readonly headings: { level: number; title: string }[] = [];
  deepest = 0;
  private isInList = false;

  constructor(
    private readonly text: LaterText,
    private readonly run: ContentRun<MarkdownOptions>,
  ) {}

  async node(node: Parameters<TableTeller['node']>[0]): Promise<void> {
    const isItem = node.kind === 'paragraph' && node.part.content.kind === 'text' && node.part.content.listed;
    if (!isItem) await this.endList();
    switch (node.kind) {
      case 'paragraph':
        await this.paragraph(node);
        break;
      case 'break':
        await this.text.write('---\n\n');
        break;
      case 'rule':
      case 'section':
      case 'restart':
        break;
      default:
        node satisfies never;
    }
  }

  private async paragraph({ part }: ParagraphNode): Promise<void> {
    const { content } = part;
    if (content.kind === 'contents') {
      this.deepest = content.levels;
      await this.text.leaveRoom();
      return;
    }
    if (content.kind !== 'text') {
      await this.picture(part);
      return;
    }
    const level = part.heading?.level ?? content.level;
    if (part.heading) this.headings.push(part.heading);
    if (level !== undefined) {
      const words = wordsOf(part, plainly).replace(/\s+/g, ' ').trim();
      await this.text.write(`${'#'.repeat(level)} ${words}\n\n`);
      return;
    }
    const { listed } = content;
    const own = listed ? { ...part, content: { ...content, listed: undefined } } : part;
    const words = wordsOf(own as ContentPart, worded);
    if (words.trim() === '') return;
    const mark = listed ? `${'   '.repeat(listed.depth)}${listed.mark === '•' ? '-' : listed.mark} ` : '';
    const lines = words.split('\n').map((line) => atStart(line));
    this.isInList = listed !== undefined;
    await this.text.write(`${mark}${lines.join('  \n')}\n${listed ? '' : '\n'}`);
  }

  private async endList(): Promise<void> {
    if (this.isInList) await this.text.write('\n');
    this.isInList = false;
  }

  /** A picture, or what it says; a chart’s numbers stand below what it says. */
  private async picture(part: ContentPart): Promise<void> {
    const { content } = part;
    if (content.kind !== 'picture' && content.kind !== 'drawing') return;
    const said = escaped(plainWords(content.alternative)).replaceAll('\n', ' ');
    if (this.run.options.pictures) {
      const bytes =
        content.kind === 'drawing'
          ? drawingPng(part, content, this.run.book, 2)
          : await this.run.pictures(content.picture);
      const kind = content.kind === 'drawing' || bytes?.[0] === 0x89 ? 'png' : 'jpeg';
      if (bytes)
        await this.text.write(`![${said}](data:image/${kind};base64,${Buffer.from(bytes).toString('base64')})\n\n`);
      return;
    }
    if (said !== '') await this.text.write(`*${said}*\n\n`);
    if (content.kind !== 'drawing') return;
    const [captions, ...rows] = content.table;
    if (!captions || rows.length === 0) return;
    const line = (cells: readonly string[]): string =>
      `| ${cells.map((cell) => inCell(escaped(plainWords(cell)))).join(' | ')} |\n`;
    await this.text.write(
      line(captions) + line(captions.map((_, i) => (i === 0 ? '---' : '---:'))).replaceAll('\\', ''),
    );
    for (const row of rows) await this.text.write(line(row));
    await this.text.write('\n');
  }

  async table(table: TableNode, rows: readonly RowNode[], isWhole: boolean): Promise<void> {
    const [first] = rows;
    await this.endList();
    // What merely stands side by side is a line, with a heading of its own where it has one.
    if (isWhole && first && rows.length === 1 && !first.isHeader) {
      await this.line(first);
      return;
    }
    const heads = first?.isHeader ? first : null;
    const captions = heads ? this.cells(table, heads, plainly) : table.columns.map(() => '');
    await this.text.write(
      `| ${captions.join(' | ')} |\n| ${table.columns.map((_, i) => alignOf(rows, i)).join(' | ')} |\n`,
    );
    for (const row of heads ? rows.slice(1) : rows) await this.row(table, row);
  }

  private async line(row: RowNode): Promise<void> {
    const headed = [...partsIn([row])].find(({ heading }) => heading !== undefined);
    if (headed?.heading) {
      this.headings.push(headed.heading);
      await this.text.write(`${'#'.repeat(headed.heading.level)} ${wordsOf(headed, plainly).trim()}\n\n`);
    }
    const parts = [...partsIn([row])].filter((part) => part !== headed);
    for (const part of parts) if (part.content.kind !== 'text') await this.picture(part);
    const words = parts
      .filter(({ content }) => content.kind === 'text')
      .map((part) => wordsOf(part, worded).replace(/\s+/g, ' ').trim())
      .filter((one) => one !== '');
    if (words.length > 0) await this.text.write(`${atStart(words.join(' · '))}\n\n`);
  }

  row(table: TableNode, row: RowNode): Promise<void> | undefined {
    return this.text.write(`| ${this.cells(table, row, worded).join(' | ')} |\n`);
  }

  private cells({ columns }: TableNode, { cells }: RowNode, wording: typeof worded): string[] {
    const written = columns.map(() => '');
    for (const { column, nodes } of cells) written[column] = inCell(linesOf(nodes, wording).join('\n'));
    return written;
  }

  async tableEnds(): Promise<void> {
    await this.text.write('\n');
  }
}

const inCell = (words: string): string => words.trim().replace(/\n+/g, '<br>');

/** A report as Markdown. */
export const writeMarkdown = async (
  run: ContentRun<MarkdownOptions>,
  sink: Writable,
  signal: AbortSignal,
): Promise<void> => {
  const text = new LaterText(sink, signal);
  const markdown = new Markdown(text, run);
  try {
    await throughTables(run.content, markdown);
    const listed = markdown.headings.filter(({ level }) => level <= markdown.deepest);
    const contents = listed.map(({ level, title }) => `${'  '.repeat(level - 1)}- ${escaped(plainWords(title))}\n`);
    await text.end(contents.length > 0 ? `${contents.join('')}\n` : '');
  } finally {
    await text.close();
  }
};
