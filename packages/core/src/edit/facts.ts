import { bandsOf, planReport } from '../data/plan.ts';
import type { PlanContext } from '../data/planned.ts';
import type { Report } from '../definition/schema.ts';
import { type BandAddress, bandKey, drawersOf } from '../definition/walk.ts';
import type { CheckedType } from '../formula/checked.ts';
import type { Field } from '../model/model.ts';
import type { Problem } from '../problems/problem.ts';
import { probeProblems, probeReport } from './probe.ts';

/** What a formula is, where it stands. */
export interface FormulaFacts {
  /** Null when it is wrong. */
  type: CheckedType | null;
  /** Format of its field; empty when it has none. */
  format: string;
  /** Of a formula that is one total: which, and over which rows. */
  total: TotalFacts | null;
  problems: Problem[];
}

export interface TotalFacts {
  name: string;
  /** All rows of the drawer for its outer row, the current row, a group, those past the first N, or a page. */
  over: 'set' | 'row' | 'group' | 'others' | 'page';
  /** Name of the drawer, and of its group. */
  drawer: string;
  group: string | null;
  /** The total counts the first so many rows of each group or set alone: the others are neither shown nor counted. */
  first: number | null;
  /** Name of the drawer around; null for the outermost one, whose rows are those of the whole report. */
  outer: string | null;
}

/** Checks a formula as if it stood in a band. */
export const formulaFacts = (
  report: Report,
  address: BandAddress,
  formula: string,
  context: PlanContext,
): FormulaFacts => {
  const plan = planReport(probeReport(report, address, [{ formula }]), context);
  const problems = probeProblems(plan.problems);
  const band = [...bandsOf(plan)].find((b) => b.key === bandKey(address));
  const piece = band?.items[0]?.formulas['content/1'];
  if (!piece || !('formula' in piece)) return { type: null, format: '', total: null, problems };
  const checked = piece.formula;
  const slot = checked.kind === 'total' ? plan.totals[checked.slot] : undefined;
  return { type: checked.type, format: piece.format, total: slot ? totalFacts(slot) : null, problems };
};

/**
 * The calculated fields of each drawer, by the drawer's id, with the type that their formula gives; those whose formula is
 * wrong or gives no single value count as texts.
 */
export const calculatedFields = (report: Report, context: PlanContext): Map<string, Field[]> => {
  const found = new Map<string, Field[]>();
  for (const { drawer } of drawersOf(report)) {
    if (!drawer.calculated?.length) continue;
    const address: BandAddress = { drawer: drawer.id, band: 'detail' };
    const probe = probeReport(report, address, drawer.calculated);
    const band = [...bandsOf(planReport(probe, context))].find((b) => b.key === bandKey(address));
    const fields = drawer.calculated.map(({ name, label, format }, i): Field => {
      const piece = band?.items[i]?.formulas['content/1'];
      const type = piece && 'formula' in piece ? piece.formula.type : 'text';
      const known = type === 'any' || type === 'list' ? 'text' : type;
      return { name, label: label ?? name, type: known, ...(format === undefined ? {} : { format }) };
    });
    found.set(drawer.id, fields);
  }
  return found;
};

/** The rows past the first ones count where a band shows what they add up to, and nowhere else. */
const firstOf = ({ drawer, groups }: RowsCounted['level']): number | null => {
  if (drawer.others) return null;
  return groups.find(({ group }) => group.first !== undefined)?.group.first ?? drawer.first ?? null;
};

const scopeKind = ({ of, kind }: RowsCounted): TotalFacts['over'] => {
  const found = of?.kind ?? kind;
  return found === 'cell' ? 'set' : found;
};

const totalFacts = ({ name, scope, counted }: TotalOf): TotalFacts => ({
  name,
  first: firstOf(counted),
  over: scopeKind(scope),
  drawer: scope.level.drawer.name,
  group: scope.kind === 'group' ? (scope.level.groups[scope.group]?.group.name ?? null) : null,
  outer: scope.level.parent?.drawer.name ?? null,
});

type TotalOf = ReturnType<typeof planReport>['totals'][number];
type RowsCounted = TotalOf['scope'];
