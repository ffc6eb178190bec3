import type { Moment } from '../value/date.ts';
import type { Value } from '../value/value.ts';

/** What a compiled formula reads while it runs. One per report (a subreport has its own). */
export interface EvaluationContext {
  /** The current row of each drawer, by the drawer's level. */
  rows: (readonly Value[] | null)[];
  parameters: Record<string, Value>;
  /** Values of totals by slot. */
  totals: Value[];
  /** `count` is null until the last page is known. */
  page: { number: number; count: number | null };
  report: { name: string; runAt: Moment; timeZone: string; language: string };
}

export type Compiled = (context: EvaluationContext) => Value;
