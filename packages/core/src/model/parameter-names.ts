import type { Parameter } from '../definition/schema.ts';
import type { Checked, CheckedType } from '../formula/checked.ts';
import { parameterType, rangeOf } from './parameter-types.ts';

/** Whether a value of a type may be given to a parameter that is no range. */
export const takesType = (parameter: Pick<Parameter, 'type' | 'of'>, type: CheckedType): boolean =>
  type === 'any' || type === parameterType(parameter);

/** What `season`, `parameters.season` or, of a range, `season.from` means; null when no parameter is meant. */
export const parameterAt = (parameters: readonly Parameter[], parts: readonly string[]): Checked | null => {
  const own = parts[0] === 'parameters' && parts.length > 1 ? parts.slice(1) : parts;
  const [name, end] = own;
  const parameter = parameters.find((p) => p.name === name);
  if (!parameter || own.length > 2) return null;
  const range = rangeOf(parameter);
  if (own.length === 2) {
    if (!range || (end !== 'from' && end !== 'to')) return null;
    return { kind: 'parameter', name: `${name}.${end}`, type: range };
  }
  const type = parameterType(parameter);
  return {
    kind: 'parameter',
    name: parameter.name,
    type,
    ...(range ? { range } : {}),
    ...(type === 'list' ? { of: parameter.of ?? 'text' } : {}),
    ...(parameter.choices ? { choices: parameter.choices } : {}),
  };
};
