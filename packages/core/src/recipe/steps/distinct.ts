import { shownFields } from '../../model/model.ts';
import type { StepRoom } from '../planning.ts';

/** Rows without their duplicates. */
export const distinctStep: StepRoom<'distinct'> = {
  plan: (step, planning) => {
    // Rows are the same when what can be seen of them is.
    const by = step.by ? planning.all(step.by) : shownFields(planning.fields);
    return by && { kind: 'distinct', by: by.map((field) => field.name) };
  },
  without: (step, gone) => {
    const by = step.by?.filter((name) => name !== gone);
    return by && by.length > 0 && by.length < step.by!.length ? { ...step, by } : null;
  },
};
