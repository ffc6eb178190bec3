import type { TotalPlan } from '../data/level.ts';
import type { PlannedItem, ReportPlan } from '../data/planned.ts';
import type { Checked } from '../formula/checked.ts';
import { compileFormula } from '../formula/compile.ts';
import type { EvaluationContext } from '../formula/functions/context.ts';
import type { GroupNode } from '../shape/summary.ts';
import { identityOf, type Value } from '../value/value.ts';
import { downKeysOf, summaryOf } from './targets.ts';

/** A group of a cell: which key of its item it is of, from 0, and its value. */
export interface CellGroup {
  key: number;
  value: Value;
}

/** The cell of an item that is asked about: the groups that it stands for. */
export class AskedCell {
  constructor(
    private readonly down: GroupNode,
    private readonly across: GroupNode,
  ) {}

  /** Whether a row with these values of the keys is one of the cell’s. */
  holds(planned: PlannedItem, keys: readonly Value[]): boolean {
    const identities = keys.map(identityOf);
    return this.down.holds(identities, 0) && this.across.holds(identities, downKeysOf(planned));
  }

  /** In the order of the keys. */
  groups(planned: PlannedItem): CellGroup[] {
    const found: CellGroup[] = [];
    const note = (innermost: GroupNode, from: number): void => {
      for (let node: GroupNode | null = innermost; node?.parent; node = node.parent)
        found.push({ key: from + node.depth - 1, value: node.value });
    };
    note(this.down, 0);
    note(this.across, downKeysOf(planned));
    return found.sort((a, b) => a.key - b.key);
  }

  /** What the item itself counted; null where nothing is known of it. */
  counted(planned: PlannedItem, total: TotalPlan): { value: Value } | null {
    const place =
      summaryOf(planned)
        ?.parts.flatMap((part) => part.totals)
        .indexOf(total) ?? -1;
    const found = this.down.cells.get(this.across.id)?.[place];
    return found ? { value: found.result() } : null;
  }

  /** A formula over the totals and the groups of the cell. */
  value({ totals }: ReportPlan, planned: PlannedItem, formula: Checked, context: EvaluationContext): Value {
    const summary = summaryOf(planned);
    if (!summary) return null;
    const rows = [...context.rows];
    const row: Value[] = [1, ...summary.keys.map(() => null)];
    for (const { key, value } of this.groups(planned)) row[key + 1] = value;
    rows[summary.cell.index] = row;
    const value = (slot: number): Value => {
      const total = totals[slot]!;
      return total.scope.kind === 'cell' ? (this.counted(planned, total)?.value ?? null) : context.totals.value(slot);
    };
    return compileFormula(formula)({ ...context, rows, totals: { value } });
  }
}
