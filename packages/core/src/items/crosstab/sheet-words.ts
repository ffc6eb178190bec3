import type { CrosstabCell } from '../../definition/schema.ts';
import type { GroupNode } from '../../shape/summary.ts';
import { formatValue } from '../../text/format.ts';
import { blankWord, totalWord } from '../../text/report-words.ts';
import type { Value } from '../../value/value.ts';
import type { AxisLine } from './grid.ts';
import type { PreparedCrosstab } from './prepared.ts';

/** The node of a group around one, or itself, at a depth; null where there is none. */
export const ancestorAt = (node: GroupNode, depth: number): GroupNode | null => {
  for (let at: GroupNode | null = node; at; at = at.parent) if (at.depth === depth) return at;
  return null;
};

/** What a value of the cells is called. */
export const captionOf = ({ caption, formula }: CrosstabCell): string => caption ?? formula;

/** What the labels, headings and cells of a crosstab say. */
export class SheetWords {
  /** Whether several values of a cell stand below one another. */
  readonly isBelow: boolean;

  constructor(private readonly prepared: PreparedCrosstab) {
    const { item, cells } = prepared;
    this.isBelow = (item.below ?? false) && cells.length > 1;
  }

  private get settings() {
    const { timeZone, language } = this.prepared.preparing.report;
    return { timeZone, language };
  }

  /** What a cell of the value at a place shows. */
  value(value: Value, at: number): string {
    return formatValue(value, this.prepared.cells[at]!.format, this.settings);
  }

  private valueWords(node: GroupNode, key: number): string {
    const { language } = this.prepared.preparing.report;
    if (node.value === null || node.value === '') return blankWord(language);
    return formatValue(node.value, this.prepared.formats[key] ?? '', this.settings);
  }

  private get total(): string {
    const { item, preparing } = this.prepared;
    return item.totalCaption ?? totalWord(preparing.report.language);
  }

  /** What the line of a group, of its totals or of everything is called. */
  rowLabel({ node, kind, group, others }: AxisLine): string {
    if (others !== null) return others;
    if (kind === 'whole') return this.prepared.item.down.length === 0 ? '' : this.total;
    const own = this.valueWords(node, group);
    return kind === 'total' ? `${totalWord(this.prepared.preparing.report.language)} ${own}` : own;
  }

  /** What a row of the headings says over a column. */
  heading({ node, kind, group, others, isClosed }: AxisLine, row: number): string {
    const { down, across } = this.prepared.item;
    if (kind === 'whole') return row === 0 && across.length > 0 ? this.total : '';
    if (row === group) return others ?? this.valueWords(node, down.length + row);
    if (row > group)
      return row === group + 1 && kind !== 'leaf' && !isClosed
        ? totalWord(this.prepared.preparing.report.language)
        : '';
    return this.valueWords(ancestorAt(node, row + 1)!, down.length + row);
  }

  /** The group whose value a row of the headings says over a column; null where it says something else. */
  headed({ node, kind, group, others }: AxisLine, row: number): GroupNode | null {
    if (kind === 'whole' || row > group || (row === group && others !== null)) return null;
    return ancestorAt(node, row + 1);
  }

  /** What stands over the labels of a group down. */
  corner(group: number): string {
    const { down, labels = 'indented' } = this.prepared.item;
    const name = (at: number): string => down[at]!.caption ?? down[at]!.name;
    return labels === 'indented' ? down.map((_, i) => name(i)).join(' / ') : name(group);
  }

  /** Whether the names of the values stand over them. */
  get hasCaptions(): boolean {
    const { item, cells } = this.prepared;
    return !this.isBelow && (cells.length > 1 || item.across.length === 0);
  }

  /**
   * What a line says in the column of labels of a group; `above`: the line before it. `node`: the group whose label it is, where
   * its sign stands.
   */
  label(line: AxisLine, above: AxisLine | null, group: number): { words: string; node: GroupNode | null } {
    const { labels = 'indented', repeatLabels = false } = this.prepared.item;
    const own = line.kind === 'heading' ? line.node : null;
    if (labels === 'indented') return { words: this.rowLabel(line), node: own };
    if (line.kind === 'whole') return { words: group === 0 ? this.rowLabel(line) : '', node: null };
    if (group === line.group) return { words: this.rowLabel(line), node: own };
    if (group > line.group) return { words: '', node: null };
    const node = ancestorAt(line.node, group + 1)!;
    const isSame = above !== null && above.kind !== 'whole' && ancestorAt(above.node, group + 1) === node;
    // The line of a group's totals says its value already.
    if (isSame) return { words: repeatLabels ? this.valueWords(node, group) : '', node: null };
    return { words: this.valueWords(node, group), node };
  }
}
