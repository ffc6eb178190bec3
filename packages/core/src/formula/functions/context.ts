import type { CurrencyDecimals } from '../../text/currency.ts';
import type { Moment } from '../../value/date.ts';
import type { DataType, Value } from '../../value/value.ts';

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
  report: {
    name: string;
    runAt: Moment;
    timeZone: string;
    language: string;
    /** Decimals of currencies where they are others than the standard's. */
    currencies?: CurrencyDecimals | undefined;
  };
  /** Functions besides Gaveta's own. Formulas hold their names alone, so that each thread has a table of its own. */
  functions?: FunctionTable | undefined;
}

/** What an argument may be; `temporal` is a date or a point in time, `any` is every type. */
export type ArgumentType = DataType | 'list' | 'temporal' | 'any';

/**
 * A function of the formula language. Names and meanings follow OASIS OpenFormula, section 6, unless `help` says
 * otherwise. `run` gets values that are neither errors (they pass through by themselves) nor of another type than
 * declared; blank arguments arrive as null.
 */
export interface FunctionDefinition {
  /** Names and types of the arguments; the last one repeats while `max` allows it. */
  takes: readonly (readonly [name: string, type: ArgumentType])[];
  min: number;
  max: number;
  /** Type of the result; `common`: that of all arguments, or any where they differ. */
  gives: DataType | 'list' | 'any' | 'common';
  help: string;
  /** A formula that is TRUE. */
  example: string;
  run: (values: Value[], context: EvaluationContext) => Value;
  /** Given one value that is no list, it is one of the values of all rows, as a total is. */
  isOfRows?: boolean;
  /** For formulas that Gaveta puts together, and for nobody to write. */
  isHidden?: boolean;
  /** Errors reach `run` as values too, instead of becoming the result. */
  seesErrors?: boolean;
}

export type FunctionTable = Readonly<Record<string, FunctionDefinition>>;

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
