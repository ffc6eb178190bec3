import type { Condition, Step } from '../definition/recipe.ts';
import type { Parameter, Report } from '../definition/schema.ts';
import { parseFormula } from '../formula/parse.ts';
import { writtenName } from '../formula/tokens.ts';
import { type Tree, treeNodes } from '../formula/tree.ts';
import { type Entity, findEntity, type Model, type Relation } from '../model/model.ts';
import type { Problem } from '../problems/problem.ts';
import { planRecipe } from './plan.ts';
import type { PlannedRecipe, RecipeContext } from './planned.ts';

/** What of a parameter's choices a step is made of. */
export type ChoicePart = keyof NonNullable<Parameter['choicesFrom']>;

interface ChoiceStep {
  step: Step;
  part: ChoicePart;
}

/** Which of the choices are asked for: those whose words contain `search`; and those alone that have one of the values `among`. */
export interface AskedChoices {
  search?: string | undefined;
  among?: readonly string[] | undefined;
}

type ChoiceReport = Pick<Report, 'model' | 'queries'>;

/** Columns of the choices, which are named so that no field of the rows is. */
const VALUE = 'choice_value';
const LABEL = 'choice_label';

/**
 * The choices of a parameter as the steps of a recipe: its rows, those for which its condition holds, each value once with its
 * words, by which they are sorted. Formulas reach fields of related rows, as `region.name`.
 */
const choiceSteps = (
  report: ChoiceReport,
  { choicesFrom }: Parameter,
  models: readonly Model[],
  search = '',
  among: Condition | null = null,
): ChoiceStep[] => {
  const { rows, value, label = value, where } = choicesFrom!;
  const isQuery = (report.queries ?? []).some((q) => q.name === rows);
  const model = isQuery ? undefined : models.find((m) => m.name === report.model);
  const entity = (model && findEntity(model, rows)) ?? null;
  const reached = new Map<string, ChoiceStep>();
  const written = (source: string, part: ChoicePart): string =>
    model && entity
      ? alongRelations(source, model, entity, (relation, as) => {
          if (!reached.has(as)) reached.set(as, { part, step: { step: 'bring', relation, keep: 'here', as } });
        })
      : source;
  const keep = (condition: Condition, part: ChoicePart): ChoiceStep => ({
    part,
    step: { step: 'keep', where: condition },
  });
  const own: ChoiceStep[] = [
    ...(where ? [keep({ formula: written(where, 'where') }, 'where')] : []),
    { part: 'value', step: { step: 'add', name: VALUE, formula: written(value, 'value') } },
    { part: 'label', step: { step: 'add', name: LABEL, formula: written(label, 'label') } },
    keep({ field: VALUE, is: 'notBlank' }, 'value'),
    ...(among ? [keep(among, 'value')] : []),
    ...(search === '' ? [] : [keep({ field: LABEL, is: 'contains', to: { value: search } }, 'label')]),
    { part: 'value', step: { step: 'summarise', by: [{ field: VALUE }, { field: LABEL }], totals: [] } },
    { part: 'label', step: { step: 'sort', by: [{ field: LABEL }] } },
  ];
  const from = isQuery ? { query: rows } : { model: report.model ?? '', entity: rows };
  return [{ part: 'rows', step: { step: 'take', from } }, ...reached.values(), ...own];
};

/** The choices of a parameter that has some out of rows, as a planned recipe of value and words. */
export const planChoices = (
  report: ChoiceReport,
  parameter: Parameter,
  context: RecipeContext,
  asked: AskedChoices = {},
) => {
  const { name } = parameter;
  const planned = (given: readonly ChoiceStep[]) => planRecipe({ name, steps: given.map(({ step }) => step) }, context);
  const all = choiceSteps(report, parameter, context.models, asked.search);
  const among = asked.among && amongValues(planned(all), asked.among);
  const steps = among ? choiceSteps(report, parameter, context.models, asked.search, among) : all;
  const recipe = planned(steps);
  /** What is wrong, each with what of the choices it is about. */
  const problems = steps.flatMap(({ part }, i) =>
    recipe.steps[i]!.problems.map((problem): { part: ChoicePart; problem: Problem } => ({ part, problem })),
  );
  return { recipe, problems: problems.filter(({ part }) => part === problems[0]!.part) };
};

/** The condition that a choice has one of these values, which are of the type that choices have. */
const amongValues = ({ fields }: PlannedRecipe, among: readonly string[]): Condition => {
  const isNumber = fields.find(({ name }) => name === VALUE)?.type === 'number';
  const values = isNumber ? among.map(Number).filter(Number.isFinite) : [...among];
  return values.length === 0 ? { formula: 'FALSE()' } : { field: VALUE, is: 'oneOf', to: { values } };
};

/** A formula with the fields of related rows under the names that they have once those rows are brought in. */
const alongRelations = (
  source: string,
  model: Model,
  entity: Entity,
  reach: (relation: string, as: string) => void,
): string => {
  const parsed = parseFormula(source);
  if (!parsed.ok) return source;
  const names = [...treeNodes(parsed.tree)].filter((node): node is Tree & { kind: 'name' } => node.kind === 'name');
  let text = source;
  // From the end on, so that places before stay what they are.
  for (const { parts, from, to } of names.sort((a, b) => b.from - a.from)) {
    const path = parts.slice(0, -1);
    const relations = relationsAlong(model, entity, path);
    if (path.length === 0 || !relations) continue;
    let as = '';
    for (const { name } of relations) {
      const relation = as === '' ? name : `${as}_${name}`;
      as = `reached_${relation}`;
      reach(relation, as);
    }
    text = `${text.slice(0, from)}${writtenName(`${as}_${parts.at(-1)!}`)}${text.slice(to)}`;
  }
  return text;
};

/** The relations to one row that a path names; null when it does not. */
const relationsAlong = (model: Model, entity: Entity, path: readonly string[]): Relation[] | null => {
  const relations: Relation[] = [];
  let at: Entity | null = entity;
  for (const name of path) {
    const relation: Relation | undefined = at?.relations.find((r) => r.name === name && r.kind === 'one');
    if (!relation) return null;
    relations.push(relation);
    at = findEntity(model, relation.to);
  }
  return relations;
};
