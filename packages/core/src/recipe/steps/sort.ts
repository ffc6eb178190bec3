import type { StepRoom } from '../planning.ts';

/** Rows in an order. */
export const sortStep: StepRoom<'sort'> = {
  plan: (step, planning) => {
    const fields = planning.all(step.by.map(({ field }) => field));
    if (!fields) return null;
    planning.isOrdered = true;
    const by = step.by.map(({ descending = false }, i) => ({ formula: planning.column(fields[i]!), descending }));
    return { kind: 'sort', by };
  },
  without: (step, gone) => {
    const by = step.by.filter((b) => b.field !== gone);
    return by.length === step.by.length || by.length === 0 ? null : { ...step, by };
  },
};
