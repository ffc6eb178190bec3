import type { FormulaScope } from '../../formula/check.ts';
import { TOTALS } from '../../formula/functions/index.ts';
import { phrase } from '../../problems/phrases.ts';
import { problem } from '../../problems/problem.ts';
import type { RowsTotal } from '../planned.ts';
import type { StepPlanning, StepRoom } from '../planning.ts';

/** The scope of one row in which totals are those of the rows around it, which are noted by their slots. */
const withTotals = (planning: StepPlanning, totals: RowsTotal[]): FormulaScope => {
  const row = planning.scope();
  const inOrder = () => problem('recipe-order-in-formula');
  return {
    ...row,
    rows: ({ kind: name }, check) => {
      if (name === 'RUNNING' || name === 'ROWNUMBER' || name === 'RANK') return inOrder();
      if (name === 'LIST') return problem('recipe-list-in-formula');
      const of = check({ ...row, rows: () => problem('total-in-total') });
      if (!of) return null;
      const { gives } = TOTALS[name];
      const slot = totals.push({ name, of }) - 1;
      const { format } = of;
      return { kind: 'total', slot, name, type: gives === 'same' ? of.type : gives, ...(format ? { format } : {}) };
    },
    previous: inOrder,
  };
};

const plan: StepRoom<'add'>['plan'] = (step, planning) => {
  const totals: RowsTotal[] = [];
  const formula = planning.formula(step.formula, withTotals(planning, totals));
  const per = planning.all(step.per ?? []);
  if (!formula || !per || !planning.isFree(step.name)) return null;
  if (formula.type === 'list') {
    return planning.wrong('wrong-type', {
      where: phrase('a-column'),
      expected: phrase('single-value'),
      given: phrase('type-list'),
    });
  }
  const columns = per.map((field) => planning.column(field));
  const format = step.format ?? formula.format;
  const type = formula.type === 'any' ? 'text' : formula.type;
  planning.fields = [
    ...planning.fields,
    { name: step.name, label: step.label ?? step.name, type, ...(format ? { format } : {}) },
  ];
  return { kind: 'add', name: step.name, formula, totals, per: columns };
};

/** One more column. */
export const addStep: StepRoom<'add'> = {
  plan,
  without: (step, gone) => {
    const per = step.per?.filter((name) => name !== gone);
    return per && per.length < step.per!.length ? { ...step, per } : null;
  },
};
