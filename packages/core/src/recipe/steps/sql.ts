import { problem } from '../../problems/problem.ts';
import type { StepRoom } from '../planning.ts';

/** Rows of a statement that somebody wrote. */
export const sqlStep: StepRoom<'sql'> = {
  begins: true,
  plan: (step, planning) => {
    if (step.text.trim() === '' || step.columns.length === 0) {
      planning.found.push(problem('recipe-no-statement', {}, {}, 'warning'));
      return null;
    }
    planning.fields = step.columns.map(({ name, type, label }) => ({ name, type, label: label ?? name }));
    planning.isOrdered = true;
    return { kind: 'sql', model: step.model, text: step.text };
  },
  without: () => null,
};
