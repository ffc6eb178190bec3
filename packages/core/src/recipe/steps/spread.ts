import { lookOf, shownFields } from '../../model/model.ts';
import type { Operation } from '../planned.ts';
import type { StepRoom } from '../planning.ts';

const plan: StepRoom<'spread'>['plan'] = (step, planning) => {
  const [names, values] = [planning.field(step.names), planning.field(step.values)];
  if (!names || !values) return null;
  if (step.into.length === 0) return planning.wrong('recipe-nothing-to-spread');
  const type = planning.totalType(step.total, values);
  if (!type) return null;
  // A hidden key differs from row to row, so that rows kept apart by it would never come together.
  const kept = shownFields(planning.fields).filter((f) => f !== names && f !== values && f.type !== 'picture');
  const fields = [...kept];
  for (const { name, label, value } of step.into) {
    if (!planning.isFree(name, fields)) return null;
    fields.push({ name, label: label ?? String(value), type, ...lookOf(values) });
  }
  const into = step.into.map(({ name, value }) => ({ name, value }));
  const operation: Operation = {
    kind: 'spread',
    by: kept.map((f) => f.name),
    names: planning.column(names),
    values: planning.column(values),
    total: step.total,
    into,
  };
  planning.fields = fields;
  planning.key = null;
  planning.isOrdered = false;
  planning.relations = planning.relations.filter((r) => r.on.every(({ here }) => fields.some((f) => f.name === here)));
  return operation;
};

/** Values become columns, named after those beside them. */
export const spreadStep: StepRoom<'spread'> = { plan, without: () => null };
