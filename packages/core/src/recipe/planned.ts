import type { Query, Recipe, Step, StepOf, StepTotal } from '../definition/recipe.ts';
import type { Parameter } from '../definition/schema.ts';
import type { Checked } from '../formula/checked.ts';
import type { TotalName } from '../formula/functions/index.ts';
import type { Entity, Field, Model, Relation } from '../model/model.ts';
import type { Problem } from '../problems/problem.ts';
import type { DataType } from '../value/value.ts';

export interface RecipeContext {
  models: readonly Model[];
  recipe: (id: string) => Recipe | null;
  /** The queries of the report that the recipe belongs to. */
  queries: readonly Query[];
  parameters: readonly Parameter[];
}

/** A table that rows are taken from. */
export interface PlannedTable {
  kind: 'table';
  model: string;
  entity: Entity;
  /** Of a function that returns rows, by name. */
  arguments: Record<string, Checked>;
}

export type PlannedSource = PlannedTable | { kind: 'recipe'; recipe: PlannedRecipe };

/** Column of a step: taken over from one before, or from the other source. */
export interface BroughtColumn {
  field: string;
  name: string;
  /** Whether it is 0 in rows without a partner, as a count of them is. */
  isNoneZero?: boolean;
}

/** What a step does, every name resolved. Formulas read the columns before the step: level 0, from 1. */
export type Operation =
  | { kind: 'take'; source: PlannedSource }
  | { kind: 'sql'; model: string; text: string }
  | {
      kind: 'bring';
      source: PlannedSource;
      on: { here: string; there: string }[];
      keep: StepOf<'bring'>['keep'];
      columns: BroughtColumn[];
    }
  | { kind: 'keep'; formula: Checked }
  /** `totals`: those that stand in the formula, by their slots, each of the rows that are alike in `per`. */
  | { kind: 'add'; name: string; formula: Checked; totals: RowsTotal[]; per: Checked[] }
  | {
      kind: 'summarise';
      by: { name: string; formula: Checked }[];
      totals: { name: string; total: StepTotal; of: Checked | null }[];
    }
  | {
      kind: 'spread';
      by: string[];
      names: Checked;
      values: Checked;
      total: StepTotal;
      into: { name: string; value: string | number | boolean }[];
    }
  | { kind: 'sort'; by: { formula: Checked; descending: boolean }[] }
  | { kind: 'first'; count: number; per: Checked[] }
  | { kind: 'distinct'; by: string[] }
  /** `taken`: names that stand for another column than before. */
  | { kind: 'columns'; columns: BroughtColumn[]; taken: string[] }
  | { kind: 'along'; what: StepOf<'along'>['what']; name: string; of: Checked | null; per: Checked[] }
  | { kind: 'stack'; source: PlannedSource; columns: (string | null)[] }
  | { kind: 'convert'; columns: (Conversion | null)[] }
  | {
      kind: 'gather';
      /** Columns that each of the rows goes on with. */
      kept: string[];
      columns: { label: string; of: Checked }[];
      names: string;
      values: string;
      blanks: boolean;
    }
  | { kind: 'fill'; fields: string[]; by: StepOf<'fill'>['by']; value: Checked | null; per: Checked[] }
  | { kind: 'split'; of: Checked; at: string; into: string[] };

/** A total over rows of a step. */
export interface RowsTotal {
  name: TotalName;
  of: Checked;
}

/** What becomes of a column: null where it stays as it is. */
export interface Conversion {
  from: DataType;
  to: DataType;
  /** How numbers and dates are written where they are texts. */
  writing: { decimal: '.' | ','; dates: 'ymd' | 'dmy' | 'mdy' };
}

export interface PlannedStep {
  step: Step;
  /** Columns after the step. */
  fields: Field[];
  problems: Problem[];
  /** Null for a step that is switched off or wrong: the rows go past it as they are. */
  operation: Operation | null;
}

export interface PlannedRecipe {
  name: string;
  label: string;
  steps: PlannedStep[];
  fields: Field[];
  /** The field that tells the rows apart; null when none is known to. */
  key: string | null;
  /** Whether the steps put the rows in an order of their own. */
  isOrdered: boolean;
  /** Relations that still lead somewhere from the rows as they are. */
  relations: Relation[];
  problems: Problem[];
}
