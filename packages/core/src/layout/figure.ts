import type { Saying } from '../chart/chart.ts';
import { ChartWriter } from '../chart/writer.ts';
import type { FigureLink } from '../data/figure-planning.ts';
import type { PlannedFigure } from '../data/planned.ts';
import type { Look } from '../definition/schema.ts';
import { compileFormula } from '../formula/compile.ts';
import type { Compiled, EvaluationContext } from '../formula/functions/context.ts';
import type { LinkTarget } from '../page/page.ts';
import { type PreparedSummary, prepareSummary } from '../shape/summary.ts';
import type { FontBook } from '../text/fonts.ts';
import { type FormatSettings, formatValue } from '../text/format.ts';
import { CalendarDate, DAY, Moment } from '../value/date.ts';
import { isNumeric, toNumber } from '../value/number.ts';
import { encodeValue, type Value, type WireValue } from '../value/value.ts';
import { DEFAULT_LOOK } from './default-look.ts';

/** A planned figure as closures. */
export class PreparedFigure {
  readonly summary: PreparedSummary | null;
  private readonly compiled = new Map<string, { evaluate: Compiled; format: string }>();

  constructor(planned: PlannedFigure) {
    this.summary = planned.summary && prepareSummary(planned.summary, planned.downKeys);
    for (const [path, one] of Object.entries(planned.formulas))
      if ('formula' in one) this.compiled.set(path, { evaluate: compileFormula(one.formula), format: one.format });
  }

  /** Groups that are read before its band is laid out. */
  get summaries(): PreparedSummary[] {
    return this.summary ? [this.summary] : [];
  }

  /** Null when the item has no such formula, or a wrong one. */
  formula(path: string): Compiled | null {
    return this.compiled.get(path)?.evaluate ?? null;
  }

  /** Number format of what a formula gives. */
  format(path: string): string {
    return this.compiled.get(path)?.format ?? '';
  }

  /** Null when there is no such formula, or no number. */
  number(path: string, context: EvaluationContext): number | null {
    return numberOf(this.formula(path)?.(context) ?? null);
  }

  /** Where a click leads for the totals and values that are current. */
  target(link: FigureLink, path: string, context: EvaluationContext): LinkTarget {
    const values: Record<string, WireValue> = {};
    for (const name of Object.keys('set' in link ? link.set : link.parameters)) {
      const evaluate = this.formula(`${path}/${name}`);
      if (evaluate) values[name] = encodeValue(evaluate(context));
    }
    return 'set' in link ? { set: values } : { report: link.report, parameters: values };
  }
}

/** A number for drawing; null for what is none, or too great to be drawn. */
export const numberOf = (value: Value): number | null => {
  if (!isNumeric(value)) return null;
  const number = toNumber(value);
  return Number.isFinite(number) ? number : null;
};

/** Where a value stands on an axis; null where it has no place on one. */
export const placeOf = (value: Value): number | null =>
  value instanceof CalendarDate ? value.day * DAY : value instanceof Moment ? value.ms : numberOf(value);

/** Shows numbers and times as a report’s language has them. `isDays`: times are whole days of the calendar. */
export const sayingOf = (format: FormatSettings, isDays: boolean): Saying => ({
  number: (value, code) => formatValue(value, code, format),
  time: (ms, code) =>
    formatValue(isDays ? CalendarDate.at(Math.floor(ms / DAY)) : Moment.at(Math.round(ms)), code, format),
  wallClock: (ms) => (isDays ? ms : new Moment(Math.round(ms)).wallClock(format.timeZone)),
});

/** Type size of words in pictures of numbers, in points. */
const SIZE = 8;

/** Writers for looks, made once for each. */
export const chartWriters = (book: FontBook): ((look: Look) => ChartWriter) => {
  const writers = new Map<string, ChartWriter>();
  return ({ font = '', size = SIZE, color = DEFAULT_LOOK.color }) => {
    const key = `${font} ${size} ${color}`;
    let writer = writers.get(key);
    if (!writer) {
      writer = new ChartWriter(book, font, size, color);
      writers.set(key, writer);
    }
    return writer;
  };
};
