import type { Field } from '../../model/model.ts';
import type { StepRoom } from '../planning.ts';

const plan: StepRoom<'split'>['plan'] = (step, planning) => {
  const field = planning.field(step.field);
  if (!field) return null;
  if (field.type !== 'text') return planning.wrong('recipe-not-a-text', { name: field.label });
  if (step.into.length === 0) return planning.lacks('lacks-into');
  const fields: Field[] = [...planning.fields];
  for (const { name, label = name } of step.into) {
    if (!planning.isFree(name, fields)) return null;
    fields.push({ name, label, type: 'text' });
  }
  const of = planning.column(field);
  planning.fields = fields;
  return { kind: 'split', of, at: step.at, into: step.into.map(({ name }) => name) };
};

/** Parts of a text in columns of their own. */
export const splitStep: StepRoom<'split'> = { plan, without: () => null };
