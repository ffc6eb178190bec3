import { phrase } from '../../problems/phrases.ts';
import { Decimal } from '../../value/decimal.ts';
import { add, compareNumeric, divide, multiply, type Numeric, subtract, toDecimal } from '../../value/number.ts';
import { compareValues, FormulaError, identityOf, List, type Value } from '../../value/value.ts';
import {
  define,
  double,
  type FunctionTable,
  flatten,
  fromDouble,
  numbers,
  numeric,
  outOfRange,
  whole,
  wrong,
} from './define.ts';

const NOT_THERE = new FormulaError('#N/A', phrase('e-not-in-list'));

const listOf = (value: Value | undefined): readonly Value[] => (value instanceof List ? value.values : [value ?? null]);

const same = (a: Value, b: Value): boolean => a === b || (a !== null && b !== null && compareValues(a, b) === 0);

/** 0-based place of the last value that is not above `wanted`, in a list that rises; -1 when all are above. */
const lastNotAbove = (wanted: Value, list: readonly Value[]): number => {
  let found = -1;
  for (const [i, value] of list.entries()) {
    if (value === null || wanted === null) continue;
    if (compareValues(value, wanted) > 0) break;
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
    ([value, ...choices]) => flatten(choices).some((choice) => same(choice, value ?? null)),
  ),
  MATCH: define(
    'value:x list:l type:n?',
    'number',
    'The place of a value in a list, 1 for the first; type 1: of the last value not above it in a list that rises.',
    'MATCH("b"; {"a";"b"}) = 2',
    ([value, list, type]) => {
      const values = listOf(list);
      const at =
        whole(type) === 1
          ? lastNotAbove(value ?? null, values)
          : values.findIndex((candidate) => same(candidate, value ?? null));
      return at < 0 ? NOT_THERE : at + 1;
    },
  ),
  INDEX: define(
    'list:l place:n',
    'any',
    'The value at a place of a list, 1 for the first.',
    'INDEX({"low";"middle";"high"}; 2) = "middle"',
    ([list, place]) => {
      const values = listOf(list);
      const at = whole(place);
      return at < 1 || at > values.length ? new FormulaError('#REF!', phrase('e-no-place')) : values[at - 1]!;
    },
  ),
  LOOKUP: define(
    'value:x list:l results:l',
    'any',
    'Finds the last value not above it in a list that rises, and gives what stands there in the second list.',
    'LOOKUP(75; {0;50;100}; {"calm";"wind";"gale"}) = "wind"',
    ([value, list, results]) => {
      const at = lastNotAbove(value ?? null, listOf(list));
      return at < 0 ? NOT_THERE : (listOf(results)[at] ?? NOT_THERE);
    },
  ),
  SORTED: define(
    'list:l descending:b?',
    'list',
    'A list in rising order, or falling when the second value is TRUE. (Gaveta’s own.)',
    'TEXTJOIN(" "; TRUE; SORTED({3;1;2})) = "1 2 3"',
    ([list, descending]) => {
      const values = flatten(listOf(list)).sort(compareValues);
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
  MODE: define('list:l', 'number', 'The number that comes most often.', 'MODE({1;2;2;3}) = 2', ([list]) => {
    const counts = new Map<string, { value: Numeric; count: number }>();
    for (const value of sorted(list)) {
      const key = toDecimal(value).trim().toString();
      const entry = counts.get(key) ?? { value, count: 0 };
      entry.count++;
      counts.set(key, entry);
    }
    const best = [...counts.values()].sort((a, b) => b.count - a.count)[0];
    return best ? best.value : NOT_THERE;
  }),
  GEOMEAN: define(
    'list:l',
    'number',
    'The geometric mean of positive numbers.',
    'ROUND(GEOMEAN({2;8}); 9) = 4',
    ([list]) => {
      const values = sorted(list).map((v) => double(v));
      if (values.length === 0 || values[0]! <= 0) return outOfRange(phrase('e-positive', { name: 'GEOMEAN' }));
      return fromDouble(Math.exp(values.reduce((sum, v) => sum + Math.log(v), 0) / values.length));
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
  LENGTH: define(
    'list:l',
    'number',
    'How many values a list has. (Gaveta’s own.)',
    'LENGTH({1;2;3}) = 3',
    ([list]) => listOf(list).length,
  ),
};
