import type { StepOf } from '../../definition/recipe.ts';
import type { Checked } from '../../formula/checked.ts';
import type { Field } from '../../model/model.ts';
import { decodeValue, FormulaError } from '../../value/value.ts';
import { columnPhrase, type StepPlanning, type StepRoom } from '../planning.ts';

/** What is put in the place of blanks, as a value of a field's type; null, with what is wrong noted, when it is none. */
const given = (value: StepOf<'fill'>['value'], fields: readonly Field[], planning: StepPlanning): Checked | null => {
  const [{ type }] = fields as [Field];
  const other = fields.find((field) => field.type !== type);
  if (other)
    return planning.wrong('recipe-gather-differs', {
      name: fields[0]!.label,
      type: columnPhrase(type),
      other: other.label,
      otherType: columnPhrase(other.type),
    });
  if (value === undefined || value === '') return planning.lacks('lacks-value');
  const decoded = decodeValue(value, type);
  if (decoded === null || decoded instanceof FormulaError || type === 'picture')
    return planning.wrong('recipe-value-unfit', { value: String(value), name: fields[0]!.label });
  // As it travels, it is bound as a value of the column's type.
  return { kind: 'literal', value: String(value), type };
};

const plan: StepRoom<'fill'>['plan'] = (step, planning) => {
  const fields = planning.all(step.fields);
  const per = planning.all(step.per ?? []);
  if (!fields || !per) return null;
  if (fields.length === 0) return planning.lacks('lacks-filled');
  const value = step.by === 'value' ? given(step.value, fields, planning) : null;
  if (step.by === 'value' && !value) return null;
  if (step.by !== 'value' && !planning.isOrdered) return planning.wrong('recipe-needs-order');
  return {
    kind: 'fill',
    fields: step.fields,
    by: step.by,
    value,
    per: per.filter(({ name }) => !step.fields.includes(name)).map((field) => planning.column(field)),
  };
};

/** Something in the place of blanks. */
export const fillStep: StepRoom<'fill'> = {
  plan,
  without: (step, gone) => {
    const fields = step.fields.filter((name) => name !== gone);
    const per = step.per?.filter((name) => name !== gone);
    if (fields.length === 0 || fields.length + (per?.length ?? 0) === step.fields.length + (step.per?.length ?? 0))
      return null;
    return { ...step, fields, ...(per ? { per } : {}) };
  },
};
