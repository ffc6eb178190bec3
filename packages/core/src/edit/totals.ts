import { completionsFor } from '../data/completions.ts';
import type { PlanContext } from '../data/planned.ts';
import type { Report } from '../definition/schema.ts';
import type { BandAddress } from '../definition/walk.ts';
import { TOTALS, type TotalName } from '../formula/functions/index.ts';
import { parseFormula } from '../formula/parse.ts';
import { writtenName } from '../formula/tokens.ts';
import { formulaFacts, type TotalFacts } from './facts.ts';

/** A formula that is one total of rows, taken apart. */
export interface TotalParts {
  name: TotalName;
  /** What is totalled, as it is written. */
  of: string;
  /** The drawer, group or report that it names; null for the rows of the place where it stands. */
  scope: string | null;
}

/** Null when the formula is anything else than one total. */
export const totalParts = (formula: string): TotalParts | null => {
  const parsed = parseFormula(formula);
  if (!parsed.ok || parsed.tree.kind !== 'call' || !(parsed.tree.name in TOTALS)) return null;
  const [of, scope, more] = parsed.tree.arguments;
  if (!of || more || (scope && (scope.kind !== 'name' || scope.parts.length !== 1))) return null;
  return {
    name: parsed.tree.name as TotalName,
    of: formula.slice(of.from, of.to),
    scope: scope?.kind === 'name' ? scope.parts[0]! : null,
  };
};

export const totalFormula = ({ name, of, scope }: TotalParts): string =>
  `${name}(${of}${scope === null ? '' : `; ${writtenName(scope)}`})`;

/**
 * Which rows the same total could count where it stands: first those of its place, then those of groups and drawers around
 * and of the whole report. Each set of rows once.
 */
export const totalScopes = (
  report: Report,
  address: BandAddress,
  parts: TotalParts,
  context: PlanContext,
): { scope: string | null; facts: TotalFacts }[] => {
  const names = completionsFor(report, address, context)
    .filter((c) => c.kind === 'group' || c.kind === 'scope')
    .map((c) => c.label)
    // The whole report is named as such, not by its outermost drawer.
    .sort((a, b) => Number(b === 'report') - Number(a === 'report'));
  const found: { scope: string | null; facts: TotalFacts }[] = [];
  for (const scope of [null, ...names]) {
    const { total: facts } = formulaFacts(report, address, totalFormula({ ...parts, scope }), context);
    if (!facts) continue;
    const isKnown = found.some((other) => JSON.stringify(other.facts) === JSON.stringify(facts));
    // The one that is written stays among them.
    if (!isKnown || scope === parts.scope) found.push({ scope, facts });
  }
  // From the inside out.
  const [own, whole, ...around] = found;
  return whole?.scope === 'report' ? [own!, ...around, whole] : found;
};
