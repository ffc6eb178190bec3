import type { Field, Parameter, PlannedRecipe, Step, StepKind } from '@gaveta/core';
import { freeName } from './recipe-draft.ts';
import { bringAlong } from './sources.ts';

/** Steps that can be added, the likeliest first. */
export const NEW_STEPS: StepKind[] = [
  'keep',
  'bring',
  'add',
  'summarise',
  'sort',
  'first',
  'spread',
  'distinct',
  'stack',
];

/** What a new step of a kind starts with. */
export const newStep = (
  kind: StepKind,
  planned: PlannedRecipe,
  fields: readonly Field[],
  relations: PlannedRecipe['relations'],
  model: string,
): Step => {
  const first = fields.find((f) => !f.hidden && f.type !== 'picture')?.name ?? '';
  switch (kind) {
    case 'take':
      return { step: 'take', from: { model: '', entity: '' } } as unknown as Step;
    case 'sql':
      return { step: 'sql', model, text: '', columns: [] };
    case 'bring':
      return relations[0] ? bringAlong(relations[0]) : { step: 'bring', keep: 'here', as: 'other' };
    case 'keep':
      return { step: 'keep', where: { all: [{ field: first, is: 'notBlank' }] } };
    case 'add':
      return {
        step: 'add',
        name: freeName(
          'new_column',
          fields.map((f) => f.name),
        ),
        formula: first,
      };
    case 'summarise':
      return { step: 'summarise', by: [{ field: first }], totals: [{ total: 'COUNT', name: 'rows', label: 'Rows' }] };
    case 'spread':
      return {
        step: 'spread',
        names: first,
        values: fields.find((f) => f.type === 'number' && !f.hidden)?.name ?? '',
        total: 'MAX',
        into: [],
      };
    case 'sort':
      return { step: 'sort', by: [{ field: first }] };
    case 'first':
      return { step: 'first', count: 10 };
    case 'distinct':
      return { step: 'distinct' };
    case 'stack':
      return {
        step: 'stack',
        from: planned.steps[0]?.step.step === 'take' ? planned.steps[0].step.from : { recipe: '' },
      };
    default:
      return kind satisfies never;
  }
};

/** A type of parameter that asks for what a field is compared with. */
export const parameterFor = (field: Field, is: string): Pick<Parameter, 'type' | 'of'> => {
  if (field.type === 'date') return { type: is === 'within' ? 'dates' : 'date' };
  if (field.type === 'datetime') return { type: is === 'within' ? 'window' : 'date' };
  if (field.type === 'number')
    return is === 'within' || is === 'oneOf' ? { type: 'choices', of: 'number' } : { type: 'number' };
  if (field.type === 'boolean') return { type: 'boolean' };
  return { type: is === 'within' || is === 'oneOf' || is === 'notOneOf' ? 'choices' : 'text' };
};
