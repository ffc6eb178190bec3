import type { Source, Step, StepOf, StepTotal } from '../definition/recipe.ts';
import { checkFormula } from '../formula/check.ts';
import type { Checked } from '../formula/checked.ts';
import { type Field, findEntity, namedField, type Relation, shownFields } from '../model/model.ts';
import { rowScope } from '../model/scopes.ts';
import { type Problem, type ProblemPlace, problem } from '../problems/problem.ts';
import { didYouMean } from '../problems/suggest.ts';
import type { DataType } from '../value/value.ts';
import { conditionFormula } from './conditions.ts';
import type { BroughtColumn, Operation, PlannedRecipe, PlannedSource, PlannedStep, RecipeContext } from './planned.ts';
import { labelOf, renamed, shapeOf, stepsOf } from './shape.ts';

/** A shared recipe takes at most so many others, one in another. */
const DEEPEST = 12;

/** Other recipes that one takes rows from, those inside them counted each time. */
const MOST_TAKEN = 100;

const TYPE_WORDS: Record<DataType, string> = {
  text: 'a text',
  number: 'a number',
  date: 'a date',
  datetime: 'a date with time',
  boolean: 'yes or no',
  picture: 'a picture',
};

/** Plans the steps of a recipe. Never fails: what is wrong stands at its step, which is then passed over. */
export const planRecipe = (
  recipe: { name: string; label?: string | undefined; steps: readonly Step[] },
  context: RecipeContext,
  around: readonly string[] = [],
): PlannedRecipe => new RecipePlanner(recipe, context, around, { count: 0 }).plan();

const PERIOD_FORMATS = {
  year: 'yyyy',
  quarter: 'mmm yyyy',
  month: 'mmm yyyy',
  week: 'd mmm yyyy',
  day: 'd mmm yyyy',
  hour: 'd mmm yyyy hh:mm',
} as const;

/** A name that a formula of a step does not find is a column that is gone. */
const asStepProblem = (p: Problem): Problem => (p.code === 'unknown-name' ? { ...p, code: 'recipe-field-gone' } : p);

class RecipePlanner {
  private fields: Field[] = [];
  private key: string | null = null;
  private isOrdered = false;
  private relations: Relation[] = [];
  private found: Problem[] = [];

  constructor(
    private readonly recipe: { name: string; label?: string | undefined; steps: readonly Step[] },
    private readonly context: RecipeContext,
    private readonly around: readonly string[],
    /** Recipes taken by the outermost one, and by those inside it. */
    private readonly taken: { count: number },
  ) {}

  plan(): PlannedRecipe {
    const { name, label, steps } = this.recipe;
    const planned: PlannedStep[] = [];
    for (const [i, step] of steps.entries()) {
      this.found = [];
      const before = this.state();
      const operation = step.off ? null : this.operation(step, i);
      const problems = this.found.map((p) => ({ ...p, place: { path: `steps/${i}`, ...p.place } }));
      if (!operation) this.restore(before);
      planned.push({ step, fields: this.fields, problems, operation });
    }
    const problems = planned.flatMap((p) => p.problems);
    const first = planned.find((p) => p.operation);
    const startsWell = first?.operation?.kind === 'take' || first?.operation?.kind === 'sql';
    if (!startsWell && problems.length === 0) problems.unshift(problem('recipe-empty', { path: 'steps/0' }, { name }));
    const { fields, key, isOrdered, relations } = this;
    return { name, label: label ?? name, steps: planned, fields, key, isOrdered, relations, problems };
  }

  private state() {
    const { fields, key, isOrdered, relations } = this;
    return { fields, key, isOrdered, relations };
  }

  private restore(state: ReturnType<RecipePlanner['state']>): void {
    Object.assign(this, state);
  }

  private wrong(code: Problem['code'], data: Problem['data'] = {}, place: ProblemPlace = {}): null {
    this.found.push(problem(code, place, data));
    return null;
  }

  private field(name: string): Field | null {
    const field = namedField(this.fields, name);
    if (field === 'hidden') return this.wrong('hidden-field', { name });
    if (field) return field;
    const names = shownFields(this.fields).map((f) => f.name);
    return this.wrong('recipe-field-gone', {
      name,
      hint: didYouMean(name, names, 'Remove it, or choose another one.'),
    });
  }

  private column(field: Field): Checked {
    const { type, format } = field;
    return {
      kind: 'field',
      level: 0,
      column: this.fields.indexOf(field) + 1,
      type,
      ...(format ? { format } : {}),
    };
  }

  private formula(source: string, fields: readonly Field[] = this.fields): Checked | null {
    const result = checkFormula(source, rowScope(fields, this.context.parameters));
    if (result.ok) return result.formula;
    this.found.push(...result.problems.map(asStepProblem));
    return null;
  }

  private operation(step: Step, at: number): Operation | null {
    const isFirst = this.fields.length === 0;
    if ((step.step === 'take' || step.step === 'sql') !== isFirst)
      return isFirst
        ? at === 0
          ? this.wrong('recipe-empty', { name: this.recipe.name })
          : null
        : this.wrong('recipe-take-first');
    switch (step.step) {
      case 'take':
        return this.take(step);
      case 'sql': {
        if (step.text.trim() === '' || step.columns.length === 0) {
          this.found.push(problem('recipe-no-statement', {}, {}, 'warning'));
          return null;
        }
        this.fields = step.columns.map(({ name, type, label }) => ({ name, type, label: label ?? name }));
        this.isOrdered = true;
        return { kind: 'sql', model: step.model, text: step.text };
      }
      case 'bring':
        return this.bring(step);
      case 'keep': {
        const formula = this.formula(conditionFormula(step.where, this.fields));
        if (!formula) return null;
        if (formula.type !== 'boolean' && formula.type !== 'any') {
          const data = { where: 'A condition', expected: 'TRUE or FALSE', given: formula.type };
          return this.wrong('wrong-type', data);
        }
        return { kind: 'keep', formula };
      }
      case 'add':
        return this.add(step);
      case 'summarise':
        return this.summarise(step);
      case 'spread':
        return this.spread(step);
      case 'sort': {
        const by = step.by.map(({ field, descending }) => ({
          field: this.field(field),
          descending: descending ?? false,
        }));
        if (by.some((b) => b.field === null)) return null;
        this.isOrdered = true;
        return { kind: 'sort', by: by.map((b) => ({ formula: this.column(b.field!), descending: b.descending })) };
      }
      case 'first': {
        const per = this.all(step.per ?? []);
        return per && { kind: 'first', count: step.count, per: per.map((f) => this.column(f)) };
      }
      case 'distinct': {
        // Rows are the same when what can be seen of them is.
        const by = step.by ? this.all(step.by) : shownFields(this.fields);
        return by && { kind: 'distinct', by: by.map((f) => f.name) };
      }
      case 'stack':
        return this.stack(step);
      default:
        return step satisfies never;
    }
  }

  private all(names: readonly string[]): Field[] | null {
    const fields = names.map((name) => this.field(name));
    return fields.every((f) => f !== null) ? fields : null;
  }

  private add(step: StepOf<'add'>): Operation | null {
    const formula = this.formula(step.formula);
    if (!formula || !this.isFree(step.name)) return null;
    if (formula.type === 'list') {
      return this.wrong('wrong-type', { where: 'A column', expected: 'a single value', given: 'a list' });
    }
    const format = step.format ?? formula.format;
    const type = formula.type === 'any' ? 'text' : formula.type;
    this.fields = [
      ...this.fields,
      { name: step.name, label: step.label ?? step.name, type, ...(format ? { format } : {}) },
    ];
    return { kind: 'add', name: step.name, formula };
  }

  private isFree(name: string, fields: readonly Field[] = this.fields): boolean {
    if (!fields.some((f) => f.name === name)) return true;
    this.wrong('recipe-name-taken', { name });
    return false;
  }

  /** A name that no column has yet. */
  private freeName(name: string, added: readonly Field[]): string {
    const taken = (candidate: string): boolean => [...this.fields, ...added].some((f) => f.name === candidate);
    let free = name;
    for (let n = 2; taken(free); n++) free = `${name}_${n}`;
    return free;
  }

  private take({ from }: StepOf<'take'>): Operation | null {
    const source = this.source(from);
    if (!source) return null;
    const given = shapeOf(source);
    this.fields = [...given.fields];
    this.key = given.key;
    this.relations = given.relations;
    this.isOrdered = source.kind === 'recipe' && source.recipe.isOrdered;
    return { kind: 'take', source };
  }

  private source(from: Source): PlannedSource | null {
    const { context } = this;
    if ('entity' in from) {
      const model = context.models.find((m) => m.name === from.model);
      if (!model) return this.wrong('unknown-model', { name: from.model });
      const entity = findEntity(model, from.entity);
      if (!entity) {
        const names = model.entities.map((e) => e.name);
        return this.wrong('unknown-entity', {
          name: from.entity,
          hint: didYouMean(from.entity, names, `There is ${names.join(', ')}.`),
        });
      }
      const given: Record<string, Checked> = {};
      for (const argument of entity.arguments ?? []) {
        const source = from.arguments?.[argument.name];
        const formula = source === undefined || source.trim() === '' ? null : this.formula(source, []);
        if (!formula) return this.wrong('recipe-missing-argument', { name: entity.label, argument: argument.label });
        given[argument.name] = formula;
      }
      return { kind: 'table', model: model.name, entity, arguments: given };
    }
    const name = 'recipe' in from ? from.recipe : from.query;
    const query = 'query' in from ? context.queries.find((q) => q.name === name) : undefined;
    const found = 'recipe' in from ? context.recipe(name) : query && stepsOf(query, context);
    if (!found) return this.wrong('recipe-unknown', { name, hint: 'Choose another one.' });
    const id = 'recipe' in from ? `recipe ${name}` : name;
    if (this.around.includes(id) || this.around.length >= DEEPEST)
      return this.wrong('recipe-in-circle', { name: found.name });
    if (++this.taken.count > MOST_TAKEN) return this.wrong('too-many-recipes', { limit: MOST_TAKEN });
    const recipe = new RecipePlanner(found, context, [...this.around, id], this.taken).plan();
    // By itself the one that is taken may be well.
    if (this.taken.count > MOST_TAKEN) return this.wrong('too-many-recipes', { limit: MOST_TAKEN });
    if (recipe.problems.length > 0) return this.wrong('query-wrong', { name: found.name });
    return { kind: 'recipe', recipe };
  }

  private bring(step: StepOf<'bring'>): Operation | null {
    const relation = step.relation === undefined ? null : this.relations.find((r) => r.name === step.relation);
    if (relation === undefined) {
      const names = this.relations.map((r) => r.name);
      const hint = didYouMean(
        step.relation!,
        names,
        names.length > 0 ? `There is ${names.join(', ')}.` : 'Choose the fields by hand.',
      );
      return this.wrong('recipe-relation-gone', { name: step.relation!, hint });
    }
    const from = relation ? this.target(relation) : step.from;
    if (!from) return this.wrong('recipe-needs-pairs');
    const source = this.source(from);
    if (!source) return null;
    const on = relation?.on ?? step.on ?? [];
    if (on.length === 0) return this.wrong('recipe-needs-pairs');
    const there = shapeOf(source);
    for (const pair of on) {
      // A relation of the model may go by keys that are hidden; pairs that somebody names may not.
      const find = (fields: readonly Field[], name: string): Field | 'hidden' | null =>
        relation ? (fields.find((f) => f.name === name) ?? null) : namedField(fields, name);
      const here = find(this.fields, pair.here);
      const other = find(there.fields, pair.there);
      if (here === 'hidden' || other === 'hidden')
        return this.wrong('hidden-field', { name: here === 'hidden' ? pair.here : pair.there });
      if (!here) return this.wrong('recipe-field-gone', { name: pair.here, hint: 'Choose another field to match by.' });
      if (!other)
        return this.wrong('recipe-field-gone', { name: pair.there, hint: 'Choose another field to match by.' });
      if (here.type !== other.type) {
        const data = {
          here: here.label,
          hereType: TYPE_WORDS[here.type],
          there: other.label,
          thereType: TYPE_WORDS[other.type],
        };
        return this.wrong('recipe-types-differ', data);
      }
    }
    const columns: BroughtColumn[] = [];
    const added: Field[] = [];
    const label = relation?.label ?? labelOf(source);
    const wanted = step.fields;
    for (const name of wanted ?? []) {
      const field = namedField(there.fields, name);
      if (field === 'hidden') return this.wrong('hidden-field', { name });
      if (!field) return this.wrong('recipe-field-gone', { name, hint: 'Remove it, or choose another one.' });
    }
    const names: BroughtColumn[] = [];
    for (const field of there.fields) {
      if (wanted && !wanted.includes(field.name) && !field.hidden) continue;
      // What both have in common stands here already, unless rows there may lack a partner here.
      const same =
        step.keep === 'matching' || step.keep === 'here' ? on.find((p) => p.there === field.name) : undefined;
      if (same && field.hidden) {
        names.push({ field: field.name, name: same.here });
        continue;
      }
      const name = this.freeName(`${step.as}_${field.name}`, added);
      columns.push({ field: field.name, name });
      added.push({ ...field, name, label: `${label}: ${field.label}` });
    }
    names.push(...columns);
    this.fields = [...this.fields, ...added];
    // From one row here to many there, a row here is not alone any more.
    if (!relation || relation.kind === 'many' || step.keep === 'there' || step.keep === 'both') this.key = null;
    const onward = there.relations.flatMap((r) => renamed(r, step.as, names));
    this.relations = [...this.relations, ...onward];
    return { kind: 'bring', source, on, keep: step.keep, columns };
  }

  /** The table that a relation leads to, in the model of the table that has it. */
  private target(relation: Relation): Source | null {
    for (const model of this.context.models) {
      if (relation.model !== undefined && relation.model !== model.name) continue;
      if (findEntity(model, relation.to)) return { model: model.name, entity: relation.to };
    }
    return null;
  }

  private summarise(step: StepOf<'summarise'>): Operation | null {
    const fields: Field[] = [];
    const by: { name: string; formula: Checked }[] = [];
    for (const { field: from, per, name: given } of step.by) {
      const field = this.field(from);
      if (!field) return null;
      const name = given ?? (per ? `${from}_${per}` : from);
      if (!this.isFree(name, fields)) return null;
      if (!per) {
        by.push({ name, formula: this.column(field) });
        fields.push({ ...field, name });
        continue;
      }
      const formula = this.formula(per === 'hour' ? `PERIODHOUR(${from})` : `PERIOD(${from};"${per}")`);
      if (!formula) return null;
      by.push({ name, formula });
      fields.push({
        name,
        label: field.label,
        type: per === 'hour' ? 'datetime' : 'date',
        format: PERIOD_FORMATS[per],
      });
    }
    const totals: Extract<Operation, { kind: 'summarise' }>['totals'] = [];
    for (const { total, of, name, label } of step.totals) {
      const field = of === undefined ? null : this.field(of);
      if (of !== undefined && !field) return null;
      const type = this.totalType(total, field);
      if (!type || !this.isFree(name, fields)) return null;
      totals.push({ name, total, of: field && this.column(field) });
      const format = type === field?.type && field.format ? { format: field.format } : {};
      fields.push({ name, label: label ?? name, type, ...format });
    }
    this.fields = fields;
    this.key = by.length === 1 ? by[0]!.name : null;
    this.isOrdered = false;
    this.relations = this.relations.filter((r) => r.on.every(({ here }) => fields.some((f) => f.name === here)));
    return { kind: 'summarise', by, totals };
  }

  private totalType(total: StepTotal, field: Field | null): DataType | null {
    if (total === 'COUNT' || total === 'COUNTDISTINCT') return 'number';
    if (!field) return this.wrong('recipe-field-gone', { name: total, hint: 'Choose a field for it.' });
    const needsNumber = total === 'SUM' || total === 'AVERAGE';
    if ((needsNumber && field.type !== 'number') || field.type === 'picture') {
      return this.wrong('recipe-not-a-total', { total, name: field.label, type: TYPE_WORDS[field.type] });
    }
    return field.type;
  }

  private spread(step: StepOf<'spread'>): Operation | null {
    const [names, values] = [this.field(step.names), this.field(step.values)];
    if (!names || !values) return null;
    if (step.into.length === 0) return this.wrong('recipe-nothing-to-spread');
    const type = this.totalType(step.total, values);
    if (!type) return null;
    // A hidden key differs from row to row, so that rows kept apart by it would never come together.
    const kept = shownFields(this.fields).filter((f) => f !== names && f !== values && f.type !== 'picture');
    const fields = [...kept];
    for (const { name, label, value } of step.into) {
      if (!this.isFree(name, fields)) return null;
      fields.push({ name, label: label ?? String(value), type, ...(values.format ? { format: values.format } : {}) });
    }
    const into = step.into.map(({ name, value }) => ({ name, value }));
    const operation: Operation = {
      kind: 'spread',
      by: kept.map((f) => f.name),
      names: this.column(names),
      values: this.column(values),
      total: step.total,
      into,
    };
    this.fields = fields;
    this.key = null;
    this.isOrdered = false;
    this.relations = this.relations.filter((r) => r.on.every(({ here }) => fields.some((f) => f.name === here)));
    return operation;
  }

  private stack({ from }: StepOf<'stack'>): Operation | null {
    const source = this.source(from);
    if (!source) return null;
    const there = shapeOf(source);
    const columns: (string | null)[] = [];
    for (const field of this.fields) {
      const other = there.fields.find((f) => f.name === field.name);
      // What is hidden there must not come to light under the name of something that can be seen here.
      if (other?.hidden && !field.hidden) return this.wrong('hidden-field', { name: field.name });
      if (other && other.type !== field.type) {
        const data = { name: field.label, hereType: TYPE_WORDS[field.type], thereType: TYPE_WORDS[other.type] };
        return this.wrong('recipe-stack-differs', data);
      }
      columns.push(other ? other.name : null);
    }
    this.key = null;
    this.isOrdered = false;
    return { kind: 'stack', source, columns };
  }
}
