import { type Field, STEP_TOTALS, type StepTotal } from '@gaveta/core/internal';

const OF_NUMBERS: readonly StepTotal[] = ['SUM', 'AVERAGE', 'MEDIAN', 'STDEV'];

/** Totals that suit a field; of no field, those that count rows as well. */
export const totalsFor = (field: Field | undefined): readonly StepTotal[] =>
  field?.type === 'number' ? STEP_TOTALS : STEP_TOTALS.filter((total) => !OF_NUMBERS.includes(total));
