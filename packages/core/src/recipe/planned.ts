import type { Query, Recipe, Step, StepOf, StepTotal } from '../definition/recipe.ts';
import type { Parameter } from '../definition/schema.ts';
import type { Checked } from '../formula/checked.ts';
import type { Entity, Field, Model, Relation } from '../model/model.ts';
import type { Problem } from '../problems/problem.ts';

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
  | { kind: 'add'; name: string; formula: Checked }
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
  | { kind: 'stack'; source: PlannedSource; columns: (string | null)[] };

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
