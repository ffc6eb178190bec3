import type { Drawer, Group } from '../definition/schema.ts';
import { type Checked, nodes } from '../formula/checked.ts';
import type { Accumulator, TotalName } from '../formula/functions/index.ts';
import type { Entity, Field, Relation } from '../model/model.ts';
import type { Problem, ProblemPlace } from '../problems/problem.ts';
import type { DataType } from '../value/value.ts';

/** Rows that a total counts. All but `page` belong to one level. */
export interface TotalScope {
  level: Level;
  /**
   * `set`: all rows of the level for one parent row; `group`: those of one of its groups; `row`: one row with everything
   * below it; `others`: the rows past the first N; `page`: what lands on one page; `cell`: those of one cell of an item
   * that groups the rows of the scope `of`.
   */
  kind: 'set' | 'group' | 'row' | 'others' | 'page' | 'cell';
  /** 0-based place of the group, outermost first; 0 for other kinds. */
  group: number;
  of?: TotalScope;
}

/** A total that a run keeps: which rows it counts and when it starts anew. */
export interface TotalPlan {
  slot: number;
  name: TotalName | 'RANK';
  formula: Checked;
  /** Level whose rows are counted, one by one. */
  counted: Level;
  scope: TotalScope;
  /**
   * `behind`: its rows come before it is read. `ahead`: it is read before its rows, so they are read ahead, or the
   * database works it out. `running`: it is read while its rows come; on a page band, before or after its page.
   */
  when: 'behind' | 'ahead' | 'running';
  /** Index in the rows of the scope's level (RANK: of the counted level) of the column that brings it; 0: worked out here. */
  column: number;
  /** What its values are added to, where that is more than the total itself; see Collector. */
  into?: Accumulator;
}

/**
 * A column that a level's query brings: a field of its own entity, or of one that `one` relations lead to; the state of
 * a total that the database works out; or how deep a recursive row lies, 1 at the top. Of a level of groups: a value
 * that its rows have in common, the state of a total of theirs, or how many they are.
 */
export type Column =
  | { kind: 'field'; path: string[]; field: Field }
  | { kind: 'total'; total: TotalPlan; type: DataType }
  | { kind: 'depth' }
  | { kind: 'value'; formula: Checked; type: DataType }
  | { kind: 'state'; total: TotalPlan; type: DataType }
  | { kind: 'times' };

export const columnType = (column: Column): DataType =>
  column.kind === 'field' ? column.field.type : 'type' in column ? column.type : 'number';

/** Equal for two columns of a level exactly when they bring the same. */
const columnKey = (column: Column): string =>
  column.kind === 'field'
    ? column.path.join('.')
    : column.kind === 'total'
      ? `total ${column.total.slot}`
      : column.kind === 'depth'
        ? 'depth'
        : '';

/** Groups of the rows of a level, as a database brings them: one row for each group. */
export interface Grouping {
  /** Level whose rows are grouped. */
  counted: Level;
  /** The rows that are grouped together with the one that an instance of the item stands at. */
  scope: TotalScope;
}

/** How a nested report's outermost rows hang on the row of the band that holds the subreport. */
export interface SubreportLink {
  /** Id of the subreport item. */
  item: string;
  /** Level of the outer report whose row is current in that band; null when there is none. */
  outer: Level | null;
  /** Formulas of the outer report by the nested report's parameter. */
  values: Record<string, Checked>;
  /** The nested report shows rows of the outer one instead of fetching its own. */
  rows: { relation: Relation } | 'current' | null;
}

export interface LevelSort {
  formula: Checked;
  descending: boolean;
  blanksFirst: boolean;
}

export interface LevelGroup {
  group: Group;
  /** What rows of one group have in common. */
  key: Checked;
  /** Order of the groups before that by their key. */
  order: LevelSort | null;
}

/** A drawer with its rows resolved: what its one query must bring, and how it hangs on its parent's rows. */
export class Level {
  /** Those whose rows hang on this one's: of the drawers inside it, and of items with rows of their own. */
  readonly children: Level[] = [];
  readonly columns: Column[] = [];
  readonly groups: LevelGroup[] = [];
  /** Part of the filter that runs in the database, and the part that cannot. */
  pushedFilter: Checked | null = null;
  localFilter: Checked | null = null;
  sort: LevelSort[] = [];
  /** The database cannot put the rows in order, so each set of them is sorted here. */
  sortsLocally = false;
  /** Index of the column with the depth of a recursive row; 0 when rows are not recursive. */
  depthColumn = 0;
  /** Index of the column with the key of a row, which names it for as long as it is there; 0 when it is not fetched. */
  keyColumn = 0;
  /** What keeps it from being known which rows it has: it then shows none, and what counts them is an error. */
  refused: Problem | null = null;
  /** The level of the outer report whose current row is this level's only row. */
  sharedWith: Level | null = null;
  /** It brings groups of another level’s rows instead of rows of its own. */
  grouping: Grouping | null = null;
  /** Whether its rows are fetched; those of an item that are only grouped are not. */
  isFetched = true;
  /** Fields that the levels of nested reports join on, besides those of inner drawers. */
  readonly linkKeys = new Set<string>();

  constructor(
    /** Place in the plan's list of levels; also the index of its row in the evaluation context. */
    readonly index: number,
    readonly drawer: Drawer,
    readonly path: string,
    readonly entity: Entity,
    readonly parent: Level | null,
    /** Null for an outermost drawer. */
    readonly relation: Relation | null,
    /** The relation that recursive rows follow. */
    readonly tree: Relation | null = null,
    /** The item whose own rows these are; null for those of a drawer of the report. Its drawer has no bands. */
    readonly item: string | null = null,
  ) {
    parent?.children.push(this);
  }

  /**
   * Index in the level's rows of a column, added when it is not there yet. Column 0 of every row is the ordinal
   * (1-based) of its parent row, so the first column asked for has index 1.
   */
  column(column: Column): number {
    const key = columnKey(column);
    const found = this.columns.findIndex((c) => columnKey(c) === key);
    return found >= 0 ? found + 1 : this.columns.push(column);
  }

  field(path: string[], field: Field): number {
    // A row that is shared with the outer report has that report's columns.
    return (this.sharedWith ?? this).column({ kind: 'field', path, field });
  }

  /** Place of a part of what says which rows these are, as problems name it. */
  place(part: string): ProblemPlace {
    const owner = this.item === null ? { drawer: this.drawer.id } : { item: this.item };
    return { path: `${this.path}/${part}`, ...owner };
  }

  /** Levels of the drawers inside this one. */
  get drawers(): Level[] {
    return this.children.filter((child) => child.item === null);
  }

  /** Whether rows must be read ahead, a set at a time, because the database cannot filter, cut or order them. */
  get settlesLocally(): boolean {
    const filtersByTotal = this.localFilter !== null && hasTotals(this.localFilter);
    const cutsGroups = this.localFilter !== null && this.groups.some((g) => g.group.first !== undefined);
    // What groups leave out is shown below them, so that it must be read.
    const showsOthers = this.drawer.others !== undefined && this.groups.some((g) => g.group.first !== undefined);
    return this.sortsLocally || filtersByTotal || cutsGroups || showsOthers || this.tree !== null;
  }

  /** Whether only the first rows are shown, of all or of each group. */
  get isCut(): boolean {
    return this.drawer.first !== undefined || this.groups.some((g) => g.group.first !== undefined);
  }

  /** This level and those of all drawers inside it, parents first. */
  *subtree(): Iterable<Level> {
    yield this;
    for (const child of this.drawers) yield* child.subtree();
  }

  /** The level that this one and all around it hang on. */
  get outermost(): Level {
    let level: Level = this;
    while (level.parent) level = level.parent;
    return level;
  }

  isWithin(ancestor: Level): boolean {
    for (let level: Level | null = this; level; level = level.parent) if (level === ancestor) return true;
    return false;
  }
}

export const hasTotals = (formula: Checked): boolean => [...nodes(formula)].some((node) => node.kind === 'total');
