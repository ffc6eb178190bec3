import type { Parameter } from '../definition/schema.ts';
import type { CheckedType } from '../formula/checked.ts';

export type ParameterType = Parameter['type'];

/** What formulas see of the parameters of one type. */
export interface ParameterFacts {
  /** Type of the value; a range by itself is the words for it. */
  value: (parameter: Pick<Parameter, 'of'>) => CheckedType;
  /** Of a range: the type of its ends, which formulas read as `name.from` and `name.to`. */
  range?: 'date' | 'datetime';
}

const PARAMETER_FACTS: { readonly [K in ParameterType]: ParameterFacts } = {
  text: { value: () => 'text' },
  number: { value: () => 'number' },
  date: { value: () => 'date' },
  boolean: { value: () => 'boolean' },
  dates: { value: () => 'text', range: 'date' },
  window: { value: () => 'text', range: 'datetime' },
  choice: { value: ({ of = 'text' }) => of },
  choices: { value: () => 'list' },
};

/** Of a parameter that is a range of dates or a time window: the type of its ends; null for any other. */
export const rangeOf = ({ type }: Pick<Parameter, 'type'>): 'date' | 'datetime' | null =>
  PARAMETER_FACTS[type].range ?? null;

/** Type of a parameter's value in formulas. */
export const parameterType = (parameter: Pick<Parameter, 'type' | 'of'>): CheckedType =>
  PARAMETER_FACTS[parameter.type].value(parameter);
