import type { Field, Parameter } from '@gaveta/core/internal';

/** A type of parameter that asks for what a field is compared with. */
export const parameterFor = (field: Field, is: string): Pick<Parameter, 'type' | 'of'> => {
  if (field.type === 'date') return { type: is === 'within' ? 'dates' : 'date' };
  if (field.type === 'datetime') return { type: is === 'within' ? 'window' : 'date' };
  if (field.type === 'number')
    return is === 'within' || is === 'oneOf' ? { type: 'choices', of: 'number' } : { type: 'number' };
  if (field.type === 'boolean') return { type: 'boolean' };
  return { type: is === 'within' || is === 'oneOf' || is === 'notOneOf' ? 'choices' : 'text' };
};
