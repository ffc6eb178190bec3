import type { TotalPlan } from '../data/level.ts';
import { type Row, RowProblem } from '../data/rows.ts';
import type { PlannedSummary, SummaryPart } from '../data/summary.ts';
import { compileFormula } from '../formula/compile.ts';
import type { Compiled, EvaluationContext, TotalValues } from '../formula/functions/context.ts';
import { Accumulator, type TotalName } from '../formula/functions/index.ts';
import type { TextOrder } from '../text/text-order.ts';
import { identityOf, type Value } from '../value/value.ts';

/** One value of a group, below those of the groups around it. */
export class GroupNode {
  /** In the order in which their values came. */
  readonly inner: GroupNode[] = [];
  private readonly byValue = new Map<string, GroupNode>();
  /** Totals of the rows that it has in common with a node of the other axis, by that one’s id. Only on the axis down. */
  readonly cells = new Map<number, readonly Accumulator[]>();
  /** The nodes whose rows it has, where it stands for several. */
  private sources: readonly GroupNode[] | null = null;

  constructor(
    readonly id: number,
    readonly value: Value,
    readonly parent: GroupNode | null,
    /** 0 for the root, which holds all rows. */
    readonly depth: number,
  ) {}

  find(value: Value, next: () => number): GroupNode {
    const key = identityOf(value);
    let node = this.byValue.get(key);
    if (!node) {
      node = new GroupNode(next(), value, this, this.depth + 1);
      this.byValue.set(key, node);
      this.inner.push(node);
    }
    return node;
  }

  /** A node of this one’s that stands for several of them, or for a value without rows. */
  add(value: Value, id: number): GroupNode {
    const node = new GroupNode(id, value, this, this.depth + 1);
    this.byValue.set(identityOf(value), node);
    return node;
  }

  /** Gives it the rows of others. */
  standFor(nodes: readonly GroupNode[]): void {
    this.sources = nodes;
  }

  /** Whether it has a row with these values, as identities; `from`: place of those of its axis among them. */
  holds(values: readonly string[], from: number): boolean {
    if (this.sources) return this.sources.some((node) => node.holds(values, from));
    if (!this.parent) return true;
    return identityOf(this.value) === values[from + this.depth - 1] && this.parent.holds(values, from);
  }

  has(value: Value): boolean {
    return this.byValue.has(identityOf(value));
  }
}

/** Is told of the cells of an item by their numbers, and the groups that each is of. */
export type CellAsk = (item: string, cell: number, down: GroupNode, across: GroupNode) => void;

/** Bytes that a cell takes in memory, roughly, besides those of its totals. */
const CELL_BYTES = 90;
const TOTAL_BYTES = 110;
const MEGABYTE = 1024 * 1024;

/**
 * Rows grouped down and across: the totals of each pair of groups, those around them included. Holds one accumulator for
 * each total of each pair that has rows.
 */
export class CellTable {
  readonly down = new GroupNode(0, null, null, 0);
  readonly across = new GroupNode(0, null, null, 0);
  /** Rows that were counted. */
  count = 0;
  private nodes = 0;
  private cells = 0;
  private readonly mostCells: number;
  private readonly names: readonly TotalName[];

  constructor(
    /** How many of the keys, the first ones, lead down. */
    private readonly downKeys: number,
    private readonly keys: number,
    totals: readonly TotalPlan[],
    /** Most bytes that it may hold. */
    private readonly maxBytes: number,
    private readonly texts: TextOrder,
  ) {
    this.names = totals.map(({ name }) => name as TotalName);
    this.mostCells = Math.floor(maxBytes / (CELL_BYTES + TOTAL_BYTES * Math.max(1, totals.length)));
  }

  /** A new id of a node, on either axis. */
  readonly nextId = (): number => ++this.nodes;

  /** Counts what `keys` have in common. `add`: adds to the totals of a cell. Throws RowProblem when that is too much to hold. */
  add(keys: readonly Value[], times: number, add: (totals: readonly Accumulator[]) => void): void {
    this.count += times;
    let node = this.down;
    const path = [node];
    for (let i = 0; i < this.downKeys; i++) {
      node = node.find(keys[i] ?? null, this.nextId);
      path.push(node);
    }
    let across = this.across;
    for (const one of path) add(this.cell(one, across));
    for (let i = this.downKeys; i < this.keys; i++) {
      across = across.find(keys[i] ?? null, this.nextId);
      for (const one of path) add(this.cell(one, across));
    }
  }

  private cell(down: GroupNode, across: GroupNode): readonly Accumulator[] {
    let found = down.cells.get(across.id);
    if (!found) {
      if (++this.cells > this.mostCells)
        throw new RowProblem('too-much-ahead', { limit: Math.ceil(this.maxBytes / MEGABYTE) });
      found = this.empty();
      down.cells.set(across.id, found);
    }
    return found;
  }

  empty(): readonly Accumulator[] {
    return this.names.map((name) => new Accumulator(name, this.texts));
  }

  /** Gives `target` the rows of nodes of the axis down. */
  mergeDown(target: GroupNode, nodes: readonly GroupNode[]): void {
    target.standFor(nodes);
    for (const node of nodes)
      for (const [across, totals] of node.cells) {
        let into = target.cells.get(across);
        if (!into) {
          into = this.empty();
          target.cells.set(across, into);
        }
        for (const [i, total] of totals.entries()) into[i]!.merge(total);
      }
  }

  /** Gives `target` the rows of nodes of the axis across. */
  mergeAcross(target: GroupNode, nodes: readonly GroupNode[]): void {
    target.standFor(nodes);
    const merge = (down: GroupNode): void => {
      let into: readonly Accumulator[] | null = null;
      for (const { id } of nodes) {
        const totals = down.cells.get(id);
        if (!totals) continue;
        into ??= this.empty();
        for (const [i, total] of totals.entries()) into[i]!.merge(total);
      }
      if (into) down.cells.set(target.id, into);
      for (const node of down.inner) merge(node);
    };
    merge(this.down);
  }
}

/** What puts the rows of one part of a summary into its cells. */
export interface PreparedPart {
  part: SummaryPart;
  /** Keys and totals over a counted row, where rows are grouped here. */
  keys: Compiled[];
  arguments: Compiled[];
  /** Place of each total of the part among those of the summary. */
  places: readonly number[];
}

/** A planned summary as closures. */
export interface PreparedSummary {
  summary: PlannedSummary;
  parts: readonly PreparedPart[];
  totals: readonly TotalPlan[];
  /** How many of its keys, the first ones, lead down. */
  downKeys: number;
}

export const prepareSummary = (summary: PlannedSummary, downKeys: number): PreparedSummary => {
  const totals = summary.parts.flatMap((part) => part.totals);
  const parts = summary.parts.map((part): PreparedPart => {
    const isHere = part.level === null && part.listed === null;
    return {
      part,
      keys: isHere ? summary.keys.map((key) => compileFormula(key.formula)) : [],
      arguments: isHere ? part.totals.map((total) => compileFormula(total.formula)) : [],
      places: part.totals.map((total) => totals.indexOf(total)),
    };
  });
  return { summary, parts, totals, downKeys };
};

/** Adds a row of a level of groups, as the database brought it. */
export const addGroup = (table: CellTable, { places }: PreparedPart, keys: number, row: Row): void => {
  const times = Number(row[row.length - 1] ?? 1);
  table.add(row.slice(1, keys + 1), times, (totals) => {
    for (const [i, place] of places.entries()) totals[place]!.addState(row[keys + 1 + i] ?? null, times);
  });
};

/** Adds a row that was counted here: its keys, then the arguments of its totals. */
export const addValues = (table: CellTable, { places }: PreparedPart, keys: number, values: readonly Value[]): void =>
  table.add(values, 1, (totals) => {
    for (const [i, place] of places.entries()) totals[place]!.add(values[keys + i] ?? null);
  });

/** Formulas of cells, worked out over the totals and values of one cell after the other. */
export class CellContext {
  readonly context: EvaluationContext;
  private current: readonly Accumulator[];
  private readonly places = new Map<number, number>();

  constructor(
    around: EvaluationContext,
    private readonly prepared: PreparedSummary,
    private readonly none: readonly Accumulator[],
  ) {
    for (const [i, { slot }] of prepared.totals.entries()) this.places.set(slot, i);
    this.current = none;
    const totals: TotalValues = {
      value: (slot) => {
        const place = this.places.get(slot);
        return place === undefined ? around.totals.value(slot) : this.current[place]!.result();
      },
    };
    this.context = { ...around, totals };
  }

  /** Goes to the cell of two groups; gives whether it has rows. */
  at(down: GroupNode, across: GroupNode): boolean {
    const found = down.cells.get(across.id);
    this.current = found ?? this.none;
    const { summary, downKeys } = this.prepared;
    const row: Value[] = [1, ...summary.keys.map(() => null)];
    for (let node: GroupNode | null = down; node?.parent; node = node.parent) row[node.depth] = node.value;
    for (let node: GroupNode | null = across; node?.parent; node = node.parent) row[downKeys + node.depth] = node.value;
    this.context.rows[summary.cell.index] = row;
    return found !== undefined;
  }
}
