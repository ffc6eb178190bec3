import type { Level, LevelSort } from '../data/level.ts';
import { groupOrder } from '../data/plan-rows.ts';
import { compileFormula } from '../formula/compile.ts';
import type { Compiled } from '../formula/functions/context.ts';
import type { TextOrder } from '../text/text-order.ts';
import { compareValues, FormulaError, identityOf, type Value } from '../value/value.ts';
import type { HeldRow, HeldSet } from './reader.ts';
import type { Totals } from './totals.ts';

interface SortKey {
  evaluate: Compiled;
  descending: boolean;
  blanksFirst: boolean;
}

/** How a level's rows are put in order when the database did not. */
interface Shape {
  filter: Compiled | null;
  /** By group, outermost first. */
  keys: Compiled[];
  sort: SortKey[];
}

const sortKey = ({ formula, descending, blanksFirst }: LevelSort): SortKey => ({
  evaluate: compileFormula(formula),
  descending,
  blanksFirst,
});

const isBlank = (value: Value): boolean => value === null || value instanceof FormulaError;

/** Compares by value, blanks apart, texts in the order of a language. */
export const orderValues = (a: Value, b: Value, key: Omit<SortKey, 'evaluate'>, texts: TextOrder): number => {
  if (isBlank(a) || isBlank(b)) {
    if (isBlank(a) && isBlank(b)) return 0;
    return isBlank(a) === key.blanksFirst ? -1 : 1;
  }
  const order = compareValues(a as never, b as never, texts.sort);
  return key.descending ? -order : order;
};

/**
 * Filters, sorts, ranks and cuts rows read ahead, where the database could not: by formulas that it does not know, by
 * totals that are worked out here, or along recursive rows.
 */
export class Settler {
  private readonly shapes = new Map<Level, Shape>();

  constructor(
    private readonly totals: Totals,
    private readonly texts: TextOrder,
    /** Told of a filter that gave an error instead of TRUE or FALSE; such rows are left out. */
    private readonly filterFailed: (level: Level, error: FormulaError) => void,
  ) {}

  readonly settle = (level: Level, given: HeldRow[]): HeldSet => {
    const shape = this.shape(level);
    let rows = given;
    if (!level.tree) this.rowTotals(level, rows);
    if (shape.filter) rows = rows.filter((held) => this.keeps(level, held, shape.filter!));
    if (level.sortsLocally) rows = this.sorted(level, rows, shape);
    if (level.tree) {
      rows = asTree(level, rows);
      this.treeTotals(level, rows);
    }
    const { kept, cut } = this.firstOfGroups(level, rows, shape);
    rows = kept;
    const { first = rows.length, others } = level.drawer;
    if (!others) rows = rows.slice(0, first);
    this.rank(level, rows, shape);
    return { rows: rows.slice(0, first), others: others ? [...cut, ...rows.slice(first)] : [] };
  };

  private keeps(level: Level, held: HeldRow, filter: Compiled): boolean {
    const holds = this.at(level, held, filter);
    if (holds instanceof FormulaError) this.filterFailed(level, holds);
    return holds === true;
  }

  private shape(level: Level): Shape {
    let shape = this.shapes.get(level);
    if (!shape) {
      shape = {
        filter: level.localFilter && compileFormula(level.localFilter),
        keys: level.groups.map((g) => compileFormula(g.key)),
        sort: [...level.groups.flatMap(groupOrder), ...level.sort].map(sortKey),
      };
      this.shapes.set(level, shape);
    }
    return shape;
  }

  /** A formula's value with a held row current. */
  private at(level: Level, held: HeldRow, evaluate: Compiled): Value {
    const { context } = this.totals;
    context.rows[level.index] = held.row;
    this.totals.take(level, held.row, held);
    return evaluate(context);
  }

  private rowTotals(level: Level, rows: HeldRow[]): void {
    for (const total of this.totals.heldTotals(level, 'row')) {
      for (const held of rows) {
        held.totals ??= new Map();
        held.totals.set(total.slot, this.totals.ofRows(total, level, [held]));
      }
    }
  }

  private sorted(level: Level, rows: HeldRow[], shape: Shape): HeldRow[] {
    this.groupTotals(level, rows, shape);
    const entries = rows.map((held) => ({
      held,
      values: shape.sort.map((key) => this.at(level, held, key.evaluate)),
    }));
    entries.sort((a, b) => {
      for (const [i, key] of shape.sort.entries()) {
        const order = orderValues(a.values[i]!, b.values[i]!, key, this.texts);
        if (order !== 0) return order;
      }
      return a.held.ordinal - b.held.ordinal;
    });
    // From here on a group's totals are those of the rows that it shows.
    for (const [g] of level.groups.entries()) {
      for (const { slot } of this.totals.heldTotals(level, 'group', g))
        for (const held of rows) held.totals?.delete(slot);
    }
    return entries.map((entry) => entry.held);
  }

  /** The first rows of each group, of the innermost groups first. */
  private firstOfGroups(level: Level, rows: HeldRow[], shape: Shape): { kept: HeldRow[]; cut: HeldRow[] } {
    let kept = rows;
    const cut: HeldRow[] = [];
    for (let g = level.groups.length - 1; g >= 0; g--) {
      const { first } = level.groups[g]!.group;
      if (first === undefined) continue;
      const counts = new Map<string, number>();
      const within: HeldRow[] = [];
      for (const held of kept) {
        const id = this.groupOf(level, held, shape, g + 1);
        const count = (counts.get(id) ?? 0) + 1;
        counts.set(id, count);
        (count <= first ? within : cut).push(held);
      }
      kept = within;
    }
    return { kept, cut };
  }

  /** Equal for rows of the same groups, of so many of them from the outermost on. */
  private groupOf(level: Level, held: HeldRow, shape: Shape, groups: number): string {
    const values = shape.keys.slice(0, groups).map((key) => identityOf(this.at(level, held, key)));
    return values.join('\u0000');
  }

  /** Totals of groups that their order stands on. */
  private groupTotals(level: Level, rows: HeldRow[], shape: Shape): void {
    for (const [g] of level.groups.entries()) {
      const totals = this.totals.heldTotals(level, 'group', g);
      if (totals.length === 0) continue;
      const buckets = new Map<string, HeldRow[]>();
      for (const held of rows) {
        const id = this.groupOf(level, held, shape, g + 1);
        const bucket = buckets.get(id);
        if (bucket) bucket.push(held);
        else buckets.set(id, [held]);
      }
      for (const bucket of buckets.values()) {
        for (const total of totals) {
          const value = this.totals.ofRows(total, level, bucket);
          for (const held of bucket) {
            held.totals ??= new Map();
            held.totals.set(total.slot, value);
          }
        }
      }
    }
  }

  private rank(level: Level, rows: HeldRow[], shape: Shape): void {
    for (const total of this.totals.heldRanks(level)) {
      const groups = total.scope.kind === 'group' ? total.scope.group + 1 : 0;
      const buckets = new Map<string, { held: HeldRow; value: Value }[]>();
      for (const held of rows) {
        const id = this.groupOf(level, held, shape, groups);
        const entry = { held, value: this.at(level, held, () => this.totals.formula(total.slot)) };
        const bucket = buckets.get(id);
        if (bucket) bucket.push(entry);
        else buckets.set(id, [entry]);
      }
      const largestFirst = { descending: true, blanksFirst: false };
      for (const bucket of buckets.values()) {
        bucket.sort((a, b) => orderValues(a.value, b.value, largestFirst, this.texts));
        let rank = 0;
        for (const [i, { held, value }] of bucket.entries()) {
          const tied = i > 0 && orderValues(bucket[i - 1]!.value, value, largestFirst, this.texts) === 0;
          if (!tied) rank = i + 1;
          held.totals ??= new Map();
          held.totals.set(total.slot, rank);
        }
      }
    }
  }

  /** Totals of a recursive row count it and everything below it. */
  private treeTotals(level: Level, rows: HeldRow[]): void {
    const totals = this.totals.heldTotals(level, 'row');
    if (totals.length === 0) return;
    for (const [i, held] of rows.entries()) {
      let end = i + 1;
      while (end < rows.length && depthOf(level, rows[end]!) > depthOf(level, held)) end++;
      held.totals ??= new Map();
      for (const total of totals) held.totals.set(total.slot, this.totals.ofRows(total, level, rows.slice(i, end)));
    }
  }
}

export const depthOf = (level: Level, { row }: { row: HeldRow['row'] }): number => Number(row[level.depthColumn] ?? 1);

/**
 * Recursive rows, each followed by all below it. Rows whose parent is not among them stand at the top; rows that are
 * their own ancestors are shown once, at the top too.
 */
const asTree = (level: Level, rows: HeldRow[]): HeldRow[] => {
  const { on } = level.tree!;
  const columns = on.map(({ here, there }) => ({ here: keyColumn(level, here), there: keyColumn(level, there) }));
  const idOf = ({ row }: HeldRow, side: 'here' | 'there'): string =>
    columns.map((c) => identityOf(row[c[side]] ?? null)).join('\u0000');
  const known = new Set(rows.map((held) => idOf(held, 'here')));
  const below = new Map<string, HeldRow[]>();
  const tops: HeldRow[] = [];
  for (const held of rows) {
    const parent = idOf(held, 'there');
    if (!known.has(parent)) {
      tops.push(held);
      continue;
    }
    const children = below.get(parent);
    if (children) children.push(held);
    else below.set(parent, [held]);
  }
  const ordered: HeldRow[] = [];
  const seen = new Set<HeldRow>();
  const visit = (top: HeldRow): void => {
    // A stack of its own: rows may lie deeper than calls can.
    const stack: [HeldRow, number][] = [[top, 1]];
    for (let next = stack.pop(); next; next = stack.pop()) {
      const [held, depth] = next;
      if (seen.has(held)) continue;
      seen.add(held);
      const row = [...held.row];
      row[level.depthColumn] = depth;
      ordered.push({ ...held, row });
      for (const child of [...(below.get(idOf(held, 'here')) ?? [])].reverse()) stack.push([child, depth + 1]);
    }
  };
  for (const top of tops) visit(top);
  for (const held of rows) if (!seen.has(held)) visit(held);
  return ordered;
};

const keyColumn = (level: Level, name: string): number =>
  level.field([name], level.entity.fields.find((f) => f.name === name)!);
