import type { ContentListener } from '@gaveta/core/internal';
import { nodesOfBand, throughNodes } from './builder.ts';
import type { DocumentNode, RowNode, TableNode } from './nodes.ts';

/** Rows that are held before a table is written. */
const MOST_HELD = 400;

/** Is told of tables with their first rows, and of the rows that come after them. */
export interface TableTeller {
  /** Everything but tables and rows. */
  node(node: Exclude<DocumentNode, TableNode | RowNode | { kind: 'tableEnds' }>): Promise<void> | void;
  /** `isWhole`: no further rows come. */
  table(table: TableNode, rows: readonly RowNode[], isWhole: boolean): Promise<void> | void;
  row(table: TableNode, row: RowNode): Promise<void> | void;
  tableEnds(): Promise<void> | void;
}

/** Holds the first rows of tables back, so that what they are is known before they are written. */
export class WholeTables {
  private table: TableNode | null = null;
  private held: RowNode[] | null = null;

  constructor(private readonly teller: TableTeller) {}

  async put(nodes: readonly DocumentNode[]): Promise<void> {
    for (const node of nodes) {
      const told = this.take(node);
      if (told) await told;
    }
  }

  /** What a row holds that is more than a line for each cell, one after the other; the table goes on behind it. */
  private async apart(row: RowNode): Promise<void> {
    const { teller, table, held } = this;
    if (!held) await teller.tableEnds();
    else if (held.length > 0) await this.ends(table!, held);
    const inner = new WholeTables(teller);
    for (const { nodes } of row.cells) await inner.put(nodes);
    this.table = table;
    this.held = [];
  }

  private take(node: DocumentNode): Promise<void> | void {
    const { teller, table, held } = this;
    switch (node.kind) {
      case 'table':
        this.table = node;
        this.held = [];
        return;
      case 'row':
        if (node.cells.some(({ nodes }) => nodes.some(({ kind }) => kind === 'table'))) return this.apart(node);
        if (!held) return teller.row(table!, node);
        held.push(node);
        if (held.length < MOST_HELD) return;
        this.held = null;
        return teller.table(table!, held, false);
      case 'tableEnds':
        this.table = null;
        this.held = null;
        return this.ends(table!, held);
      default:
        return teller.node(node);
    }
  }

  private async ends(table: TableNode, held: readonly RowNode[] | null): Promise<void> {
    if (held?.length === 0) return;
    if (held) await this.teller.table(table, held, true);
    await this.teller.tableEnds();
  }
}

/** Tells of a report without pages, with what the top of its first page shows in front. */
export const throughTables = async (
  content: (listener: ContentListener) => Promise<void>,
  teller: TableTeller,
): Promise<void> => {
  const tables = new WholeTables(teller);
  let isFirst = true;
  await throughNodes(content, async (nodes) => {
    for (const node of nodes) {
      await tables.put([node]);
      if (node.kind !== 'section' || !isFirst) continue;
      isFirst = false;
      await tables.put(nodesOfBand(node, 'header'));
    }
  });
};
