import { type Checked, partsOf } from '../formula/checked.ts';
import { isPeriod } from '../formula/functions/index.ts';

/** Functions whose SQL form gives the same result as ours, blank values included. */
const PUSHABLE_FUNCTIONS = new Set([
  'AND',
  'OR',
  'NOT',
  'ISBLANK',
  'YEAR',
  'QUARTER',
  'MONTH',
  'DAY',
  'DATE',
  'DAYS',
  'PERIOD',
  'PERIODHOUR',
  'ABS',
  'FLOOR',
  'RANGESTART',
  'UPPER',
  'LOWER',
  'LEFT',
  'INITIAL',
  'CONTAINS',
  'STARTSWITH',
  'ENDSWITH',
  'ONEOF',
  'TRUE',
  'FALSE',
]);

const isPositiveNumber = (formula: Checked | undefined): boolean =>
  formula?.kind === 'literal' && Number(formula.value.toString()) > 0;

/** The database compares like with like; a list must be a parameter, whose values are of one type. */
const isOneOfPushable = ([value, ...choices]: readonly Checked[]): boolean =>
  value !== undefined &&
  (value.type === 'text' || value.type === 'number' || value.type === 'date') &&
  choices.every((c) => (c.kind === 'parameter' && c.type === 'list' ? c.of === value.type : c.type === value.type));

const isPushableCall = (name: string, list: readonly Checked[]): boolean => {
  const [first, second] = list;
  switch (name) {
    // A day of a point in time depends on the report's zone, and so does the distance of two.
    case 'DAYS':
      return list.every((argument) => argument.type === 'date');
    case 'PERIOD':
      return second?.kind === 'literal' && isPeriod(String(second.value)) && second.value !== 'hour';
    case 'PERIODHOUR':
      return first?.type === 'datetime';
    case 'ONEOF':
      return isOneOfPushable(list);
    case 'FLOOR':
      return list.length === 1 || isPositiveNumber(second);
    case 'LEFT':
    case 'RANGESTART':
      return list.length === 1 || isPositiveNumber(second);
    default:
      return PUSHABLE_FUNCTIONS.has(name);
  }
};

/**
 * Whether a formula can run inside the database instead of on fetched rows; `total` says so of a total, by its slot.
 * `divides`: a division may go there too, where dividing by nothing gives a blank instead of an error.
 */
export const isPushable = (
  formula: Checked,
  total: (slot: number) => boolean = () => false,
  options: { divides?: boolean } = {},
): boolean => {
  const { kind } = formula;
  switch (kind) {
    case 'literal':
    case 'field':
    case 'parameter':
    case 'claim':
    case 'rows':
      return formula.type !== 'picture';
    case 'total':
      return total(formula.slot);
    case 'unary':
      break;
    case 'binary': {
      const { operator } = formula;
      if (operator === '^' || (operator === '/' && !options.divides) || formula.type === 'date') return false;
      if (operator === '&' && (formula.left.type !== 'text' || formula.right.type !== 'text')) return false;
      break;
    }
    case 'if':
      if (formula.type === 'any' || formula.type === 'boolean' || !formula.no) return false;
      break;
    case 'call':
      if (!isPushableCall(formula.name, formula.arguments)) return false;
      break;
    default:
      return false;
  }
  return partsOf(formula).every((part) => isPushable(part, total, options));
};

/** The conditions that a filter joins with AND, so that each can go where it runs best. */
export const conjuncts = (formula: Checked): Checked[] =>
  formula.kind === 'call' && formula.name === 'AND' ? formula.arguments.flatMap(conjuncts) : [formula];

export const joinConjuncts = (list: Checked[]): Checked | null =>
  list.length === 0
    ? null
    : list.length === 1
      ? list[0]!
      : { kind: 'call', name: 'AND', arguments: list, type: 'boolean' };
