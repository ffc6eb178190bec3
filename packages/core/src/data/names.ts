import type { Stretch } from '../formula/tree.ts';

/** A part of a report's definition that formulas reach by its name. Drawers by their ids. */
export type NameMeaning =
  | { kind: 'parameter'; name: string }
  | { kind: 'drawer'; drawer: string }
  | { kind: 'group' | 'calculated'; drawer: string; name: string };

/** One use of such a name. */
export interface NameUse {
  /** Where the definition has the formula, or the item or link that it belongs to. */
  path: string;
  /** The formula that the name stands in. */
  source: string;
  /** The whole name with all its parts. */
  at: Stretch;
  /** Which of its parts, 0-based, has the meaning. */
  part: number;
  meaning: NameMeaning;
}
