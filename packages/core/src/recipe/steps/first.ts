import type { StepRoom } from '../planning.ts';

/** The first rows, of all or of each value. */
export const firstStep: StepRoom<'first'> = {
  plan: (step, planning) => {
    const per = planning.all(step.per ?? []);
    return per && { kind: 'first', count: step.count, per: per.map((field) => planning.column(field)) };
  },
  without: (step, gone) => {
    const per = step.per?.filter((name) => name !== gone);
    return per && per.length < step.per!.length ? { ...step, per } : null;
  },
};
