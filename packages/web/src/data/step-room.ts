import type { Field, Parameter, PlannedRecipe, Relation, Source, Step, StepKind, StepOf } from '@gaveta/core/internal';
import type { TFunction } from 'i18next';
import type { FC } from 'react';
import type { ModelWithOrigin, StoredRecipe } from '../api/client.ts';
import type { SourceChoice } from './sources.ts';
import type { StepNames, Word } from './step-words.ts';

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
  /** Parameters that the change to the step, which follows at once, asks for. */
  onNewParameters: (made: readonly Parameter[]) => void;
  planned: PlannedRecipe;
}

/** Where a new step is added. */
export interface Beginning {
  planned: PlannedRecipe;
  /** Columns and relations there. */
  fields: readonly Field[];
  relations: PlannedRecipe['relations'];
  /** Name of the first column that can be seen and compared. */
  first: string;
  /** The data model whose database takes statements. */
  model: string;
  t: TFunction;
}

/** Everything that the screens need of one kind of step. */
export interface StepRoom<K extends StepKind = StepKind> {
  Editor: FC<EditorProps<StepOf<K>>>;
  /** What a new one starts with. */
  begin: (beginning: Beginning) => StepOf<K>;
  /** What it says behind its name, line by line. */
  words: (step: StepOf<K>, names: StepNames) => Word[][];
}
