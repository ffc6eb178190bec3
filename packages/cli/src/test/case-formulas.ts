import { type CheckFormulas, checkFormulas, type Problem, problemText, valueOfProblem } from '@gaveta/core/internal';
import type { ReportCase } from './case-file.ts';

interface Check extends CheckFormulas {
  said: string;
  /** Of `holds` among the formulas; those of its sides follow. */
  index: number;
}

/** The totals and checks of a case, as formulas that are worked out at the end of its report. */
export class CaseFormulas {
  readonly formulas: string[] = [];
  private readonly totals: string[];
  private readonly checks: Check[];

  constructor({ totals, checks }: Pick<ReportCase, 'totals' | 'checks'>) {
    this.totals = Object.keys(totals);
    this.formulas.push(...Object.values(totals));
    this.checks = checks.map((check) => {
      const found = { ...checkFormulas(check), said: `Check “${check}”`, index: this.formulas.length };
      this.formulas.push(found.holds, ...found.sides);
      return found;
    });
  }

  totalsOf(values: readonly (string | null)[]): Record<string, string | null> {
    return Object.fromEntries(this.totals.map((name, i) => [name, values[i]!]));
  }

  /** Why checks fail, and which formulas are wrong, in words. */
  failures(values: readonly (string | null)[], problems: readonly Problem[]): string[] {
    const wrong = new Map<number, string>();
    for (const problem of problems) {
      const index = valueOfProblem(problem);
      // That they take no room is none of their problems.
      if (index !== null && problem.severity === 'error') wrong.set(index, problemText(problem));
    }
    const totals = this.totals.flatMap((name, i) => (wrong.has(i) ? [`Total “${name}”: ${wrong.get(i)}`] : []));
    return [...totals, ...this.checks.flatMap((check) => failure(check, values, wrong))];
  }
}

const failure = (
  { said, index, sides }: Check,
  values: readonly (string | null)[],
  wrong: Map<number, string>,
): string[] => {
  if (wrong.has(index)) return [`${said}: ${wrong.get(index)}`];
  const holds = values[index]!;
  if (holds === '1') return [];
  if (holds === null)
    return [
      `${said} came to nothing: the run ended early, or the report’s footer, where it is worked out, is left out.`,
    ];
  const why = sides.map((side, k) => `${side} is ${values[index + 1 + k] || 'blank'}`).join(', ');
  return [`${said} does not hold${why === '' ? '' : `: ${why}`}.`];
};
