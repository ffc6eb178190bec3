import { phrase } from '../../problems/phrases.ts';
import { textOrderOf } from '../../text/text-order.ts';
import { Decimal } from '../../value/decimal.ts';
import { add, compareNumeric, divide, multiply, type Numeric, subtract, toDecimal } from '../../value/number.ts';
import { compareValues, FormulaError, identityOf, List, type Value } from '../../value/value.ts';
import type { EvaluationContext } from './context.ts';
import { criterionOf, kindOf } from './criteria.ts';
import { define, type FunctionTable, flatten, listOf, numbers, numeric, outOfRange, whole, wrong } from './define.ts';

const NOT_THERE = new FormulaError('#N/A', phrase('e-not-in-list'));

/** Equal as formulas take it: capitals do not matter. */
const sameTo =
  ({ report }: EvaluationContext) =>
  (a: Value, b: Value): boolean => {
    if (a === b) return true;
    if (a === null || b === null) return false;
    const { same } = textOrderOf(report.language);
    return compareValues(a, b, (x, y) => (same(x, y) ? 0 : 1)) === 0;
  };

/**
 * 0-based place of the last value that is not above `wanted`, in a list that rises, or (`falls`) not below it in one that falls; -1
 * when there is none. Only values of its own kind count.
 */
const lastUpTo = (wanted: Value, list: readonly Value[], { report }: EvaluationContext, falls = false): number => {
  const { compare } = textOrderOf(report.language);
  let found = -1;
  for (const [i, value] of list.entries()) {
    if (value === null || wanted === null || kindOf(value) !== kindOf(wanted)) continue;
    const order = compareValues(value, wanted, compare);
    if (falls ? order < 0 : order > 0) break;
    found = i;
  }
  return found;
};

const sorted = (value: Value | undefined): Numeric[] => numbers([value ?? null]).sort(compareNumeric);

/** Between the values at rank `share * (n - 1)`, as the standard says. */
const percentile = (list: readonly Numeric[], share: Numeric): Value => {
  if (list.length === 0) return outOfRange(phrase('e-list-empty'));
  if (compareNumeric(share, 0) < 0 || compareNumeric(share, 1) > 0) return outOfRange(phrase('e-share'));
  const rank = toDecimal(multiply(share, list.length - 1));
  const below = rank.truncate();
  const i = below.toNumber();
  const low = list[i]!;
  const high = list[Math.min(i + 1, list.length - 1)]!;
  return add(low, multiply(subtract(high, low), rank.subtract(below)));
};

const nth = (list: readonly Numeric[], place: number): Value =>
  place < 1 || place > list.length ? outOfRange(phrase('e-few-values')) : list[place - 1]!;

/** Functions over lists: written ones, as {1;2;3}, and those that LIST() collects from rows. */
export const LIST_FUNCTIONS: FunctionTable = {
  ONEOF: define(
    'value:x choice:x*',
    'boolean',
    'TRUE when a value is one of those that follow, or in a list. (Gaveta’s own.)',
    'ONEOF("linen"; "bunk"; "linen") = TRUE',
    ([value, ...choices], context) => {
      const same = sameTo(context);
      return flatten(choices).some((choice) => same(choice, value ?? null));
    },
  ),
  MATCH: define(
    'value:x list:l type:n?',
    'number',
    'The place of a value in a list, 1 for the first: with type 0, of the value itself, in which * and ? stand for anything and for one character; otherwise of the last one not above it in a list that rises, or with type -1 not below it in one that falls.',
    'MATCH("b"; {"a";"b"}; 0) = 2',
    ([value, list, type], context) => {
      const values = listOf(list);
      const how = whole(type, 1);
      const at =
        how === 0
          ? values.findIndex(criterionOf(value ?? null, context, 'value'))
          : lastUpTo(value ?? null, values, context, how < 0);
      return at < 0 ? NOT_THERE : at + 1;
    },
  ),
  INDEX: define(
    'list:l place:n',
    'any',
    'The value at a place of a list, 1 for the first; 0 gives the list.',
    'INDEX({"low";"middle";"high"}; 2) = "middle"',
    ([list, place]) => {
      const values = listOf(list);
      const at = whole(place);
      if (at === 0) return new List(values);
      return at < 1 || at > values.length ? new FormulaError('#REF!', phrase('e-no-place')) : values[at - 1]!;
    },
  ),
  LOOKUP: define(
    'value:x list:l results:l',
    'any',
    'Finds the last value not above it in a list that rises, and gives what stands there in the second list.',
    'LOOKUP(75; {0;50;100}; {"calm";"wind";"gale"}) = "wind"',
    ([value, list, results], context) => {
      const at = lastUpTo(value ?? null, listOf(list), context);
      return at < 0 ? NOT_THERE : (listOf(results)[at] ?? NOT_THERE);
    },
  ),
  SORTED: define(
    'list:l descending:b?',
    'list',
    'A list in rising order, or falling when the second value is TRUE. (Gaveta’s own.)',
    'TEXTJOIN(" "; TRUE; SORTED({3;1;2})) = "1 2 3"',
    ([list, descending], { report }) => {
      const { sort } = textOrderOf(report.language);
      const values = flatten(listOf(list)).sort((a, b) => compareValues(a, b, sort));
      return new List(descending === true ? values.reverse() : values);
    },
  ),
  DISTINCT: define(
    'list:l',
    'list',
    'A list with each value once, in the order in which they come. (Gaveta’s own.)',
    'TEXTJOIN(" "; TRUE; DISTINCT({"a";"b";"a"})) = "a b"',
    ([list]) => {
      const seen = new Set<string>();
      return new List(listOf(list).filter((v) => !seen.has(identityOf(v)) && seen.add(identityOf(v))));
    },
  ),
  LARGE: define(
    'list:l place:n',
    'number',
    'The so-many-th largest number.',
    'LARGE({3;9;5}; 2) = 5',
    ([list, place]) => nth(sorted(list).reverse(), whole(place)),
  ),
  SMALL: define(
    'list:l place:n',
    'number',
    'The so-many-th smallest number.',
    'SMALL({3;9;5}; 2) = 5',
    ([list, place]) => nth(sorted(list), whole(place)),
  ),
  PERCENTILE: define(
    'list:l share:n',
    'number',
    'The value below which a share (0 to 1) of the numbers lies.',
    'PERCENTILE({1;2;3;4}; 0.5) = 2.5',
    ([list, share]) => percentile(sorted(list), numeric(share)),
  ),
  QUARTILE: define(
    'list:l which:n',
    'number',
    'The smallest (0), first, second or third quartile, or the largest (4).',
    'QUARTILE({1;2;3;4;5}; 1) = 2',
    ([list, which]) => percentile(sorted(list), divide(whole(which), 4)!),
  ),
  MODE: define(
    'list:l',
    'number',
    'The number that comes most often, the smallest of several; #N/A where none comes twice.',
    'MODE({1;2;2;3}) = 2',
    ([list]) => {
      const counts = new Map<string, { value: Numeric; count: number }>();
      for (const value of sorted(list)) {
        const key = toDecimal(value).trim().toString();
        const entry = counts.get(key) ?? { value, count: 0 };
        entry.count++;
        counts.set(key, entry);
      }
      const best = [...counts.values()].sort((a, b) => b.count - a.count)[0];
      return best && best.count > 1 ? best.value : NOT_THERE;
    },
  ),
  SUMPRODUCT: define(
    'first:l second:l',
    'number',
    'The numbers of two lists multiplied pair by pair, and added up.',
    'SUMPRODUCT({1;2}; {10;20}) = 50',
    ([first, second]) => {
      const [a, b] = [listOf(first), listOf(second)];
      if (a.length !== b.length) return wrong(phrase('e-lengths'));
      return a.reduce<Numeric>((sum, value, i) => add(sum, multiply(numeric(value), numeric(b[i]))), Decimal.of(0));
    },
  ),
  NTHS: {
    ...define(
      'rows:l place:n',
      'list',
      'What stands at a place of each of several lists.',
      'LENGTH(NTHS({1;2}; 0)) = 2',
      ([rows, place]) => new List(listOf(rows).map((row) => listOf(row)[whole(place)] ?? null)),
    ),
    isHidden: true,
  },
  LENGTH: define(
    'list:l',
    'number',
    'How many values a list has. (Gaveta’s own.)',
    'LENGTH({1;2;3}) = 3',
    ([list]) => listOf(list).length,
  ),
};
