import type { Field } from '../../model/model.ts';
import type { BroughtColumn } from '../planned.ts';
import type { StepRoom } from '../planning.ts';

const plan: StepRoom<'columns'>['plan'] = (step, planning) => {
  const shown: Field[] = [];
  const columns: BroughtColumn[] = [];
  for (const { field: from, name = from, label } of step.columns) {
    const field = planning.field(from);
    if (!field || !planning.isFree(name, shown)) return null;
    shown.push({ ...field, name, label: label ?? field.label });
    columns.push({ field: from, name });
  }
  if (shown.length === 0) return planning.lacks('lacks-columns');
  const before = planning.fields;
  /** Names that stand for another column now. */
  const taken = new Set(columns.filter(({ field, name }) => field !== name).map(({ name }) => name));
  // What is not shown stays out of sight: the rows may be in its order, or be told apart and led on from by it.
  const others = before.filter(({ name }) => !columns.some((column) => column.name === name));
  columns.push(...others.map(({ name }) => ({ field: name, name })));
  planning.fields = [...shown, ...others.map((field) => ({ ...field, hidden: true }))];
  if (planning.key !== null && taken.has(planning.key)) planning.key = null;
  planning.relations = planning.relations.filter(({ on }) => on.every(({ here }) => !taken.has(here)));
  return { kind: 'columns', columns, taken: [...taken] };
};

/** The columns that are shown, in their order and under their names. */
export const columnsStep: StepRoom<'columns'> = {
  plan,
  without: (step, gone) => {
    const columns = step.columns.filter(({ field }) => field !== gone);
    return columns.length > 0 && columns.length < step.columns.length ? { ...step, columns } : null;
  },
};
