import type { Parameter } from '../definition/schema.ts';
import type { FormulaScope } from '../formula/check.ts';
import type { Checked } from '../formula/checked.ts';
import { type Problem, problem } from '../problems/problem.ts';
import { didYouMean, therePhrase } from '../problems/suggest.ts';
import { type Field, namedField, shownFields } from './model.ts';
import { parameterAt } from './parameter-names.ts';

/** A scope without rows around: names are what `find` knows, then parameters. */
const plainScope = (
  parameters: readonly Parameter[],
  find: (parts: readonly string[]) => Checked | Problem | null,
  names: () => string[],
): FormulaScope => ({
  name: (parts) => {
    const own = find(parts);
    // What is hidden means nothing to whoever writes the formula: a parameter of that name is meant.
    const isHidden = own !== null && 'code' in own && own.code === 'hidden-field';
    const found = isHidden ? (parameterAt(parameters, parts) ?? own) : (own ?? parameterAt(parameters, parts));
    if (found) return found;
    const known = [...names(), ...parameters.map((p) => p.name)];
    const hint = known.length === 0 ? '' : didYouMean(parts.join('.'), known, therePhrase(known.slice(0, 12)));
    return problem('unknown-name', {}, { name: parts.join('.'), hint });
  },
  rows: () => problem('total-without-rows'),
  previous: () => problem('previous-without-row'),
  depth: () => problem('depth-without-tree'),
  isRowScope: () => false,
  suggestions: names,
});

/** For a formula that stands by itself: functions and parameters. */
export const constantScope = (parameters: readonly Parameter[]): FormulaScope =>
  plainScope(
    parameters,
    () => null,
    () => [],
  );

/** For a formula about one row of these fields, each in the column after the one before it, from 1. */
export const rowScope = (fields: readonly Field[], parameters: readonly Parameter[]): FormulaScope =>
  plainScope(
    parameters,
    (parts) => {
      const field = parts.length === 1 ? namedField(fields, parts[0]) : null;
      if (!field) return null;
      if (field === 'hidden') return problem('hidden-field', {}, { name: parts[0]! });
      const { type, format, choices } = field;
      const shown = { ...(format ? { format } : {}), ...(choices ? { choices } : {}) };
      return { kind: 'field', level: 0, column: fields.indexOf(field) + 1, type, ...shown };
    },
    () => shownFields(fields).map((f) => f.name),
  );
