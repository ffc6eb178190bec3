import type { Writable } from 'node:stream';
import type { ContentPart, TextContent } from '@gaveta/core/internal';
import type { CellNode, ParagraphNode, RowNode, TableNode } from '../document/nodes.ts';
import { type TableTeller, throughTables } from '../document/whole-tables.ts';
import { linesOf, plainWords, wordsOf } from '../document/words.ts';
import { LaterText } from '../later-text.ts';
import type { ContentRun } from '../output.ts';
import { padded, placesOf, shared, wrapped } from './columns.ts';
import type { TextOptions } from './options.ts';

/** Between two columns. */
const GAP = '  ';

interface Heading {
  level: number;
  title: string;
}

const alignOf = ({ nodes }: CellNode): TextContent['align'] => {
  const [first] = nodes;
  return first?.kind === 'paragraph' && first.part.content.kind === 'text' ? first.part.content.align : 'left';
};

/** Lines of words, each with the line below it that a heading has. */
class Lines implements TableTeller {
  readonly headings: Heading[] = [];
  deepest = 0;
  /** Widths of the columns of the table that is open, in places. */
  private widths: number[] = [];
  private isBlank = true;
  private width = 0;

  constructor(
    private readonly text: LaterText,
    private readonly places: number,
  ) {}

  private line(words: string): Promise<void> | undefined {
    this.isBlank = words === '';
    return this.text.write(`${words.trimEnd()}\n`);
  }

  private async gap(): Promise<void> {
    if (!this.isBlank) await this.line('');
  }

  async node(node: Parameters<TableTeller['node']>[0]): Promise<void> {
    switch (node.kind) {
      case 'section':
        this.width = node.width - node.margins.left - node.margins.right;
        break;
      case 'paragraph':
        await this.paragraph(node);
        break;
      case 'rule':
        await this.line('-'.repeat(this.places));
        break;
      case 'break':
        await this.gap();
        break;
      case 'restart':
        break;
      default:
        node satisfies never;
    }
  }

  private async paragraph({ part, before, left }: ParagraphNode): Promise<void> {
    const { content } = part;
    if (content.kind === 'contents') {
      this.deepest = content.levels;
      await this.text.leaveRoom();
      return;
    }
    if (content.kind === 'drawing') await this.drawing(part);
    const words = content.kind === 'drawing' ? '' : wordsOf(part);
    if (words === '') return;
    const level = part.heading?.level ?? (content.kind === 'text' ? content.level : undefined);
    if (level !== undefined || before > 8) await this.gap();
    const indent = content.kind === 'text' && content.align === 'left' ? this.indent(left) : 0;
    const room = Math.max(10, this.places - indent);
    const align = content.kind === 'text' ? content.align : 'left';
    const lines = wrapped(words, room);
    for (const one of lines)
      await this.line(' '.repeat(indent) + (align === 'left' || align === 'justify' ? one : padded(one, room, align)));
    if (part.heading) this.headings.push(part.heading);
    if (level !== undefined && level < 3)
      await this.line((level === 1 ? '=' : '-').repeat(Math.max(...lines.map(placesOf))));
  }

  private indent(points: number): number {
    const share = this.width > 0 ? points / this.width : 0;
    return Math.min(Math.floor(this.places / 2), Math.round(share * this.places));
  }

  /** The numbers of a chart stand for it. */
  private async drawing({ content }: ContentPart): Promise<void> {
    if (content.kind !== 'drawing') return;
    const { alternative, table } = content;
    if (alternative !== '') await this.line(`[${plainWords(alternative)}]`);
    const rows = table.map((row) => row.map(plainWords));
    const count = Math.max(0, ...rows.map((row) => row.length));
    const wanted = Array.from({ length: count }, (_, i) => Math.max(...rows.map((row) => placesOf(row[i] ?? ''))));
    const widths = shared(wanted, this.places - GAP.length * Math.max(0, count - 1));
    for (const [i, row] of rows.entries()) {
      const cells = row.map(
        (words, at) => ({ words, width: widths[at]!, align: at === 0 ? 'left' : 'right' }) as const,
      );
      await this.beside(cells);
      if (i === 0) await this.under(widths);
    }
  }

  async table({ columns, before }: TableNode, rows: readonly RowNode[]): Promise<void> {
    const wanted = columns.map(() => 0);
    for (const { cells } of rows)
      for (const { column, span, nodes } of cells) {
        if (span > 1) continue;
        for (const words of linesOf(nodes))
          for (const line of words.split('\n')) wanted[column] = Math.max(wanted[column]!, placesOf(line));
      }
    for (const { cells } of rows)
      for (const { column, span, nodes } of cells) {
        if (span === 1) continue;
        const own = wanted.slice(column, column + span).reduce((sum, width) => sum + width, GAP.length * (span - 1));
        const needed = Math.max(0, ...linesOf(nodes).flatMap((words) => words.split('\n').map(placesOf)));
        wanted[column + span - 1]! += Math.max(0, needed - own);
      }
    this.widths = shared(wanted, this.places - GAP.length * (columns.length - 1));
    if (before > 8) await this.gap();
    for (const [i, row] of rows.entries()) {
      await this.row(null, row);
      if (row.isHeader && !rows[i + 1]?.isHeader) await this.under(this.widths);
    }
  }

  async row(_: TableNode | null, { cells }: RowNode): Promise<void> {
    const placed = cells.map((cell) => {
      const own = this.widths.slice(cell.column, cell.column + cell.span);
      const width = own.reduce((sum, one) => sum + one, 0) + GAP.length * Math.max(0, own.length - 1);
      return { words: linesOf(cell.nodes).join('\n'), width, align: alignOf(cell) };
    });
    await this.beside(placed);
  }

  tableEnds(): void {}

  private async under(widths: readonly number[]): Promise<void> {
    await this.line(widths.map((width) => '-'.repeat(width)).join(GAP));
  }

  /** Words of cells, each in its own column. */
  private async beside(cells: readonly { words: string; width: number; align: TextContent['align'] }[]): Promise<void> {
    const lines = cells.map(({ words, width }) => wrapped(words, Math.max(1, width)));
    const high = Math.max(1, ...lines.map((own) => own.length));
    for (let at = 0; at < high; at++) {
      const parts = cells.map(({ width, align }, i) => padded(lines[i]![at] ?? '', width, align));
      const told = this.line(parts.join(GAP));
      if (told) await told;
    }
  }
}

/** A report as text in characters of one width. */
export const writeText = async (run: ContentRun<TextOptions>, sink: Writable, signal: AbortSignal): Promise<void> => {
  const text = new LaterText(sink, signal);
  const lines = new Lines(text, run.options.width);
  try {
    await throughTables(run.content, lines);
    const listed = lines.headings.filter(({ level }) => level <= lines.deepest);
    await text.end(listed.map(({ level, title }) => `${'  '.repeat(level - 1)}${plainWords(title)}\n`).join(''));
  } finally {
    await text.close();
  }
};
