import {
  type Field,
  findEntity,
  type GivenParameters,
  namedField,
  type Parameter,
  type PlannedRecipe,
  type Problem,
  planRecipe,
  problem,
  type Query,
  type RecipeContext,
  type Relation,
  type Report,
  RowProblem,
  readParameters,
  type Step,
  shownFields,
} from '@gaveta/core/internal';
import { ApiError } from '../base/api-error.ts';
import type { Limits } from '../base/limits.ts';
import { withText } from '../base/problem-text.ts';
import type { Catalogue } from '../catalogue/catalogue.ts';
import { ConnectionError, StatementError } from '../connection/connection.ts';
import { choiceSteps } from '../recipes/choices.ts';
import { type DeskOptions, RecipeDesk } from '../recipes/desk.ts';
import { usersOf } from '../recipes/users.ts';
import { constantNames } from '../rows/row-source.ts';
import { Bindings } from '../sql/expression.ts';
import { writtenTables } from '../sql/plan-tables.ts';
import { readyStatement } from '../sql/written.ts';
import { loadParser } from '../sql/written-check.ts';
import type { Workbench } from '../staging/workbench.ts';
import type { Store } from '../store/store.ts';
import type { Caller, Calls } from './call.ts';
import type { StatementRights } from './statement-rights.ts';
import { definitionOf, storedReport } from './stored-reports.ts';

type RecipeCalls =
  | 'GET /recipes'
  | 'POST /recipes'
  | 'PUT /recipes/:id'
  | 'DELETE /recipes/:id'
  | 'GET /recipes/:id/users'
  | 'POST /recipe/rows'
  | 'POST /recipe/count'
  | 'POST /recipe/facts'
  | 'POST /recipe/values'
  | 'POST /recipe/fit'
  | 'POST /sql/describe'
  | 'POST /choices';

export interface RecipeParts {
  store: Store;
  catalogue: Catalogue;
  workbench: () => Workbench;
  statements: StatementRights;
  limits: Limits;
}

const MOST_CHOICES = 200;

/** Recipes, and what can be seen of rows before a report shows them. */
export const recipeService = (parts: RecipeParts): Calls<RecipeCalls> => {
  const { store, catalogue, workbench, statements } = parts;
  const { maxRows, previewSeconds } = parts.limits;
  const { data } = store;

  const contextFor = async (
    parameters: readonly Parameter[],
    queries: readonly Query[] = [],
  ): Promise<RecipeContext> => {
    const shared = new Map((await data.recipes()).map((r) => [r.id, r]));
    const models = [...catalogue.models.values()].map((m) => m.model);
    return { models, recipe: (id) => shared.get(id) ?? null, queries, parameters };
  };

  interface Looked {
    steps: Step[];
    parameters: Parameter[];
    queries: Query[];
    values: GivenParameters;
    language: string;
    timeZone: string;
  }
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
    };
  };
  /** Plans steps, opens a desk and gives what `look` finds; what fails at the source is said, not thrown. */
  const looking = async <T>(
    { caller, signal }: { caller: Caller; signal: AbortSignal },
    asked: Looked,
    others: readonly Step[],
    look: (desk: RecipeDesk, recipe: PlannedRecipe, other: PlannedRecipe | null) => Promise<T>,
  ) => {
    await statements.check(caller, [asked.steps, asked.queries, others]);
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

  /** Whether the pairs are those of a relation of the model, which may go by keys that are hidden. */
  const isRelation = (recipe: PlannedRecipe, there: readonly Step[], on: Relation['on']): boolean => {
    const [take] = there;
    if (there.length !== 1 || take?.step !== 'take' || !('entity' in take.from)) return false;
    const { model, entity } = take.from;
    const home = ({ model: given, to }: Relation): string | undefined =>
      given ?? [...catalogue.models.values()].find(({ model: m }) => findEntity(m, to))?.model.name;
    return recipe.relations.some(
      (r) => r.to === entity && home(r) === model && JSON.stringify(r.on) === JSON.stringify(on),
    );
  };

  return {
    'GET /recipes': () => data.recipes(),
    'POST /recipes': async ({ caller, body }) => {
      await statements.check(caller, body.steps);
      return data.createRecipe(body, caller.user);
    },
    'PUT /recipes/:id': async ({ caller, params: { id }, body: { base, ...given } }) => {
      await statements.check(caller, given.steps);
      const saved = await data.saveRecipe(id, given, base, caller.user);
      if (saved.ok) return saved.stored;
      if (saved.reason === 'missing') throw new ApiError('unknown-recipe', { id });
      const { current } = saved;
      throw new ApiError('conflict', { author: current.changedBy, revision: current.revision }, { current });
    },
    'DELETE /recipes/:id': async ({ params: { id } }) => {
      const users = await usersOf(store, id);
      if (users.length > 0) throw new ApiError('recipe-in-use', { reports: users.map((u) => u.name).join(', ') });
      if (!(await data.removeRecipe(id))) throw new ApiError('unknown-recipe', { id });
      return undefined;
    },
    'GET /recipes/:id/users': ({ params: { id } }) => usersOf(store, id),

    'POST /recipe/rows': (called) =>
      looking(called, called.body, [], async (desk, recipe) => {
        const { rows, milliseconds, fields, sql, values } = await desk.rows(recipe, called.body.rows);
        return { rows, milliseconds, fields, sql, values };
      }),
    'POST /recipe/count': (called) => looking(called, called.body, [], (desk, recipe) => desk.count(recipe)),
    'POST /recipe/facts': (called) => looking(called, called.body, [], (desk, recipe) => desk.facts(recipe)),
    'POST /recipe/values': (called) =>
      looking(called, called.body, [], async (desk, recipe) => {
        const { field: name, search } = called.body;
        const field = namedField(recipe.fields, name);
        const isThere = field !== null && field !== 'hidden' && field.type !== 'picture';
        return isThere ? desk.values(recipe, name, search, MOST_CHOICES) : [];
      }),
    'POST /recipe/fit': (called) => {
      const { there, on } = called.body;
      return looking(called, called.body, there, async (desk, recipe, other) => {
        const isKnown =
          isRelation(recipe, there, on) ||
          on.every((pair) => isShown(recipe.fields, pair.here) && isShown(other!.fields, pair.there));
        return isKnown ? desk.fit(recipe, other!, on) : null;
      });
    },

    'POST /sql/describe': async ({ caller: { session }, body: asked, signal }) => {
      const model = catalogue.models.get(asked.model);
      if (!model) throw new ApiError('wrong-body', { detail: `There is no data model “${asked.model}”.` });
      const connection = catalogue.connections.get(model.connection);
      if (connection?.kind !== 'database')
        throw new ApiError('wrong-body', {
          detail: `“${asked.model}” is no database, so no statement can be sent to it.`,
        });
      await loadParser();
      const bindings = new Bindings();
      const report = { name: '', language: 'en', timeZone: 'UTC', parameters: asked.parameters };
      const { values } = readParameters(report, asked.values, { use: 'design', host: session.parameters ?? {} });
      const names = constantNames({ report: report as unknown as Report }, values, bindings, null);
      let written: ((position: number) => number | null) | null = null;
      try {
        const tables = writtenTables(model, session.claims, bindings);
        const ready = readyStatement(asked.text, { tables, names });
        written = ready.written;
        const before = connection.reader ?? [];
        const query = { text: ready.text, values: bindings.values, before };
        const options = { seconds: previewSeconds, byHand: true, signal };
        return { columns: await connection.describe(query, options), failure: null };
      } catch (error) {
        if (!(error instanceof StatementError) && !(error instanceof ConnectionError)) throw error;
        const at = error instanceof StatementError ? error.position : null;
        const position = at === null || written === null ? at : written(at);
        return { columns: null, failure: { detail: error.message, position } };
      }
    },

    'POST /choices': async ({ caller, body: asked, signal }) => {
      if (asked.definition) {
        caller.needs('design');
        await statements.check(caller, asked.definition);
      }
      const report = asked.definition
        ? definitionOf(asked.definition)
        : (await storedReport(store, asked.report ?? '')).report;
      const parameter = report.parameters.find((p) => p.name === asked.parameter);
      if (!parameter?.choicesFrom)
        throw new ApiError('wrong-body', { detail: `“${asked.parameter}” has no choices from rows.` });
      const context = await contextFor(report.parameters, report.queries ?? []);
      const recipe = planRecipe({ name: parameter.name, steps: choiceSteps(report, parameter, asked.search) }, context);
      if (recipe.problems.length > 0) {
        return { choices: [], more: false, failure: failureWith(recipe.problems[0]!) };
      }
      try {
        const options = deskOptions(
          caller,
          { ...report, values: asked.values },
          signal,
          asked.definition ? 'design' : 'run',
        );
        const desk = await RecipeDesk.open([recipe], options);
        try {
          const { rows } = await desk.rows(recipe, MOST_CHOICES + 1);
          const choices = rows
            .slice(0, MOST_CHOICES)
            .map(([value, label]) => ({ value: String(value), label: String(label ?? value) }));
          return { choices, more: rows.length > MOST_CHOICES, failure: null };
        } finally {
          await desk.close();
        }
      } catch (error) {
        if (!(error instanceof RowProblem)) throw error;
        return { choices: [], more: false, failure: failureOf(error) };
      }
    },
  };
};

/** Why there is nothing to see: in words, and as what they are made of. */
const failureWith = (found: Problem): { detail: string; problem: Problem } => ({
  detail: withText([found])[0]!.text,
  problem: found,
});

const failureOf = (error: RowProblem): ReturnType<typeof failureWith> =>
  failureWith(problem(error.code, {}, { drawer: 'this', ...error.data }));

/** The first step that does not work; null when all do, or are switched off. */
const brokenStep = ({ steps }: PlannedRecipe): Problem | null => {
  const at = steps.findIndex(({ problems }) => problems.some((p) => p.severity === 'error'));
  return at < 0 ? null : problem('step-broken', { path: `steps/${at}` }, { number: at + 1 });
};

const isShown = (fields: readonly Field[], name: string): boolean => {
  const field = namedField(fields, name);
  return field !== null && field !== 'hidden';
};
