import type { GivenValue, Parameter } from '@gaveta/core/internal';
import type { ParameterValues } from '../../api/client.ts';

/** Values that are chosen and that the report was not run with yet, by parameter. */
export type Staged = Readonly<Record<string, GivenValue>>;

const isBlank = (value: GivenValue | undefined): boolean =>
  value === undefined || value === null || value === '' || (Array.isArray(value) && value.length === 0);

const asText = (value: GivenValue | undefined): string =>
  isBlank(value) ? '' : Array.isArray(value) ? JSON.stringify(value.map(String)) : String(value);

/** Whether a value is another one than that of the run; what is left out is the parameter’s default. */
export const isChanged = (parameter: Parameter | undefined, run: GivenValue, staged: GivenValue): boolean => {
  const effective = (value: GivenValue) => asText(isBlank(value) ? (parameter?.default ?? null) : value);
  return effective(run) !== effective(staged);
};

/** With one more value; one that the run has already is no change. */
export const stage = (
  staged: Staged,
  given: ParameterValues,
  name: string,
  value: GivenValue,
  parameter?: Parameter,
): Staged => {
  const { [name]: _, ...others } = staged;
  return isChanged(parameter, given[name] ?? null, value) ? { ...others, [name]: value } : others;
};

/** What is shown while values are chosen: those of the run, and the others over them. */
export const withStaged = (given: ParameterValues, staged: Staged): ParameterValues => ({ ...given, ...staged });

/** The set whose values these are; null when it is none of them. */
export const setOf = <S extends { values: ParameterValues }>(sets: readonly S[], given: ParameterValues): S | null => {
  const plain = (values: ParameterValues): string =>
    JSON.stringify(
      Object.entries(values)
        .filter(([, value]) => !isBlank(value))
        .map(([name, value]) => [name, asText(value)])
        .sort(),
    );
  const now = plain(given);
  return sets.find(({ values }) => plain(values) === now) ?? null;
};
