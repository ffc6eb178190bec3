import {
  type GivenParameters,
  type Parameter,
  type PlannedRecipe,
  type Problem,
  phrase,
  planRecipe,
  problem,
  type Query,
  type RecipeContext,
  RowProblem,
  readParameters,
  type Step,
  shownFields,
} from '@gaveta/core/internal';
import type { Limits } from '../base/limits.ts';
import { withText } from '../base/problem-text.ts';
import type { Catalogue } from '../catalogue/catalogue.ts';
import { type DeskOptions, RecipeDesk } from '../recipes/desk.ts';
import type { Workbench } from '../staging/workbench.ts';
import type { Store } from '../store/store.ts';
import type { ActivityBook } from './activity.ts';
import type { Caller } from './call.ts';
import type { DefinitionRights } from './definition-rights.ts';
import type { Gate } from './gate.ts';

/** What the calls about rows are made of. */
export interface RecipeParts {
  store: Store;
  catalogue: Catalogue;
  workbench: () => Workbench;
  rights: DefinitionRights;
  gate: Gate;
  book: ActivityBook;
  limits: Limits;
}

export interface Looked {
  steps: Step[];
  parameters: Parameter[];
  queries: Query[];
  values: GivenParameters;
  language: string;
  timeZone: string;
}

/** Milliseconds for which rows that were worked out serve what a screen asks beside them: their number, their values. */
const SHARED_FOR = 5000;

/** What steps are planned against: the models as they are now, and shared recipes. */
export const recipeContext = async (
  store: Store,
  catalogue: Catalogue,
  parameters: readonly Parameter[] = [],
  queries: readonly Query[] = [],
): Promise<RecipeContext> => {
  const shared = new Map((await store.data.recipes()).map((r) => [r.id, r]));
  return { models: catalogue.plain, recipe: (id) => shared.get(id) ?? null, queries, parameters };
};

/** Rows as they are seen before a report shows them: plans steps, and opens a desk for whoever asks. */
export const lookingOver = (parts: RecipeParts) => {
  const { store, catalogue, workbench, rights } = parts;
  const { maxRows, previewSeconds } = parts.limits;

  const contextFor = (parameters: readonly Parameter[], queries: readonly Query[] = []): Promise<RecipeContext> =>
    recipeContext(store, catalogue, parameters, queries);

  const deskOptions = (
    caller: Caller,
    asked: Omit<Looked, 'steps' | 'queries'>,
    signal: AbortSignal,
    use: 'design' | 'run' = 'design',
  ): DeskOptions => {
    const { language, timeZone, parameters } = asked;
    const report = { name: '', language, timeZone, parameters };
    const { values } = readParameters(report, asked.values, { use, host: caller.session.parameters ?? {} });
    return {
      models: catalogue.models,
      connections: catalogue.connections,
      claims: caller.session.claims,
      maxStaged: maxRows,
      workbench,
      signal,
      seconds: previewSeconds,
      report,
      values,
      sharedFor: SHARED_FOR,
    };
  };
  /** Plans steps, opens a desk and gives what `look` finds; what fails at the source is said, not thrown. */
  const looking = async <T>(
    { caller, signal }: { caller: Caller; signal: AbortSignal },
    asked: Looked,
    others: readonly Step[],
    look: (desk: RecipeDesk, recipe: PlannedRecipe, other: PlannedRecipe | null) => Promise<T>,
  ) => {
    await rights.check(caller, [asked.steps, asked.queries, others]);
    const context = await contextFor(asked.parameters, asked.queries);
    const recipe = planRecipe({ name: 'recipe', steps: asked.steps }, context);
    const other = others.length > 0 ? planRecipe({ name: 'other', steps: others }, context) : null;
    const planned = recipe.steps.map(({ fields, problems }) => ({
      fields: shownFields(fields),
      problems: withText(problems),
    }));
    const facts = { steps: planned, problems: withText(recipe.problems) };
    if (!recipe.steps.some((s) => s.operation)) {
      return { ...facts, found: null, failure: null };
    }
    const broken = [recipe, other].flatMap((r) => (r && brokenStep(r)) ?? []);
    if (broken[0]) {
      // With that step passed over, other rows would be shown and counted than the recipe means.
      return { ...facts, found: null, failure: failureWith(broken[0]) };
    }
    try {
      const desk = await RecipeDesk.open(other ? [recipe, other] : [recipe], deskOptions(caller, asked, signal));
      try {
        return { ...facts, found: await look(desk, recipe, other), failure: null };
      } finally {
        await desk.close();
      }
    } catch (error) {
      if (!(error instanceof RowProblem)) throw error;
      return { ...facts, found: null, failure: failureOf(error) };
    }
  };

  return { contextFor, deskOptions, looking };
};

/** Why there is nothing to see: in words, and as what they are made of. */
export const failureWith = (found: Problem): { detail: string; problem: Problem } => ({
  detail: withText([found])[0]!.text,
  problem: found,
});

/** Nobody who looks at a recipe has a report before them, whose other parts might be well. */
export const failureOf = (error: RowProblem): ReturnType<typeof failureWith> => {
  const code = error.code === 'query-failed' ? 'rows-failed' : error.code;
  return failureWith(problem(code, {}, { drawer: phrase('these-rows'), ...error.data }));
};

/** The first step that does not work; null when all do, or are switched off. */
const brokenStep = ({ steps }: PlannedRecipe): Problem | null => {
  const at = steps.findIndex(({ problems }) => problems.some((p) => p.severity === 'error'));
  return at < 0 ? null : problem('step-broken', { path: `steps/${at}` }, { number: at + 1 });
};
