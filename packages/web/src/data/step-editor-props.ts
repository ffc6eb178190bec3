import type { Field, Parameter, PlannedRecipe, Relation, Source, Step } from '@gaveta/core';
import type { ModelWithOrigin, StoredRecipe } from '../api/client.ts';
import type { SourceChoice } from './sources.ts';

/** What every editor of a step is given. */
export interface EditorProps<S extends Step = Step> {
  step: S;
  onChange: (step: S) => void;
  /** Columns before the step, and the relations that lead on from them. */
  fields: readonly Field[];
  relations: readonly Relation[];
  parameters: readonly Parameter[];
  /** The steps before. */
  before: readonly Step[];
  models: readonly ModelWithOrigin[];
  recipes: readonly StoredRecipe[];
  sources: readonly SourceChoice[];
  /** The columns that a source gives. */
  fieldsOf: (source: Source) => readonly Field[];
  onNewParameter: (field: Field, is: string) => string;
  planned: PlannedRecipe;
}
