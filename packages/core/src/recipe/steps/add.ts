import { phrase } from '../../problems/phrases.ts';
import type { StepRoom } from '../planning.ts';

const plan: StepRoom<'add'>['plan'] = (step, planning) => {
  const formula = planning.formula(step.formula);
  if (!formula || !planning.isFree(step.name)) return null;
  if (formula.type === 'list') {
    return planning.wrong('wrong-type', {
      where: phrase('a-column'),
      expected: phrase('single-value'),
      given: phrase('type-list'),
    });
  }
  const format = step.format ?? formula.format;
  const type = formula.type === 'any' ? 'text' : formula.type;
  planning.fields = [
    ...planning.fields,
    { name: step.name, label: step.label ?? step.name, type, ...(format ? { format } : {}) },
  ];
  return { kind: 'add', name: step.name, formula };
};

/** One more column. */
export const addStep: StepRoom<'add'> = { plan, without: () => null };
