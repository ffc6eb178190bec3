import { type Comparison, type Field, freeName, type Parameter } from '@gaveta/core/internal';

/** The rows that have a field, and its name among their own. */
export interface FieldHome {
  rows: string;
  value: string;
  /** What one of these rows is called, where the field names it. */
  called?: string | undefined;
}

const MANY: readonly string[] = ['oneOf', 'notOneOf', 'within'] satisfies Comparison[];
const ONE: readonly string[] = ['equal', 'notEqual'] satisfies Comparison[];

/** What a parameter asks for that a field is compared with: where it is known whose field it is, one of its values. */
const asked = (field: Field, is: string, home: FieldHome | null): Pick<Parameter, 'type' | 'of' | 'choicesFrom'> => {
  if (field.type === 'date') return { type: is === 'within' ? 'dates' : 'date' };
  if (field.type === 'datetime') return { type: is === 'within' ? 'window' : 'date' };
  if (field.type === 'boolean') return { type: 'boolean' };
  const choicesFrom = home ? { choicesFrom: { rows: home.rows, value: home.value } } : {};
  if (field.type === 'number')
    return MANY.includes(is) ? { type: 'choices', of: 'number', ...choicesFrom } : { type: 'number' };
  if (MANY.includes(is)) return { type: 'choices', ...choicesFrom };
  return home && ONE.includes(is) ? { type: 'choice', ...choicesFrom } : { type: 'text' };
};

/** A new parameter that asks for what a field is compared with. */
export const parameterFor = (
  field: Field,
  is: string,
  home: FieldHome | null,
  parameters: readonly Parameter[],
): Parameter => ({
  name: freeName(
    (home && !field.name.includes('.') ? `${home.rows}_${field.name}` : field.name).replaceAll('.', '_'),
    new Set(parameters.map((p) => p.name)),
  ),
  label: home?.called ?? field.label,
  ...asked(field, is, home),
});
