import { hasTotals, type Level, type TotalPlan } from '../data/level.ts';
import type { ReportPlan } from '../data/planned.ts';
import type { PlannedKey } from '../data/summary.ts';
import type { Checked } from '../formula/checked.ts';
import { type ColumnSource, listingOf, type ReportSource, type SetSource } from '../listing/listing.ts';
import { type FormulaNames, formulaWords } from './formula-words.ts';

/** Columns that are shown of one drawer’s rows at most. */
const MOST_COLUMNS = 8;

export interface ShownColumn {
  label: string;
  formula: Checked;
  format: string;
}

function* setsOf({ roots }: ReportSource): Iterable<SetSource> {
  const inner = function* (set: SetSource): Iterable<SetSource> {
    yield set;
    for (const one of set.inner) yield* inner(one);
  };
  for (const root of roots) yield* inner(root);
}

/** What the rows, fields and totals of a report are called, and which columns its readers see of rows. */
export class ExplainedNames implements FormulaNames {
  private readonly columns = new Map<Level, ColumnSource[]>();

  constructor(private readonly plan: ReportPlan) {
    for (const { drawer, columns } of setsOf(listingOf(plan))) this.columns.set(drawer.level, columns);
  }

  readonly field = (level: number, column: number): string => {
    const known = this.plan.levels[level]?.columns[column - 1];
    return known?.kind === 'field' ? known.field.label : (this.plan.levels[level]?.drawer.name ?? '');
  };

  readonly rows = (level: number): string => {
    const known = this.plan.levels[level];
    return known ? known.entity.plural : '';
  };

  readonly total = (slot: number): string => {
    const known = this.plan.totals[slot];
    return known ? `${nameOf(known)}(${formulaWords(known.formula, this)})` : '';
  };

  /** A key of groups: the field that it is, or its name. */
  key({ name, formula }: PlannedKey): string {
    return formula.kind === 'field' ? this.field(formula.level, formula.column) : name;
  }

  /** The columns that pages show of a drawer’s rows, those with totals left out: nothing is listed that is not on a page. */
  shown(level: Level): ShownColumn[] {
    return (this.columns.get(level) ?? [])
      .filter(({ formula }) => !hasTotals(formula))
      .slice(0, MOST_COLUMNS)
      .map(({ column, formula }) => ({ label: column.label, formula, format: column.format }));
  }
}

export const nameOf = ({ name, when }: TotalPlan): TotalPlan['name'] | 'RUNNING' =>
  when === 'running' ? 'RUNNING' : name;
