import { type Field, lookOf } from '../../model/model.ts';
import { columnPhrase, type StepRoom } from '../planning.ts';

const plan: StepRoom<'gather'>['plan'] = (step, planning) => {
  const gathered = planning.all(step.columns.map(({ field }) => field));
  if (!gathered) return null;
  const [first] = gathered;
  if (!first) return planning.lacks('lacks-gathered');
  const other = gathered.find(({ type }) => type !== first.type);
  if (other)
    return planning.wrong('recipe-gather-differs', {
      name: first.label,
      type: columnPhrase(first.type),
      other: other.label,
      otherType: columnPhrase(other.type),
    });
  const kept = planning.fields.filter((field) => !gathered.includes(field));
  const fields: Field[] = [...kept];
  if (!planning.isFree(step.names.name, fields)) return null;
  fields.push({ name: step.names.name, label: step.names.label ?? step.names.name, type: 'text' });
  if (!planning.isFree(step.values.name, fields)) return null;
  const { name, label = name } = step.values;
  fields.push({ name, label, type: first.type, ...lookOf(first) });
  const columns = step.columns.map(({ label }, i) => ({
    label: label ?? gathered[i]!.label,
    of: planning.column(gathered[i]!),
  }));
  planning.fields = fields;
  planning.key = null;
  planning.isOrdered = false;
  planning.relations = planning.relations.filter(({ on }) => on.every(({ here }) => kept.some((f) => f.name === here)));
  return {
    kind: 'gather',
    kept: kept.map((field) => field.name),
    columns,
    names: step.names.name,
    values: name,
    blanks: step.blanks === true,
  };
};

/** Columns become rows: each with a column's name and its value. */
export const gatherStep: StepRoom<'gather'> = {
  plan,
  without: (step, gone) => {
    const columns = step.columns.filter(({ field }) => field !== gone);
    return columns.length > 0 && columns.length < step.columns.length ? { ...step, columns } : null;
  },
};
