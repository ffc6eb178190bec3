import type { Moment } from '../../value/date.ts';
import type { Value } from '../../value/value.ts';

/** What is known of the page that a formula lands on. Zero or null where it is not known yet. */
export interface PageValues {
  /** 1-based. */
  number: number;
  /** Null until the last page is known. */
  count: number | null;
  /** Number and count since the numbering last started anew. */
  partNumber: number;
  partCount: number | null;
  /** Height that is left on the page, in millimetres. */
  room: number;
}

export const NO_PAGE: PageValues = { number: 0, count: null, partNumber: 0, partCount: null, room: 0 };

/** Totals as they stand when they are read. */
export interface TotalValues {
  value(slot: number): Value;
}

/** What a compiled formula reads while it runs. One per report (a subreport has its own). */
export interface EvaluationContext {
  /** The current row of each drawer, by the drawer's level. */
  rows: (readonly Value[] | null)[];
  /** The row before it in the same set, by level; null for the first. */
  before: (readonly Value[] | null)[];
  parameters: Record<string, Value>;
  totals: TotalValues;
  page: PageValues;
  report: { name: string; runAt: Moment; timeZone: string; language: string };
}

export type Compiled = (context: EvaluationContext) => Value;

/** A context away from any page: for formulas of parameters, recipes and links, with at most one row around. */
export const plainContext = (
  report: EvaluationContext['report'],
  parameters: EvaluationContext['parameters'] = {},
  row: EvaluationContext['rows'][number] | null = null,
): EvaluationContext => ({
  rows: row ? [row] : [],
  before: [],
  parameters,
  totals: { value: () => null },
  page: NO_PAGE,
  report,
});
