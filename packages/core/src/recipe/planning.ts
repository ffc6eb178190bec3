import type { Source, Step, StepKind, StepOf, StepTotal } from '../definition/recipe.ts';
import { checkFormula, type FormulaScope } from '../formula/check.ts';
import type { Checked } from '../formula/checked.ts';
import { type Field, findEntity, namedField, type Relation, shownFields } from '../model/model.ts';
import { rowScope } from '../model/scopes.ts';
import { type Phrase, type PhraseCode, phrase } from '../problems/phrases.ts';
import { type Problem, type ProblemPlace, problem } from '../problems/problem.ts';
import { didYouMean, therePhrase } from '../problems/suggest.ts';
import type { DataType } from '../value/value.ts';
import type { Operation, PlannedRecipe, PlannedSource, RecipeContext } from './planned.ts';
import { stepsOf } from './shape.ts';

/** A shared recipe takes at most so many others, one in another. */
const DEEPEST = 12;

/** Other recipes that one takes rows from, those inside them counted each time. */
const MOST_TAKEN = 100;

/** Totals of numbers alone. */
const OF_NUMBERS: readonly StepTotal[] = ['SUM', 'AVERAGE', 'MEDIAN', 'STDEV'];

/** Types of columns as problems name them. */
export const columnPhrase = (type: DataType): Phrase =>
  phrase(type === 'text' || type === 'boolean' ? `column-${type}` : `type-${type}`);

/** What formulas of reports call by the words of a report, as somebody in a recipe knows it: rows, columns and steps. */
const STEP_PROBLEMS: { readonly [C in Problem['code']]?: Problem['code'] } = {
  'unknown-name': 'recipe-field-gone',
  'total-without-rows': 'recipe-total-here',
  'previous-without-row': 'recipe-order-in-formula',
  'depth-without-tree': 'recipe-order-in-formula',
};

const asStepProblem = (p: Problem): Problem => ({ ...p, code: STEP_PROBLEMS[p.code] ?? p.code });

/** Steps with a name, as a recipe or a query has them. */
export interface NamedSteps {
  name: string;
  label?: string | undefined;
  steps: readonly Step[];
}

/** Everything that planning needs of one kind of step. */
export interface StepRoom<K extends StepKind = StepKind> {
  /** Whether a recipe may begin with it; it stands first alone then. */
  begins?: true;
  /** What it does to the columns so far, which it changes; null, with what is wrong noted, when it cannot be done. */
  plan: (step: StepOf<K>, planning: StepPlanning) => Operation | null;
  /** The step without a column that is gone; null when that leaves nothing, or nothing was changed. */
  without: (step: StepOf<K>, gone: string) => StepOf<K> | null;
}

/** The columns after the steps that were planned so far, and what a step needs to plan itself. */
export class StepPlanning {
  fields: Field[] = [];
  key: string | null = null;
  isOrdered = false;
  relations: Relation[] = [];
  /** Problems of the step that is planned. */
  found: Problem[] = [];

  constructor(
    readonly context: RecipeContext,
    private readonly around: readonly string[],
    /** Recipes taken by the outermost one, and by those inside it. */
    private readonly taken: { count: number },
    /** Plans a recipe that this one takes rows from. */
    private readonly nested: (recipe: NamedSteps, around: readonly string[]) => PlannedRecipe,
  ) {}

  wrong(code: Problem['code'], data: Problem['data'] = {}, place: ProblemPlace = {}): null {
    this.found.push(problem(code, place, data));
    return null;
  }

  /** Something is not chosen yet. */
  lacks(part: PhraseCode): null {
    return this.wrong('recipe-step-unfinished', { part: phrase(part) });
  }

  field(name: string): Field | null {
    const field = namedField(this.fields, name);
    if (field === 'hidden') return this.wrong('hidden-field', { name });
    if (field) return field;
    const names = shownFields(this.fields).map((f) => f.name);
    return this.wrong('recipe-field-gone', {
      name,
      hint: didYouMean(name, names, phrase('remove-or-choose')),
    });
  }

  column(field: Field): Checked {
    const { type, format } = field;
    return {
      kind: 'field',
      level: 0,
      column: this.fields.indexOf(field) + 1,
      type,
      ...(format ? { format } : {}),
    };
  }

  /** What names mean in a formula about one row. */
  scope(fields: readonly Field[] = this.fields): FormulaScope {
    return rowScope(fields, this.context.parameters);
  }

  formula(source: string, scope: FormulaScope = this.scope()): Checked | null {
    const result = checkFormula(source, scope);
    if (result.ok) return result.formula;
    this.found.push(...result.problems.map(asStepProblem));
    return null;
  }

  all(names: readonly string[]): Field[] | null {
    const fields = names.map((name) => this.field(name));
    return fields.every((f) => f !== null) ? fields : null;
  }

  isFree(name: string, fields: readonly Field[] = this.fields): boolean {
    if (!fields.some((f) => f.name === name)) return true;
    this.wrong('recipe-name-taken', { name });
    return false;
  }

  /** A name that no column has yet. */
  freeName(name: string, added: readonly Field[]): string {
    const taken = (candidate: string): boolean => [...this.fields, ...added].some((f) => f.name === candidate);
    let free = name;
    for (let n = 2; taken(free); n++) free = `${name}_${n}`;
    return free;
  }

  source(from: Source): PlannedSource | null {
    const { context } = this;
    if ('entity' in from) {
      const model = context.models.find((m) => m.name === from.model);
      if (!model) return this.wrong('unknown-model', { name: from.model });
      const entity = findEntity(model, from.entity);
      if (!entity) {
        const names = model.entities.map((e) => e.name);
        return this.wrong('unknown-entity', {
          name: from.entity,
          hint: didYouMean(from.entity, names, therePhrase(names)),
        });
      }
      const given: Record<string, Checked> = {};
      for (const argument of entity.arguments ?? []) {
        const source = from.arguments?.[argument.name];
        const formula = source === undefined || source.trim() === '' ? null : this.formula(source, this.scope([]));
        if (!formula) return this.wrong('recipe-missing-argument', { name: entity.label, argument: argument.label });
        given[argument.name] = formula;
      }
      return { kind: 'table', model: model.name, entity, arguments: given };
    }
    const name = 'recipe' in from ? from.recipe : from.query;
    const query = 'query' in from ? context.queries.find((q) => q.name === name) : undefined;
    const found = 'recipe' in from ? context.recipe(name) : query && stepsOf(query, context);
    if (!found) return this.wrong('recipe-unknown', { name, hint: phrase('choose-another') });
    const id = 'recipe' in from ? `recipe ${name}` : name;
    if (this.around.includes(id) || this.around.length >= DEEPEST)
      return this.wrong('recipe-in-circle', { name: found.name });
    if (++this.taken.count > MOST_TAKEN) return this.wrong('too-many-recipes', { limit: MOST_TAKEN });
    const recipe = this.nested(found, [...this.around, id]);
    // By itself the one that is taken may be well.
    if (this.taken.count > MOST_TAKEN) return this.wrong('too-many-recipes', { limit: MOST_TAKEN });
    const circle = recipe.problems.find(({ code }) => code === 'recipe-in-circle');
    if (circle) return this.wrong('recipe-in-circle', circle.data);
    if (recipe.problems.length > 0) return this.wrong('query-wrong', { name: found.name });
    return { kind: 'recipe', recipe };
  }

  totalType(total: StepTotal, field: Field | null): DataType | null {
    if (total === 'COUNT' || total === 'COUNTDISTINCT') return 'number';
    if (!field) return this.wrong('recipe-field-gone', { name: total, hint: phrase('choose-field-to-total') });
    const needsNumber = OF_NUMBERS.includes(total);
    if ((needsNumber && field.type !== 'number') || field.type === 'picture') {
      return this.wrong('recipe-not-a-total', { total, name: field.label, type: columnPhrase(field.type) });
    }
    return field.type;
  }
}
