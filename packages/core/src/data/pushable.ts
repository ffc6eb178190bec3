import { type Checked, nodes } from '../formula/checked.ts';

/** Functions whose SQL form gives the same result as ours, blank values included. */
export const PUSHABLE_FUNCTIONS = new Set([
  'AND',
  'OR',
  'NOT',
  'ISBLANK',
  'YEAR',
  'MONTH',
  'DAY',
  'DATE',
  'DAYS',
  'ABS',
  'UPPER',
  'LOWER',
  'TRUE',
  'FALSE',
]);

/** Whether a formula can run inside the database instead of on fetched rows. */
export const isPushable = (formula: Checked): boolean => {
  for (const node of nodes(formula)) {
    switch (node.kind) {
      case 'literal':
      case 'field':
      case 'parameter':
      case 'claim':
        if (node.type === 'picture') return false;
        break;
      case 'unary':
        break;
      case 'binary':
        if (node.operator === '^' || node.operator === '&' || node.operator === '/') return false;
        if (node.type === 'date') return false;
        break;
      case 'call':
        if (!PUSHABLE_FUNCTIONS.has(node.name)) return false;
        // A day of a point in time depends on the report's zone.
        if (['YEAR', 'MONTH', 'DAY', 'DAYS'].includes(node.name) && node.arguments.some((a) => a.type !== 'date'))
          return false;
        break;
      default:
        return false;
    }
  }
  return true;
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
