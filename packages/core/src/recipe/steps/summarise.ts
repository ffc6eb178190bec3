import type { Checked } from '../../formula/checked.ts';
import { type Field, lookOf } from '../../model/model.ts';
import { PERIOD_FORMATS, periodFormula } from '../periods.ts';
import type { Operation } from '../planned.ts';
import type { StepRoom } from '../planning.ts';

const plan: StepRoom<'summarise'>['plan'] = (step, planning) => {
  const fields: Field[] = [];
  const by: { name: string; formula: Checked }[] = [];
  for (const { field: from, per, name: given, label } of step.by) {
    const field = planning.field(from);
    if (!field) return null;
    const name = given ?? (per ? `${from}_${per}` : from);
    if (!planning.isFree(name, fields)) return null;
    if (!per) {
      by.push({ name, formula: planning.column(field) });
      fields.push({ ...field, name, label: label ?? field.label });
      continue;
    }
    const formula = planning.formula(periodFormula(from, per));
    if (!formula) return null;
    by.push({ name, formula });
    fields.push({
      name,
      label: label ?? field.label,
      type: per === 'hour' ? 'datetime' : 'date',
      format: PERIOD_FORMATS[per],
    });
  }
  const totals: Extract<Operation, { kind: 'summarise' }>['totals'] = [];
  for (const { total, of, name, label } of step.totals) {
    const field = of === undefined ? null : planning.field(of);
    if (of !== undefined && !field) return null;
    const type = planning.totalType(total, field);
    if (!type || !planning.isFree(name, fields)) return null;
    totals.push({ name, total, of: field && planning.column(field) });
    const format = type === field?.type ? lookOf(field) : {};
    fields.push({ name, label: label ?? name, type, ...format });
  }
  planning.fields = fields;
  planning.key = by.length === 1 ? by[0]!.name : null;
  planning.isOrdered = false;
  planning.relations = planning.relations.filter((r) => r.on.every(({ here }) => fields.some((f) => f.name === here)));
  return { kind: 'summarise', by, totals };
};

/** One row for all that have the same values. */
export const summariseStep: StepRoom<'summarise'> = {
  plan,
  without: (step, gone) => {
    const by = step.by.filter((b) => b.field !== gone);
    const totals = step.totals.filter((t) => t.of !== gone);
    if (by.length + totals.length === step.by.length + step.totals.length) return null;
    return by.length + totals.length === 0 ? null : { ...step, by, totals };
  },
};
