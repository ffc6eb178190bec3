import { lookOf } from '../../model/model.ts';
import type { StepRoom } from '../planning.ts';

/** What is worked out of numbers alone. */
const OF_NUMBERS: readonly string[] = ['running', 'share'];
/** What depends on the order that the rows are in. */
const IN_ORDER: readonly string[] = ['running', 'before', 'number'];

const plan: StepRoom<'along'>['plan'] = (step, planning) => {
  const { what } = step;
  const per = planning.all(step.per ?? []);
  if (!per) return null;
  const field = step.of === undefined ? null : planning.field(step.of);
  if (what !== 'number' && !field) return step.of === undefined ? planning.lacks('lacks-field') : null;
  if (field && OF_NUMBERS.includes(what) && field.type !== 'number')
    return planning.wrong('recipe-not-a-number', { name: field.label });
  if (!planning.isFree(step.name)) return null;
  if (IN_ORDER.includes(what) && !planning.isOrdered) return planning.wrong('recipe-needs-order');
  const label = step.label ?? step.name;
  const look = field ? lookOf(field) : {};
  planning.fields = [
    ...planning.fields,
    what === 'before' && field
      ? { name: step.name, label, type: field.type, ...look }
      : {
          name: step.name,
          label,
          type: 'number',
          ...(what === 'share' ? { format: '0.0%' } : what === 'running' ? look : {}),
        },
  ];
  return {
    kind: 'along',
    what,
    name: step.name,
    of: what === 'number' || !field ? null : planning.column(field),
    per: per.map((one) => planning.column(one)),
  };
};

/** A column that is worked out along the rows: of those before, or of all of a group. */
export const alongStep: StepRoom<'along'> = {
  plan,
  without: (step, gone) => {
    const per = step.per?.filter((name) => name !== gone);
    return per && per.length < step.per!.length ? { ...step, per } : null;
  },
};
