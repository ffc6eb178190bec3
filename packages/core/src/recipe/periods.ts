import type { STEP_PERIODS } from '../definition/recipe.ts';
import { writtenName } from '../formula/tokens.ts';

export type StepPeriod = (typeof STEP_PERIODS)[number];

/** How the first day of each is shown. */
export const PERIOD_FORMATS = {
  year: 'yyyy',
  quarter: 'mmm yyyy',
  month: 'mmm yyyy',
  week: 'd mmm yyyy',
  day: 'd mmm yyyy',
  hour: 'd mmm yyyy hh:mm',
} as const satisfies Record<StepPeriod, string>;

/** What dates have in common that lie in one of these, as a formula over the field of a name. */
export const periodFormula = (field: string, per: StepPeriod): string => {
  const name = writtenName(field);
  return per === 'hour' ? `PERIODHOUR(${name})` : `PERIOD(${name};"${per}")`;
};
