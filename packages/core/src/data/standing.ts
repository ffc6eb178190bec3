import type { Parameter } from '../definition/schema.ts';
import type { Checked } from '../formula/checked.ts';
import type { FunctionTable } from '../formula/functions/context.ts';
import type { FormulaScope } from '../formula/scope.ts';
import type { Stretch } from '../formula/tree.ts';
import type { Model } from '../model/model.ts';
import type { Problem } from '../problems/problem.ts';
import type { Level, TotalPlan, TotalScope } from './level.ts';
import type { NameMeaning } from './names.ts';

export type Found = Checked | 'hidden' | Problem | null;

/** Where a formula stands. */
export interface Standing {
  /** Innermost level whose row is current; null outside of all drawers. */
  current: Level | null;
  /** The rows a total counts there; null where there are none. */
  scope: TotalScope | null;
  /** The rows of the scope come after the place where the formula stands. */
  ahead: boolean;
  /**
   * Every outermost level, where the formula stands outside of them all: names are looked for in each, and a total counts
   * the rows of the one whose fields it reads.
   */
  sets?: readonly Level[];
  /** Values of the groups of the item around a cell, by their names; they win over fields. */
  groups?: ReadonlyMap<string, Checked>;
  /** Whether the formula decides which rows there are and in which order: it sees totals of inner rows only. */
  decides?: boolean;
}

export interface ReachContext {
  model: Model | null;
  /** Of the report. */
  language: string;
  /** The outermost levels. */
  roots: readonly Level[];
  parameters: Parameter[];
  totals: TotalPlan[];
  /** Slots of the totals, by what they are totals of. */
  slots: Map<string, number>;
  /** Whether a formula can run in the database where the rows come from; `orders`: its texts are put in order there. */
  canPush: (formula: Checked, orders?: boolean) => boolean;
  /** Told what the parts of a name mean where they are declared in the report. `part`: 0-based, among the name's parts. */
  onName?: ((at: Stretch, part: number, meaning: NameMeaning) => void) | undefined;
  /** Calculated fields that have been checked for this formula, by drawer and name: each is checked once. */
  calculated: Map<string, Found>;
  /** Functions besides Gaveta’s own. */
  functions: FunctionTable | undefined;
}

/** What names mean around a formula, as totals ask for it. */
export interface Names {
  readonly context: ReachContext;
  at(standing: Standing): FormulaScope;
  /** Tells what a part of a name means, where the report declares it. */
  means(at: Stretch, part: number, meaning: NameMeaning): void;
  lookUp(level: Level, parts: readonly string[], at: Stretch): Found;
}
