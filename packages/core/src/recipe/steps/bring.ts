import type { Source } from '../../definition/recipe.ts';
import { type Field, findEntity, namedField, type Relation } from '../../model/model.ts';
import { phrase } from '../../problems/phrases.ts';
import { didYouMean, therePhrase } from '../../problems/suggest.ts';
import type { BroughtColumn } from '../planned.ts';
import { columnPhrase, type StepPlanning, type StepRoom } from '../planning.ts';
import { labelOf, renamed, shapeOf } from '../shape.ts';

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
  without: (step, gone) =>
    step.fields?.includes(gone) ? { ...step, fields: step.fields.filter((f) => f !== gone) } : null,
};
