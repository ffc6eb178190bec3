import type { Condition } from '../../definition/recipe.ts';
import { typePhrase } from '../../formula/check.ts';
import { phrase } from '../../problems/phrases.ts';
import { conditionFormula } from '../conditions.ts';
import type { StepRoom } from '../planning.ts';

/** The condition without what reads a column that is gone; null when nothing is left. */
const withoutField = (condition: Condition, gone: string): Condition | null => {
  if ('formula' in condition) return condition;
  if ('field' in condition) {
    const reads = condition.field === gone || (condition.to && 'field' in condition.to && condition.to.field === gone);
    return reads ? null : condition;
  }
  const list = 'all' in condition ? condition.all : condition.any;
  const left = list.flatMap((part) => withoutField(part, gone) ?? []);
  if (left.length === 0) return null;
  return 'all' in condition ? { all: left } : { any: left };
};

/** Rows for which a condition holds. */
export const keepStep: StepRoom<'keep'> = {
  plan: (step, planning) => {
    const formula = planning.formula(conditionFormula(step.where, planning.fields));
    if (!formula) return null;
    if (formula.type !== 'boolean' && formula.type !== 'any') {
      const data = { where: phrase('a-condition'), expected: phrase('true-or-false'), given: typePhrase(formula.type) };
      return planning.wrong('wrong-type', data);
    }
    return { kind: 'keep', formula };
  },
  without: (step, gone) => {
    const where = withoutField(step.where, gone);
    return where && JSON.stringify(where) !== JSON.stringify(step.where) ? { ...step, where } : null;
  },
};
