import type { Source, StepOf, StepTotal } from '../../definition/recipe.ts';
import type { Checked } from '../../formula/checked.ts';
import { type Field, findEntity, lookOf, namedField, type Relation } from '../../model/model.ts';
import { phrase } from '../../problems/phrases.ts';
import { didYouMean, therePhrase } from '../../problems/suggest.ts';
import type { BroughtColumn, Operation, PlannedRecipe, PlannedSource } from '../planned.ts';
import { columnPhrase, type StepPlanning, type StepRoom } from '../planning.ts';
import { labelOf, renamed, shapeOf } from '../shape.ts';

/** Totals that are 0 where there are no rows. */
const NONE_IS_ZERO: readonly StepTotal[] = ['SUM', 'COUNT', 'COUNTDISTINCT'];

type SummariseOperation = Extract<Operation, { kind: 'summarise' }>;

const plan: StepRoom<'bring'>['plan'] = (step, planning) => {
  const relation = step.relation === undefined ? null : planning.relations.find((r) => r.name === step.relation);
  if (relation === undefined) {
    const names = planning.relations.map((r) => r.name);
    const hint = didYouMean(
      step.relation!,
      names,
      names.length > 0 ? therePhrase(names) : phrase('choose-fields-by-hand'),
    );
    return planning.wrong('recipe-relation-gone', { name: step.relation!, hint });
  }
  const from = relation ? target(planning, relation) : step.from;
  if (!from) return planning.wrong('recipe-needs-pairs');
  const source = planning.source(from);
  if (!source) return null;
  const on = relation?.on ?? step.on ?? [];
  if (on.length === 0) return planning.wrong('recipe-needs-pairs');
  const there = shapeOf(source);
  for (const pair of on) {
    // A relation of the model may go by keys that are hidden; pairs that somebody names may not.
    const find = (fields: readonly Field[], name: string): Field | 'hidden' | null =>
      relation ? (fields.find((f) => f.name === name) ?? null) : namedField(fields, name);
    const here = find(planning.fields, pair.here);
    const other = find(there.fields, pair.there);
    if (here === 'hidden' || other === 'hidden')
      return planning.wrong('hidden-field', { name: here === 'hidden' ? pair.here : pair.there });
    if (!here) return planning.wrong('recipe-field-gone', { name: pair.here, hint: phrase('choose-field-to-match') });
    if (!other) return planning.wrong('recipe-field-gone', { name: pair.there, hint: phrase('choose-field-to-match') });
    if (here.type !== other.type) {
      const data = {
        here: here.label,
        hereType: columnPhrase(here.type),
        there: other.label,
        thereType: columnPhrase(other.type),
      };
      return planning.wrong('recipe-types-differ', data);
    }
  }
  if (step.totals) return bringTotals(step, { source, from, on }, planning);
  const columns: BroughtColumn[] = [];
  const added: Field[] = [];
  const label = relation?.label ?? labelOf(source);
  const wanted = step.fields;
  for (const name of wanted ?? []) {
    const field = namedField(there.fields, name);
    if (field === 'hidden') return planning.wrong('hidden-field', { name });
    if (!field) return planning.wrong('recipe-field-gone', { name, hint: phrase('remove-or-choose') });
  }
  const names: BroughtColumn[] = [];
  for (const field of there.fields) {
    if (wanted && !wanted.includes(field.name) && !field.hidden) continue;
    // What both have in common stands here already, unless rows there may lack a partner here.
    const same = step.keep === 'matching' || step.keep === 'here' ? on.find((p) => p.there === field.name) : undefined;
    if (same && field.hidden) {
      names.push({ field: field.name, name: same.here });
      continue;
    }
    const name = planning.freeName(`${step.as}_${field.name}`, added);
    columns.push({ field: field.name, name });
    added.push({ ...field, name, label: `${label}: ${field.label}` });
  }
  names.push(...columns);
  planning.fields = [...planning.fields, ...added];
  // From one row here to many there, a row here is not alone any more.
  if (!relation || relation.kind === 'many' || step.keep === 'there' || step.keep === 'both') planning.key = null;
  const onward = there.relations.flatMap((r) => renamed(r, step.as, names));
  planning.relations = [...planning.relations, ...onward];
  return { kind: 'bring', source, on, keep: step.keep, columns };
};

interface There {
  source: PlannedSource;
  from: Source;
  on: readonly { here: string; there: string }[];
}

/** One row there for all that belong to a row here, with what they add up to. */
const bringTotals = (step: StepOf<'bring'>, { source, from, on }: There, planning: StepPlanning): Operation | null => {
  const { fields: there } = shapeOf(source);
  const column = (field: Field): Checked => ({
    kind: 'field',
    level: 0,
    column: there.indexOf(field) + 1,
    type: field.type,
  });
  // Under names of their own: a total may be called as a key is.
  const keys = on.map(({ there: name }, i) => {
    const field = there.find((f) => f.name === name)!;
    return { field, name: `key_${i + 1}`, formula: column(field) };
  });
  const totals: SummariseOperation['totals'] = [];
  const fields: Field[] = keys.map(({ field, name }) => ({ ...field, name, hidden: true }));
  const columns: BroughtColumn[] = [];
  const added: Field[] = [];
  for (const [i, { total, of, name, label }] of step.totals!.entries()) {
    const field = of === undefined ? null : namedField(there, of);
    if (field === 'hidden') return planning.wrong('hidden-field', { name: of! });
    if (of !== undefined && !field)
      return planning.wrong('recipe-field-gone', { name: of, hint: phrase('remove-or-choose') });
    const type = planning.totalType(total, field);
    if (!type || !planning.isFree(name, [...planning.fields, ...added])) return null;
    const inner = `total_${i + 1}`;
    totals.push({ name: inner, total, of: field && column(field) });
    const shown: Field = { name, label: label ?? name, type, ...(type === field?.type ? lookOf(field) : {}) };
    fields.push({ ...shown, name: inner });
    columns.push({ field: inner, name, ...(NONE_IS_ZERO.includes(total) ? { isNoneZero: true } : {}) });
    added.push(shown);
  }
  const summed: PlannedRecipe = {
    ...{ name: step.as, label: labelOf(source) },
    steps: [
      {
        step: { step: 'take', from },
        fields: [...there],
        problems: [],
        operation: { kind: 'take', source },
      },
      {
        step: {
          step: 'summarise',
          by: on.map((pair, i) => ({ field: pair.there, name: `key_${i + 1}` })),
          totals: step.totals!,
        },
        fields,
        problems: [],
        operation: { kind: 'summarise', by: keys.map(({ name, formula }) => ({ name, formula })), totals },
      },
    ],
    ...{ fields, key: null, isOrdered: false, relations: [], problems: [] },
  };
  planning.fields = [...planning.fields, ...added];
  if (step.keep === 'there' || step.keep === 'both') planning.key = null;
  const pairs = on.map(({ here }, i) => ({ here, there: `key_${i + 1}` }));
  return { kind: 'bring', source: { kind: 'recipe', recipe: summed }, on: pairs, keep: step.keep, columns };
};

/** The table that a relation leads to, in the model of the table that has it. */
const target = ({ context }: StepPlanning, relation: Relation): Source | null => {
  for (const model of context.models) {
    if (relation.model !== undefined && relation.model !== model.name) continue;
    if (findEntity(model, relation.to)) return { model: model.name, entity: relation.to };
  }
  return null;
};

/** Columns of other rows beside those that match. */
export const bringStep: StepRoom<'bring'> = {
  plan,
  without: (step, gone) => {
    const fields = step.fields?.filter((f) => f !== gone);
    const totals = step.totals?.filter(({ of }) => of !== gone);
    const isLess = fields?.length !== step.fields?.length || totals?.length !== step.totals?.length;
    if (!isLess || totals?.length === 0) return null;
    return { ...step, ...(fields ? { fields } : {}), ...(totals ? { totals } : {}) };
  },
};
