import { phrase } from '../problems/phrases.ts';
import { formatValue } from '../text/format.ts';
import { textOrderOf } from '../text/text-order.ts';
import { CalendarDate, DAY, Moment } from '../value/date.ts';
import { Decimal, MAX_DIGITS } from '../value/decimal.ts';
import {
  add,
  compareNumeric,
  divide,
  isNumeric,
  multiply,
  type Numeric,
  negate,
  power,
  subtract,
  toDecimal,
  toNumber,
} from '../value/number.ts';
import { compareValues, FormulaError, joinedText, List, Picture, type Value, valueText } from '../value/value.ts';
import { type Checked, nodes } from './checked.ts';
import type { Compiled, EvaluationContext, FunctionDefinition } from './functions/context.ts';
import { type ArgumentType, dayAt, FUNCTIONS, MAX_TEXT, momentAtWall, TOTALS, totalOf } from './functions/index.ts';
import type { BinaryOperator } from './tree.ts';

const TOO_LONG = new FormulaError('#NUM!', phrase('e-digits', { digits: MAX_DIGITS }));

const NO_NUMBER = new FormulaError('#NUM!', phrase('e-no-number'));

const DIVISION_BY_ZERO = new FormulaError('#DIV/0!');

/**
 * Characters and list values that one formula may work through. More would take longer than anyone waits: it gives #NUM!.
 */
const MOST_WORK = 10_000_000;
const TOO_MUCH_WORK = new FormulaError('#NUM!', phrase('e-too-much-work'));
/** Texts and lists shorter than this are too cheap to count. */
const COUNTED_FROM = 1000;

/** What is left to the formula that is being worked out; it runs to its end before another starts. */
let workLeft = MOST_WORK;

const weightOf = (value: Value): number => {
  const size = typeof value === 'string' ? value.length : value instanceof List ? value.values.length : 0;
  return size < COUNTED_FROM ? 0 : size;
};

/** The value, or an error once the formula has done too much. */
const counted = (value: Value, given: readonly Value[]): Value => {
  let weight = weightOf(value);
  for (const part of given) weight += weightOf(part);
  if (weight === 0) return value;
  workLeft -= weight;
  return workLeft < 0 ? TOO_MUCH_WORK : value;
};

const MAKES_MUCH: ReadonlySet<Checked['kind']> = new Set(['call', 'aggregate', 'list']);

/** Turns a checked formula into a closure. Nothing is ever handed to `eval` or `Function`. */
export const compileFormula = (tree: Checked): Compiled => {
  const evaluate = compileIn(tree, null);
  const isCheap = ![...nodes(tree)].some((n) => MAKES_MUCH.has(n.kind) || (n.kind === 'binary' && n.operator === '&'));
  if (isCheap) return evaluate;
  return (context) => {
    workLeft = MOST_WORK;
    return evaluate(context);
  };
};

/** Where the value lies that the innermost `bind` around has worked out. */
type Cell = { value: Value };

const compileIn = (tree: Checked, cell: Cell | null): Compiled => {
  const compile = (part: Checked, within = cell): Compiled => compileIn(part, within);
  switch (tree.kind) {
    case 'literal': {
      const { value } = tree;
      return () => value;
    }
    case 'field': {
      const { level, column } = tree;
      return (context) => context.rows[level]?.[column] ?? null;
    }
    case 'tuple': {
      const items = tree.items.map((item) => compile(item));
      return (context) => new List(items.map((item) => item(context)));
    }
    case 'list': {
      const items = tree.items.map((item) => compile(item));
      return (context) => {
        const values = items.map((item) => item(context));
        return values.find((v) => v instanceof FormulaError) ?? new List(values);
      };
    }
    case 'rows':
      return () => 1;
    case 'parameter': {
      const { name } = tree;
      return (context) => (Object.hasOwn(context.parameters, name) ? (context.parameters[name] ?? null) : null);
    }
    case 'claim':
      return () => new FormulaError('#REF!', phrase('e-claims'));
    case 'page': {
      const { value } = tree;
      return (context) => context.page[value];
    }
    case 'report':
      return tree.value === 'name' ? (context) => context.report.name : (context) => context.report.runAt;
    case 'total': {
      const { slot } = tree;
      return (context) => context.totals.value(slot);
    }
    case 'aggregate': {
      const list = tree.arguments.map((argument) => compile(argument));
      const { name } = tree;
      return (context) => {
        const given: Value[] = [];
        for (const argument of list) {
          const value = argument(context);
          if (value instanceof List) for (const one of value.values) given.push(one);
          else {
            // A text in a list or row is passed over; given by itself it is a mistake (OpenFormula, section 6.3.7).
            const single = TOTALS[name].numbersOnly ? asNumberOrBlank(value) : value;
            if (single instanceof FormulaError && name !== 'COUNTA') return single;
            given.push(single);
          }
        }
        return bounded(totalOf(name, given, textOrderOf(context.report.language)));
      };
    }
    case 'previous': {
      const { level } = tree;
      const formula = compile(tree.formula);
      return (context) => {
        const row = context.before[level];
        if (!row) return null;
        const rows = [...context.rows];
        rows[level] = row;
        return formula({ ...context, rows });
      };
    }
    case 'unary':
      return compileUnary(tree.operator, compile(tree.operand));
    case 'binary':
      return compileBinary(tree.operator, compile(tree.left), compile(tree.right));
    case 'if': {
      const condition = compile(tree.condition);
      const yes = compile(tree.yes);
      const no = tree.no ? compile(tree.no) : () => false;
      return (context) => {
        const holds = asCondition(condition(context));
        if (holds instanceof FormulaError) return holds;
        return holds ? yes(context) : no(context);
      };
    }
    case 'iferror': {
      const value = compile(tree.value);
      const otherwise = compile(tree.otherwise);
      const { missing } = tree;
      return (context) => {
        const result = value(context);
        const caught = result instanceof FormulaError && (!missing || result.code === '#N/A');
        return caught ? otherwise(context) : result;
      };
    }
    case 'iserror': {
      const value = compile(tree.value);
      return (context) => value(context) instanceof FormulaError;
    }
    case 'text': {
      const value = compile(tree.value);
      const pattern = compile(tree.pattern);
      return (context) => {
        const v = value(context);
        if (v instanceof FormulaError) return v;
        return formatValue(v, valueText(pattern(context)), context.report);
      };
    }
    case 'bind': {
      const value = compile(tree.value);
      // Formulas never run into themselves, so that one place holds the value until the body has read it.
      const own: Cell = { value: null };
      const body = compile(tree.body, own);
      return (context) => {
        own.value = value(context);
        return body(context);
      };
    }
    case 'bound':
      return () => cell!.value;
    case 'call':
      return compileCall(
        tree.name,
        tree.arguments.map((argument) => compile(argument)),
      );
    default:
      return tree satisfies never;
  }
};

const compileCall = (name: string, list: Compiled[]): Compiled => {
  const own = FUNCTIONS[name];
  if (own) return calling(own, list);
  let known: { definition: FunctionDefinition; call: Compiled } | null = null;
  return (context) => {
    const definition = context.functions?.[name];
    if (!definition) return NO_FUNCTION;
    if (known?.definition !== definition) known = { definition, call: calling(definition, list) };
    return known.call(context);
  };
};

const NO_FUNCTION = new FormulaError('#NAME?');

const calling = ({ run, takes, seesErrors }: FunctionDefinition, list: Compiled[]): Compiled => {
  const wanted = list.map((_, i) => FITTING[takes[Math.min(i, takes.length - 1)]?.[1] ?? 'any']);
  return (context) => {
    const values: Value[] = [];
    for (let i = 0; i < list.length; i++) {
      const value = wanted[i]!(list[i]!(context));
      if (value instanceof FormulaError && !seesErrors) return value;
      values.push(value);
    }
    if (workLeft < 0) return TOO_MUCH_WORK;
    return counted(bounded(run(values, context)), values);
  };
};

const unfit = (value: Value): FormulaError => new FormulaError('#VALUE!', valueText(value).slice(0, 100));

/** A number or blank as it is; TRUE and FALSE are 1 and 0; anything else is an error. */
const asNumberOrBlank = (value: Value): Value => (value === null ? null : asNumber(value));

/** A number is TRUE unless it is 0, blank is FALSE; a text is an error, never a silent FALSE. */
const asCondition = (value: Value): boolean | FormulaError => {
  if (typeof value === 'boolean') return value;
  if (value === null) return false;
  if (isNumeric(value)) return compareNumeric(value, 0) !== 0;
  return value instanceof FormulaError ? value : unfit(value);
};

const isOf =
  (holds: (value: Value) => boolean) =>
  (value: Value): Value =>
    value === null || value instanceof FormulaError || holds(value) ? value : unfit(value);

/**
 * What reaches a function of what it is given, by the type that it declares. The checker refuses what is known to be of
 * another type; this is for values whose type only shows when they are there, as those of IFERROR(x; "none").
 */
const FITTING: Record<ArgumentType, (value: Value) => Value> = {
  any: (value) => value,
  text: isOf((value) => !(value instanceof Picture)),
  list: (value) => value,
  number: asNumberOrBlank,
  boolean: (value) => (value === null ? null : asCondition(value)),
  date: isOf((value) => value instanceof CalendarDate),
  datetime: isOf((value) => value instanceof Moment),
  temporal: isOf((value) => value instanceof CalendarDate || value instanceof Moment),
  picture: isOf((value) => value instanceof Picture),
};

const compileUnary = (operator: '-' | '+' | '%', operand: Compiled): Compiled => {
  if (operator === '+') return operand;
  return (context) => {
    const value = operand(context);
    if (value instanceof FormulaError) return value;
    const n = asNumber(value);
    if (n instanceof FormulaError) return n;
    return operator === '-' ? negate(n) : multiply(n, toDecimal(1).divide(toDecimal(100))!);
  };
};

/** Blank counts as 0 in arithmetic, as the standard says. */
const asNumber = (value: Value): Numeric | FormulaError => {
  if (isNumeric(value)) return value;
  if (value === null) return 0;
  if (value === true) return 1;
  if (value === false) return 0;
  return value instanceof FormulaError ? value : unfit(value);
};

const compileBinary = (operator: BinaryOperator, left: Compiled, right: Compiled): Compiled => {
  const evaluate = BINARY[operator];
  return (context) => {
    const a = left(context);
    if (a instanceof FormulaError) return a;
    const b = right(context);
    if (b instanceof FormulaError) return b;
    return evaluate(a, b, context);
  };
};

type Plain = Exclude<Value, FormulaError>;

const arithmetic =
  (operate: (a: Numeric, b: Numeric) => Value) =>
  (a: Plain, b: Plain): Value => {
    const x = asNumber(a);
    if (x instanceof FormulaError) return x;
    const y = asNumber(b);
    return y instanceof FormulaError ? y : bounded(operate(x, y));
  };

const bounded = (value: Value): Value => {
  if (typeof value === 'number') return Number.isFinite(value) ? value : NO_NUMBER;
  return value instanceof Decimal && value.isTooLong ? TOO_LONG : value;
};

const isTemporal = (value: Value): value is CalendarDate | Moment =>
  value instanceof CalendarDate || value instanceof Moment;

/** Milliseconds that the clocks of the report's zone show, as if they were those of UTC. */
const wallOf = (value: CalendarDate | Moment, { report }: EvaluationContext): number =>
  value instanceof Moment ? value.wallClock(report.timeZone) : value.day * DAY;

/** Days, with fraction, added to a date or moment or taken from it: by the clocks of the report's zone, as spreadsheets count. */
const shifted =
  (direction: 1 | -1, otherwise: (a: Plain, b: Plain) => Value) =>
  (a: Plain, b: Plain, context: EvaluationContext): Value => {
    if (!isTemporal(a)) return otherwise(a, b);
    if (isTemporal(b)) return direction === 1 ? unfit(b) : divide(wallOf(a, context) - wallOf(b, context), DAY)!;
    const days = asNumber(b);
    if (days instanceof FormulaError) return days;
    const far = direction * toNumber(days);
    // A date has no time of day: what is past it is cut off.
    if (a instanceof CalendarDate) return dayAt(a.day + Math.floor(far));
    return momentAtWall(wallOf(a, context) + Math.round(far * DAY), context.report.timeZone);
  };

/** Blank equals 0, an empty text and FALSE (OpenFormula, section 6.4.7). */
const blankLike = (other: Plain): Plain =>
  isNumeric(other) ? 0 : typeof other === 'string' ? '' : typeof other === 'boolean' ? false : null;

const equal = (a: Plain, b: Plain, { report }: EvaluationContext): boolean => {
  const x = a === null ? blankLike(b) : a;
  const y = b === null ? blankLike(a) : b;
  if (x === y) return true;
  if (x === null || y === null) return false;
  if (typeof x === 'string' && typeof y === 'string') return textOrderOf(report.language).same(x, y);
  return compareValues(x, y, bySign) === 0;
};

/** Texts are never equal here: those that are were told before. */
const bySign = (): number => 1;

/** Ordering against a blank date is never TRUE; other blanks order as 0, empty text or FALSE. */
const ordered =
  (holds: (difference: number) => boolean) =>
  (a: Plain, b: Plain, { report }: EvaluationContext): Value => {
    const x = a === null ? blankLike(b) : a;
    const y = b === null ? blankLike(a) : b;
    if (x === null || y === null) return false;
    if (isNumeric(x) && isNumeric(y)) return holds(compareNumeric(x, y));
    if (typeof x === 'string' && typeof y === 'string') return holds(textOrderOf(report.language).compare(x, y));
    return holds(compareValues(x, y, textOrderOf(report.language).compare));
  };

const BINARY: Record<BinaryOperator, (a: Plain, b: Plain, context: EvaluationContext) => Value> = {
  '+': shifted(1, arithmetic(add)),
  '-': shifted(-1, arithmetic(subtract)),
  '*': arithmetic(multiply),
  '/': arithmetic((a, b) => (compareNumeric(b, 0) === 0 ? DIVISION_BY_ZERO : divide(a, b))),
  '^': arithmetic((a, b) => power(a, b) ?? (compareNumeric(a, 0) === 0 ? DIVISION_BY_ZERO : NO_NUMBER)),
  '&': (a, b) => {
    const joined = joinText(a) + joinText(b);
    return joined.length > MAX_TEXT ? new FormulaError('#VALUE!', phrase('e-text-too-long')) : counted(joined, []);
  },
  '=': equal,
  '<>': (a, b, context) => !equal(a, b, context),
  '<': ordered((d) => d < 0),
  '>': ordered((d) => d > 0),
  '<=': ordered((d) => d <= 0),
  '>=': ordered((d) => d >= 0),
};

const joinText = (value: Plain): string =>
  value instanceof Picture
    ? ''
    : value instanceof Moment
      ? value.toString().slice(0, 16).replace('T', ' ')
      : joinedText(value);
