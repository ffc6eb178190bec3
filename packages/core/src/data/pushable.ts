import { type Checked, nodes, partsOf } from '../formula/checked.ts';
import { isPeriod } from '../formula/functions/index.ts';
import { isRootOrder } from '../text/order.ts';
import { hasCommonLetters } from '../text/text-order.ts';

/** Functions whose SQL form gives the same result as ours, blank values included. */
export const PUSHABLE_FUNCTIONS: ReadonlySet<string> = new Set([
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
  'TEXTJOIN',
  'ONEOF',
  'EXACT',
  'LEN',
  'RIGHT',
  'MID',
  'CONCATENATE',
  'IFBLANK',
  'ROUND',
  'INT',
  'SIGN',
  'MOD',
  'WEEKDAY',
  'ISOWEEKNUM',
  'TRUE',
  'FALSE',
  'BLANK',
]);

const isPositiveNumber = (formula: Checked | undefined): boolean =>
  formula?.kind === 'literal' && Number(formula.value.toString()) > 0;

/** A whole number that is written in the formula, from one to another. */
const isCount = (formula: Checked | undefined, from: number, to: number): boolean => {
  const isMinus = formula?.kind === 'unary' && formula.operator === '-';
  const written = isMinus ? formula.operand : formula;
  if (written?.kind !== 'literal' || typeof written.value !== 'number') return false;
  const value = isMinus ? -written.value : written.value;
  return Number.isInteger(value) && value >= from && value <= to;
};

/** Whether a number has all its digits: what is cut forgives digits that were rounded off here, and does not there. */
const isExact = (formula: Checked | undefined): boolean =>
  formula !== undefined &&
  [...nodes(formula)].every(
    (node) => node.kind !== 'total' && !(node.kind === 'binary' && (node.operator === '/' || node.operator === '^')),
  );

/** The database compares like with like; a list must be a parameter, whose values are of one type. */
const isOneOfPushable = ([value, ...choices]: readonly Checked[]): boolean =>
  value !== undefined &&
  (value.type === 'text' || value.type === 'number' || value.type === 'date') &&
  choices.every((c) => (c.kind === 'parameter' && c.type === 'list' ? c.of === value.type : c.type === value.type));

/** Whether a formula reads no row: it is made of parameters and fixed values. */
export const isConstant = (formula: Checked): boolean =>
  [...nodes(formula)].every(
    ({ kind }) => !['field', 'bound', 'claim', 'total', 'rows', 'previous', 'page'].includes(kind),
  );

/** Products that one formula may have in the database, where a number ends with 131,072 digits. */
const MOST_PRODUCTS = 50;

const products = (formula: Checked): number =>
  [...nodes(formula)].filter((n) => n.kind === 'binary' && (n.operator === '*' || n.operator === '/')).length;

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
    case 'EXACT':
    case 'CONCATENATE':
      return list.every(({ type }) => type === 'text');
    case 'LEN':
      return first?.type === 'text';
    case 'RIGHT':
      return first?.type === 'text' && (list.length === 1 || isCount(second, 0, 1e6));
    case 'MID':
      return first?.type === 'text' && isCount(second, 1, 1e6) && isCount(list[2], 0, 1e6);
    case 'IFBLANK':
      return first !== undefined && first.type !== 'any' && first.type === second?.type;
    case 'INT':
    case 'SIGN':
      return isExact(first);
    case 'ROUND':
      return isExact(first) && (list.length === 1 || isCount(second, -20, 20));
    case 'MOD':
      return isExact(first) && isPositiveNumber(second);
    case 'WEEKDAY':
      return list.length === 1 || isCount(second, 1, 3);
    // What fails for some values of a row would fail for all rows there.
    case 'DATE':
      return list.every(isConstant);
    case 'LEFT':
      return (
        list.length === 1 || (isPositiveNumber(second) && Number(String((second as { value: unknown }).value)) < 1e6)
      );
    case 'FLOOR':
    case 'RANGESTART':
      return list.length === 1 || isPositiveNumber(second);
    // Texts alone: how numbers and dates are written is ours.
    case 'TEXTJOIN':
      return (
        first?.kind === 'literal' &&
        second?.kind === 'call' &&
        second.name === 'TRUE' &&
        list.slice(2).every(({ type }) => type === 'text')
      );
    default:
      return PUSHABLE_FUNCTIONS.has(name);
  }
};

const COMPARES = new Set(['<', '>', '<=', '>=']);
/** Functions that take no notice of capitals, or change them. */
const KNOWS_LETTERS = new Set(['UPPER', 'LOWER', 'CONTAINS', 'STARTSWITH', 'ENDSWITH', 'ONEOF', 'INITIAL']);

/** What a formula needs to know of the language of its texts: which letters are the same, or also in which order they come. */
export const languageNeeds = (formula: Checked): 'nothing' | 'letters' | 'order' => {
  let found: 'nothing' | 'letters' | 'order' = 'nothing';
  for (const node of nodes(formula)) {
    if (node.kind === 'call' && KNOWS_LETTERS.has(node.name)) found = 'letters';
    if (node.kind !== 'binary' || node.type !== 'boolean') continue;
    if (node.left.type !== 'text' && node.right.type !== 'text') continue;
    if (COMPARES.has(node.operator)) return 'order';
    found = 'letters';
  }
  return found;
};

/** Whether databases know what a formula needs to know of a language; `orders`: its texts are put in order too. */
export const databasesKnow = (language: string, formula: Checked, orders = false): boolean => {
  const needs = orders && formula.type === 'text' ? 'order' : languageNeeds(formula);
  return needs === 'nothing' || (hasCommonLetters(language) && (needs === 'letters' || isRootOrder(language)));
};

/**
 * Whether a formula can run inside the database instead of on fetched rows; `total` says so of a total, by its slot.
 * `divides`: a division may go there too, where dividing by nothing gives a blank instead of an error.
 */
export const isPushable = (
  formula: Checked,
  total: (slot: number) => boolean = () => false,
  options: { divides?: boolean } = {},
): boolean => products(formula) <= MOST_PRODUCTS && isKnown(formula, total, options);

const isKnown = (formula: Checked, total: (slot: number) => boolean, options: { divides?: boolean }): boolean => {
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
      if (
        operator === '^' ||
        (operator === '/' && !options.divides) ||
        formula.type === 'date' ||
        formula.type === 'datetime'
      )
        return false;
      // How far moments lie apart depends on the report's zone.
      if (operator === '-' && [formula.left, formula.right].some(({ type }) => type === 'date' || type === 'datetime'))
        return false;
      if (operator === '&' && (formula.left.type !== 'text' || formula.right.type !== 'text')) return false;
      break;
    }
    case 'if':
      if (formula.type === 'any' || formula.type === 'boolean' || !formula.no) return false;
      break;
    case 'bind':
    case 'bound':
      break;
    case 'call':
      if (!isPushableCall(formula.name, formula.arguments)) return false;
      break;
    default:
      return false;
  }
  return partsOf(formula).every((part) => isKnown(part, total, options));
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
