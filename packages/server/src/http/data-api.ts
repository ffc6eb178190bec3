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
} from '@gaveta/core';
import { type Request, type Response, Router } from 'express';
import type { Right, Session } from '../access/session.ts';
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
import { body } from './body.ts';
import {
  choicesBody,
  countBody,
  describeBody,
  fitBody,
  previewBody,
  recipeBody,
  saveRecipeBody,
  valuesBody,
} from './data-bodies.ts';
import { ApiError } from './errors.ts';
import { goneSignal } from './gone.ts';

export interface DataApiParts {
  store: Store;
  catalogue: Catalogue;
  workbench: () => Workbench;
  allow: (request: Request, right: Right) => Session;
  /** A stored report, or the one in a body. */
  reportOf: (asked: {
    report?: string | undefined;
    definition?: Record<string, unknown> | undefined;
  }) => Promise<Report>;
  /** Throws unless a caller may write the statements in some JSON, or somebody who may has saved them. */
  checkSql: (caller: Session, json: unknown) => Promise<void>;
  limits: Limits;
}

const MOST_CHOICES = 200;

/** Recipes, and what can be seen of rows before a report shows them. */
export const createDataApi = (parts: DataApiParts): Router => {
  const { store, catalogue, allow, workbench } = parts;
  const { maxRows, previewSeconds } = parts.limits;
  const api = Router();
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
    caller: Session,
    asked: Omit<Looked, 'steps' | 'queries'>,
    response: Response,
    use: 'design' | 'run' = 'design',
  ): DeskOptions => {
    const { language, timeZone, parameters } = asked;
    const report = { name: '', language, timeZone, parameters };
    const { values } = readParameters(report, asked.values, { use, host: caller.parameters ?? {} });
    return {
      models: catalogue.models,
      connections: catalogue.connections,
      claims: caller.claims,
      maxStaged: maxRows,
      workbench,
      signal: goneSignal(response),
      seconds: previewSeconds,
      report,
      values,
    };
  };
  /** Plans steps, opens a desk and gives what `look` finds; what fails at the source is said, not thrown. */
  const looking = async <T>(
    request: Request,
    response: Response,
    asked: Looked,
    others: readonly Step[],
    look: (desk: RecipeDesk, recipe: PlannedRecipe, other: PlannedRecipe | null) => Promise<T>,
  ): Promise<void> => {
    const caller = allow(request, 'design');
    await parts.checkSql(caller, [asked.steps, asked.queries, others]);
    const context = await contextFor(asked.parameters, asked.queries);
    const recipe = planRecipe({ name: 'recipe', steps: asked.steps }, context);
    const other = others.length > 0 ? planRecipe({ name: 'other', steps: others }, context) : null;
    const planned = recipe.steps.map(({ fields, problems }) => ({
      fields: shownFields(fields),
      problems: withText(problems),
    }));
    const facts = { steps: planned, problems: withText(recipe.problems) };
    if (!recipe.steps.some((s) => s.operation)) {
      response.json({ ...facts, found: null, failure: null });
      return;
    }
    const broken = [recipe, other].flatMap((r) => (r && brokenStep(r)) ?? []);
    if (broken[0]) {
      // With that step passed over, other rows would be shown and counted than the recipe means.
      response.json({ ...facts, found: null, failure: failureWith(broken[0]) });
      return;
    }
    try {
      const desk = await RecipeDesk.open(other ? [recipe, other] : [recipe], deskOptions(caller, asked, response));
      try {
        response.json({ ...facts, found: await look(desk, recipe, other), failure: null });
      } finally {
        await desk.close();
      }
    } catch (error) {
      if (!(error instanceof RowProblem)) throw error;
      response.json({ ...facts, found: null, failure: failureOf(error) });
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

  api.get('/recipes', async (request, response) => {
    allow(request, 'design');
    response.json(await data.recipes());
  });
  api.post('/recipes', async (request, response) => {
    const caller = allow(request, 'design');
    const given = body(recipeBody, request);
    await parts.checkSql(caller, given.steps);
    response.status(201).json(await data.createRecipe(given, caller.user));
  });
  api.put('/recipes/:id', async (request, response) => {
    const caller = allow(request, 'design');
    const { base, ...given } = body(saveRecipeBody, request);
    const { id } = request.params;
    await parts.checkSql(caller, given.steps);
    const saved = await data.saveRecipe(id, given, base, caller.user);
    if (saved.ok) response.json(saved.stored);
    else if (saved.reason === 'missing') throw new ApiError('unknown-recipe', { id });
    else {
      const { current } = saved;
      throw new ApiError('conflict', { author: current.changedBy, revision: current.revision }, { current });
    }
  });
  api.delete('/recipes/:id', async (request, response) => {
    allow(request, 'design');
    const { id } = request.params;
    const users = await usersOf(store, id);
    if (users.length > 0) throw new ApiError('recipe-in-use', { reports: users.map((u) => u.name).join(', ') });
    if (!(await data.removeRecipe(id))) throw new ApiError('unknown-recipe', { id });
    response.status(204).end();
  });
  api.get('/recipes/:id/users', async (request, response) => {
    allow(request, 'design');
    response.json(await usersOf(store, request.params.id));
  });

  api.post('/recipe/rows', async (request, response) => {
    const asked = body(previewBody, request);
    await looking(request, response, asked, [], async (desk, recipe) => {
      const { rows, milliseconds, fields, sql, values } = await desk.rows(recipe, asked.rows);
      return { rows, milliseconds, fields, sql, values };
    });
  });
  api.post('/recipe/count', async (request, response) => {
    await looking(request, response, body(countBody, request), [], (desk, recipe) => desk.count(recipe));
  });
  api.post('/recipe/facts', async (request, response) => {
    await looking(request, response, body(countBody, request), [], (desk, recipe) => desk.facts(recipe));
  });
  api.post('/recipe/values', async (request, response) => {
    const asked = body(valuesBody, request);
    await looking(request, response, asked, [], async (desk, recipe) => {
      const field = namedField(recipe.fields, asked.field);
      const isThere = field !== null && field !== 'hidden' && field.type !== 'picture';
      return isThere ? desk.values(recipe, asked.field, asked.search, MOST_CHOICES) : [];
    });
  });
  api.post('/recipe/fit', async (request, response) => {
    const asked = body(fitBody, request);
    await looking(request, response, asked, asked.there, async (desk, recipe, other) => {
      const isKnown =
        isRelation(recipe, asked.there, asked.on) ||
        asked.on.every(({ here, there }) => isShown(recipe.fields, here) && isShown(other!.fields, there));
      return isKnown ? desk.fit(recipe, other!, asked.on) : null;
    });
  });

  api.post('/sql/describe', async (request, response) => {
    const caller = allow(request, 'sql');
    const asked = body(describeBody, request);
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
    const { values } = readParameters(report, asked.values, { use: 'design', host: caller.parameters ?? {} });
    const names = constantNames({ report: report as unknown as Report }, values, bindings, null);
    let written: ((position: number) => number | null) | null = null;
    try {
      const tables = writtenTables(model, caller.claims, bindings);
      const ready = readyStatement(asked.text, { tables, names });
      written = ready.written;
      const before = connection.reader ?? [];
      const query = { text: ready.text, values: bindings.values, before };
      const options = { seconds: previewSeconds, byHand: true, signal: goneSignal(response) };
      response.json({ columns: await connection.describe(query, options), failure: null });
    } catch (error) {
      if (!(error instanceof StatementError) && !(error instanceof ConnectionError)) throw error;
      const at = error instanceof StatementError ? error.position : null;
      const position = at === null || written === null ? at : written(at);
      response.json({ columns: null, failure: { detail: error.message, position } });
    }
  });

  api.post('/choices', async (request, response) => {
    const caller = allow(request, 'view');
    const asked = body(choicesBody, request);
    if (asked.definition) await parts.checkSql(allow(request, 'design'), asked.definition);
    const report = await parts.reportOf(asked);
    const parameter = report.parameters.find((p) => p.name === asked.parameter);
    if (!parameter?.choicesFrom)
      throw new ApiError('wrong-body', { detail: `“${asked.parameter}” has no choices from rows.` });
    const context = await contextFor(report.parameters, report.queries ?? []);
    const recipe = planRecipe({ name: parameter.name, steps: choiceSteps(report, parameter, asked.search) }, context);
    if (recipe.problems.length > 0) {
      response.json({ choices: [], more: false, failure: failureWith(recipe.problems[0]!) });
      return;
    }
    try {
      const options = deskOptions(
        caller,
        { ...report, values: asked.values },
        response,
        asked.definition ? 'design' : 'run',
      );
      const desk = await RecipeDesk.open([recipe], options);
      try {
        const { rows } = await desk.rows(recipe, MOST_CHOICES + 1);
        const choices = rows
          .slice(0, MOST_CHOICES)
          .map(([value, label]) => ({ value: String(value), label: String(label ?? value) }));
        response.json({ choices, more: rows.length > MOST_CHOICES, failure: null });
      } finally {
        await desk.close();
      }
    } catch (error) {
      if (!(error instanceof RowProblem)) throw error;
      response.json({ choices: [], more: false, failure: failureOf(error) });
    }
  });
  return api;
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
