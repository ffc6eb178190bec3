import type { Drawer } from '../definition/schema.ts';
import type { Checked } from '../formula/checked.ts';
import type { Entity, Field, Relation } from './model.ts';

/** A column that a level's query brings: a field of its own entity, or of one that `one` relations lead to. */
export interface Column {
  /** Names of the relations to follow, then the field. */
  path: string[];
  field: Field;
}

/** How a nested report's outermost rows hang on the row of the band that holds the subreport. */
export interface SubreportLink {
  /** Id of the subreport item. */
  item: string;
  /** Level of the outer report whose row is current in that band; null when there is none. */
  outer: Level | null;
  /** Formulas of the outer report by the nested report's parameter. */
  values: Record<string, Checked>;
}

/** A drawer with its rows resolved: what its one query must bring, and how it hangs on its parent's rows. */
export class Level {
  readonly children: Level[] = [];
  readonly columns: Column[] = [];
  /** Part of the filter that runs in the database, and the part that cannot. */
  pushedFilter: Checked | null = null;
  localFilter: Checked | null = null;
  sort: { formula: Checked; descending: boolean }[] = [];

  constructor(
    /** Place in the plan's list of levels; also the index of its row in the evaluation context. */
    readonly index: number,
    readonly drawer: Drawer,
    readonly path: string,
    readonly entity: Entity,
    readonly parent: Level | null,
    /** Null for an outermost drawer. */
    readonly relation: Relation | null,
  ) {
    parent?.children.push(this);
  }

  /**
   * Index in the level's rows of the column for `path`, added when it is not there yet.
   * Column 0 of every row is the ordinal (1-based) of its parent row, so the first column asked for has index 1.
   */
  column(path: string[], field: Field): number {
    const key = path.join('.');
    const found = this.columns.findIndex((c) => c.path.join('.') === key);
    if (found >= 0) return found + 1;
    return this.columns.push({ path, field });
  }

  /** This level and all below it, parents first. */
  *subtree(): Iterable<Level> {
    yield this;
    for (const child of this.children) yield* child.subtree();
  }

  isWithin(ancestor: Level): boolean {
    for (let level: Level | null = this; level; level = level.parent) if (level === ancestor) return true;
    return false;
  }
}
