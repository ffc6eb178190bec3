import { type Completion, completionsFor } from '../data/completions.ts';
import type { PlanContext } from '../data/planned.ts';
import type { Parameter, Report } from '../definition/schema.ts';
import type { BandAddress } from '../definition/walk.ts';
import { takesType } from '../model/parameter-names.ts';
import { rangeOf } from '../model/parameter-types.ts';
import { bareName } from '../problems/suggest.ts';
import { formulaFacts } from './facts.ts';

/** Ways in which what is in reach may bear the name of a parameter, the surest first: `hut`, `Hut`, `hut.id`, its label. */
const WAYS: readonly ((c: Completion, parameter: Parameter) => boolean)[] = [
  (c, { name }) => c.insert === name,
  (c, { name }) => bareName(c.insert) === bareName(name),
  (c, { name }) => bareName(`${c.detail} ${c.insert}`) === bareName(name),
  (c, { label }) => bareName(c.label) === bareName(label),
];

/**
 * Formulas for the parameters of a report that is nested in a band or linked to from there: fields and parameters in reach
 * that have the name and the type of the parameter. Parameters that nothing fits are left out.
 */
export const linksFor = (
  report: Report,
  address: BandAddress,
  parameters: readonly Parameter[],
  context: PlanContext,
): Record<string, string> => {
  const offered = completionsFor(report, address, context).filter((c) => c.kind === 'field' || c.kind === 'parameter');
  const fits = (c: Completion, parameter: Parameter): boolean => {
    if (rangeOf(parameter)) return report.parameters.some((p) => p.name === c.insert && p.type === parameter.type);
    // Fields of inner drawers have many rows, and no type as they stand.
    const { type } = formulaFacts(report, address, c.insert, context);
    return type !== null && takesType(parameter, type);
  };
  const found: Record<string, string> = {};
  for (const parameter of parameters) {
    for (const bearsName of WAYS) {
      const match = offered.find((c) => bearsName(c, parameter) && fits(c, parameter));
      if (!match) continue;
      found[parameter.name] = match.insert;
      break;
    }
  }
  return found;
};
