import type { Condition, Step } from '../definition/recipe.ts';

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

/**
 * The step without a column that is gone, so that it works again. Null when nothing would be left of it, or when the
 * column stands in a formula, where leaving it out could mean anything.
 */
export const mendStep = (step: Step, gone: string): Step | null => {
  switch (step.step) {
    case 'keep': {
      const where = withoutField(step.where, gone);
      return where && JSON.stringify(where) !== JSON.stringify(step.where) ? { ...step, where } : null;
    }
    case 'bring':
      return step.fields?.includes(gone) ? { ...step, fields: step.fields.filter((f) => f !== gone) } : null;
    case 'summarise': {
      const by = step.by.filter((b) => b.field !== gone);
      const totals = step.totals.filter((t) => t.of !== gone);
      if (by.length + totals.length === step.by.length + step.totals.length) return null;
      return by.length + totals.length === 0 ? null : { ...step, by, totals };
    }
    case 'sort': {
      const by = step.by.filter((b) => b.field !== gone);
      return by.length === step.by.length || by.length === 0 ? null : { ...step, by };
    }
    case 'first': {
      const per = step.per?.filter((name) => name !== gone);
      return per && per.length < step.per!.length ? { ...step, per } : null;
    }
    case 'distinct': {
      const by = step.by?.filter((name) => name !== gone);
      return by && by.length > 0 && by.length < step.by!.length ? { ...step, by } : null;
    }
    case 'take':
    case 'sql':
    case 'add':
    case 'spread':
    case 'stack':
      return null;
    default:
      return step satisfies never;
  }
};
