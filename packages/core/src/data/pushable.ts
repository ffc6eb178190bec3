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
  'TRUE',
  'FALSE',
]);

const isPositiveNumber = (formula: Checked | undefined): boolean =>
  formula?.kind === 'literal' && Number(formula.value.toString()) > 0;

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
    case 'FLOOR':
      return list.length === 1 || isPositiveNumber(second);
    case 'LEFT':
    case 'RANGESTART':
      return list.length === 1 || isPositiveNumber(second);
    default:
      return PUSHABLE_FUNCTIONS.has(name);
  }
};

/** Whether a formula can run inside the database instead of on fetched rows; `total` says so of a total, by its slot. */
export const isPushable = (formula: Checked, total: (slot: number) => boolean = () => false): boolean => {
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
      if (operator === '^' || operator === '&' || operator === '/' || formula.type === 'date') return false;
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
  return partsOf(formula).every((part) => isPushable(part, total));
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
