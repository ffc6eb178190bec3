import type { SubreportLink } from '../data/level.ts';
import { type GivenParameters, readParameters } from '../data/parameters.ts';
import type { Report } from '../definition/schema.ts';
import { compileFormula } from '../formula/compile.ts';
import type { Compiled } from '../formula/functions/context.ts';
import type { Value } from '../value/value.ts';
import type { HeldSet } from './reader.ts';
import type { ReportRows } from './report-rows.ts';

/** How the instances of a nested report hang on the rows around it. */
export class NestedInstances {
  private readonly links: readonly (readonly [string, Compiled])[];
  private readonly defaults: Record<string, Value>;

  constructor(
    report: Report,
    private readonly link: SubreportLink,
    /** Values of parameters that only the host sets. */
    host: GivenParameters,
  ) {
    this.links = Object.entries(link.values).map(([name, formula]) => [name, compileFormula(formula)] as const);
    this.defaults = readParameters(report, {}, { host }).values;
  }

  /** The values of its parameters for the rows that are current around it. */
  values({ context }: ReportRows): Record<string, Value> {
    const values = { ...this.defaults };
    for (const [name, evaluate] of this.links) {
      const linked = evaluate(context);
      // An error goes on into whatever reads the parameter: without it the report would show everything.
      if (linked !== null) values[name] = linked;
    }
    return values;
  }

  /** Makes the nested report’s rows those of the instance at the rows that are current around it; gives which one that is. */
  async enter(nested: ReportRows, around: ReportRows): Promise<{ ordinal: number; given: HeldSet | null }> {
    nested.context.parameters = this.values(around);
    nested.outerPath = around.rowPath();
    const { outer, rows } = this.link;
    const ordinal = outer ? (around.ordinals[outer.index] ?? 0) : 1;
    nested.instance = ordinal;
    const row = outer && rows === 'current' ? (around.context.rows[outer.index] ?? null) : null;
    return { ordinal, given: row ? await nested.sharedRow(row, ordinal) : null };
  }
}
