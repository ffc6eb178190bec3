import {
  type Checked,
  type CheckedType,
  encodeValue,
  FormulaError,
  isConstant,
  isCount,
  List,
  type Value,
  valueText,
} from '@gaveta/core/internal';
import { StatementError } from '../connection/connection.ts';

const wrongValue = ({ code, detail }: FormulaError): StatementError =>
  new StatementError(`a value that decides on its rows is wrong (${[code, detail].filter(Boolean).join(': ')})`);

/** Collects values that are bound to a query, never pasted into its text. */
export class Bindings {
  readonly values: (string | number | boolean | null)[] = [];

  /** Throws StatementError for an error: bound as a blank it would ask for everything. */
  bind(value: Value, type: CheckedType): string {
    if (value instanceof FormulaError) throw wrongValue(value);
    this.values.push(encodeValue(value));
    return `$${this.values.length}::${SQL_TYPES[type]}`;
  }

  /** A name for a value that stands in a statement once and is read several times. */
  alias(): string {
    return `once_${++this.aliases}`;
  }

  private aliases = 0;

  /** Several values of one type as an array; blank for none. */
  bindList(value: Value, of: 'text' | 'number'): string {
    if (value instanceof FormulaError) throw wrongValue(value);
    const values = value instanceof List ? value.values : value === null ? null : [value];
    const quoted = values?.map((v) => `"${valueText(v).replace(/[\\"]/g, '\\$&')}"`);
    this.values.push(quoted ? `{${quoted.join(',')}}` : null);
    return `$${this.values.length}::text::${of === 'number' ? 'numeric' : 'text'}[]`;
  }
}

/** The database's type for each of ours. */
export const SQL_TYPES: Record<CheckedType, string> = {
  text: 'text',
  number: 'numeric',
  date: 'date',
  datetime: 'timestamptz',
  boolean: 'boolean',
  picture: 'bytea',
  list: 'text[]',
  any: 'text',
};

/** Where a formula's names come from in the query at hand. `wanted` is the type of what it is compared with. */
export interface SqlNames {
  /** What the innermost `bind` around has worked out. */
  bound?: Term;
  field(level: number, column: number): string;
  parameter(name: string, wanted: CheckedType): Term;
  /** The value of a formula of nothing but parameters and fixed values; left out where they depend on rows around. */
  constant?: ((formula: Checked) => Value) | undefined;
  /** A total that the statement has worked out already. */
  total(slot: number): string;
  /** The report's IANA time zone, in which points in time fall on days. */
  timeZone: string;
  /** In which texts are ordered and capitals made; null for the database's plain order. */
  collation: string | null;
}

export interface Term {
  sql: string;
  /** Known never to be NULL. */
  solid: boolean;
  type: CheckedType;
}

/** SQL of a formula that {@link isPushable} accepts, with the same result, blank values included. */
export const toSql = (tree: Checked, names: SqlNames, bindings: Bindings, wanted: CheckedType = tree.type): Term => {
  const inner = (node: Checked): Term => toSql(node, names, bindings);
  const { type } = tree;
  switch (tree.kind) {
    case 'literal':
      return { sql: bindings.bind(tree.value, type), solid: true, type };
    case 'field':
      return { sql: names.field(tree.level, tree.column), solid: false, type };
    case 'parameter':
      return names.parameter(tree.name, wanted);
    case 'unary': {
      const operand = exact(inner(tree.operand));
      return {
        sql: tree.operator === '-' ? `(- ${operand})` : tree.operator === '%' ? `(${operand} * 0.01)` : operand,
        solid: true,
        type,
      };
    }
    case 'rows':
      return { sql: '1', solid: true, type: 'number' };
    case 'total': {
      const counts = tree.name === 'SUM' || isCount(tree.name);
      return { sql: names.total(tree.slot), solid: counts, type };
    }
    case 'binary':
      return binary(tree, names, bindings);
    case 'if': {
      const branch = (node: Checked): Term => (isBlank(node) ? blank(type) : inner(node));
      const [yes, no] = [branch(tree.yes), branch(tree.no!)];
      const sql = `(case when ${condition(inner(tree.condition))} then ${yes.sql} else ${no.sql} end)`;
      return { sql, solid: yes.solid && no.solid, type };
    }
    case 'bind': {
      const value = inner(tree.value);
      const alias = bindings.alias();
      const known = { ...names, bound: { ...value, sql: `${alias}.v` } };
      const body = toSql(tree.body, known, bindings);
      return { ...body, sql: `(select ${body.sql} from (select ${typed(value)} as v) ${alias})` };
    }
    case 'bound':
      return { ...names.bound!, type };
    case 'call': {
      if (isBlank(tree)) return blank(wanted);
      // What is bound must be used, and the name of a period is bound by itself.
      if (tree.name === 'DATE' && names.constant) return bindConstant(names.constant(tree), bindings, type);
      const list = NAMED_BY_THE_SECOND.has(tree.name) ? tree.arguments.slice(0, 1) : tree.arguments;
      return { ...call(tree, list.map(inner), names, bindings), type };
    }
    default:
      throw new Error(`A formula part of kind ${tree.kind} cannot run in the database`);
  }
};

/** Functions whose second value is written into the statement, and not bound to it. */
const NAMED_BY_THE_SECOND: ReadonlySet<string> = new Set(['PERIOD', 'WEEKDAY']);

const isBlank = (formula: Checked): boolean => formula.kind === 'call' && formula.name === 'BLANK';
/** No value, of the type of what stands beside it. */
const blank = (type: CheckedType): Term => ({ sql: `null::${SQL_TYPES[type]}`, solid: false, type });

const bindConstant = (value: Value, bindings: Bindings, type: CheckedType): Term => {
  return { sql: bindings.bind(value, type), solid: value !== null, type };
};

const typed = (term: Term): string => `${term.sql}::${SQL_TYPES[term.type]}`;

/** Longest SQL that is written out again where a value is read several times: a column or a bound value. */
const SHORT = 60;

/** SQL that reads a value several times: a long one is worked out in a row of its own, so that statements do not double. */
const once = (sql: string, bindings: Bindings, read: (x: string) => string): string => {
  if (sql.length <= SHORT) return read(sql);
  const alias = bindings.alias();
  return `(select ${read(`${alias}.v`)} from (select ${sql} as v) ${alias})`;
};

/** The multiple of a step below a value; the remainder of numerics is exact, which their quotient is not. */
const multipleBelow = (value: string, step: string, bindings: Bindings): string =>
  once(value, bindings, (x) => once(step, bindings, (s) => `(${x} - mod(mod(${x}, ${s}) + ${s}, ${s}))`));

export const numeric = (term: Term): string => (term.solid ? term.sql : `coalesce(${term.sql}, 0)`);
/** A number of any size: whole numbers of the database would overflow where ours do not. */
const exact = (term: Term): string => `${numeric(term)}::numeric`;
const condition = (term: Term): string => (term.solid ? term.sql : `coalesce(${term.sql}, false)`);
const words = (term: Term): string => (term.solid ? term.sql : `coalesce(${term.sql}, '')`);

/** Whether a formula is known to be a text with something in it when the statement is written. */
const isWord = (formula: Checked, { constant }: SqlNames): boolean => {
  const value = formula.kind === 'literal' ? formula.value : isConstant(formula) ? (constant?.(formula) ?? null) : null;
  return typeof value === 'string' && value !== '';
};

/** A text in the order and with the letters of the report’s language. */
const ordered = (text: string, names: SqlNames): string =>
  names.collation ? `${text} collate ${names.collation}` : text;

/** A text without the difference between capitals and small letters. */
const small = (term: Term, names: SqlNames): string => folded(words(term), names);
const folded = (text: string, names: SqlNames): string => `lower(${ordered(text, names)})`;

/** The wall clock of a point in time in the report's zone; a date stands for its midnight. */
const wallClock = (term: Term, names: SqlNames, bindings: Bindings): string =>
  term.type === 'datetime'
    ? `(${term.sql} at time zone ${bindings.bind(names.timeZone, 'text')})`
    : `${term.sql}::timestamp`;

const whole = (term: Term): string => `trunc(${numeric(term)})::int`;

const call = (
  { name, arguments: given }: Checked & { kind: 'call' },
  list: Term[],
  names: SqlNames,
  bindings: Bindings,
): Omit<Term, 'type'> => {
  const [a, b, c] = list;
  switch (name) {
    case 'AND':
      return { sql: `(${list.map(condition).join(' and ')})`, solid: true };
    case 'OR':
      return { sql: `(${list.map(condition).join(' or ')})`, solid: true };
    case 'NOT':
      return { sql: `(not ${condition(a!)})`, solid: true };
    case 'TRUE':
      return { sql: 'true', solid: true };
    case 'FALSE':
      return { sql: 'false', solid: true };
    case 'ISBLANK':
      return { sql: `(${a!.sql} is null)`, solid: true };
    case 'ABS':
      return { sql: `abs(${exact(a!)})`, solid: true };
    case 'FLOOR': {
      if (!b) return { sql: `floor(${exact(a!)})`, solid: true };
      return { sql: multipleBelow(exact(a!), exact(b), bindings), solid: true };
    }
    case 'RANGESTART': {
      return { sql: multipleBelow(`${a!.sql}::numeric`, exact(b!), bindings), solid: false };
    }
    case 'UPPER':
    case 'LOWER':
      return { sql: `${name.toLowerCase()}(${ordered(words(a!), names)})`, solid: true };
    case 'EXACT': {
      const at = given.findIndex((one) => isWord(one, names));
      if (at < 0) return { sql: `(${words(a!)} = ${words(b!)})`, solid: true };
      // The column as it stands, so that an index on it serves; a blank one is no such text.
      const [word, other] = at === 0 ? [a!, b!] : [b!, a!];
      return { sql: once(other.sql, bindings, (x) => `(${x} = ${word.sql} and ${x} is not null)`), solid: true };
    }
    case 'CONTAINS':
      return { sql: `(strpos(${small(a!, names)}, ${small(b!, names)}) > 0)`, solid: true };
    case 'STARTSWITH':
      return { sql: `starts_with(${small(a!, names)}, ${small(b!, names)})`, solid: true };
    case 'ENDSWITH':
      return {
        sql: once(small(b!, names), bindings, (end) => `(right(${small(a!, names)}, length(${end})) = ${end})`),
        solid: true,
      };
    case 'ONEOF': {
      const isText = a!.type === 'text';
      // A blank value is none of them, as is one of a blank list.
      const tests = (x: string): string[] =>
        list.slice(1).map((choice, i) => {
          const isList = given[i + 1]!.type === 'list';
          if (!isText) return isList ? `${x} = any(${choice.sql})` : `${x} = ${choice.sql}`;
          return isList
            ? `${x} in (select ${folded('c', names)} from unnest(${choice.sql}) c)`
            : `${x} = ${folded(choice.sql, names)}`;
        });
      return {
        sql: once(
          isText ? folded(a!.sql, names) : a!.sql,
          bindings,
          (x) => `coalesce(${tests(x).join(' or ')}, false)`,
        ),
        solid: true,
      };
    }
    case 'LEN':
      return { sql: `length(${words(a!)})::numeric`, solid: true };
    case 'RIGHT':
      return { sql: `right(${words(a!)}, ${b ? whole(b) : '1'})`, solid: true };
    case 'MID':
      return { sql: `substr(${words(a!)}, ${whole(b!)}, ${whole(c!)})`, solid: true };
    case 'CONCATENATE':
      return { sql: `(${list.map(words).join(' || ')})`, solid: true };
    case 'IFBLANK':
      return { sql: `coalesce(${a!.sql}, ${b!.sql})`, solid: a!.solid || b!.solid };
    case 'ROUND':
      return { sql: `round(${exact(a!)}, ${b ? whole(b) : '0'})`, solid: true };
    case 'INT':
      return { sql: `floor(${exact(a!)})`, solid: true };
    case 'SIGN':
      return { sql: `sign(${exact(a!)})`, solid: true };
    case 'MOD':
      return { sql: once(exact(b!), bindings, (s) => `mod(mod(${exact(a!)}, ${s}) + ${s}, ${s})`), solid: true };
    case 'WEEKDAY': {
      const day = wallClock(a!, names, bindings);
      const kind = given[1]?.kind === 'literal' ? Number(given[1].value) : 1;
      const from =
        kind === 1 ? `extract(dow from ${day}) + 1` : `extract(isodow from ${day})${kind === 3 ? ' - 1' : ''}`;
      return { sql: `(${from})::numeric`, solid: false };
    }
    case 'ISOWEEKNUM':
      return { sql: `extract(week from ${wallClock(a!, names, bindings)})::numeric`, solid: false };
    case 'TEXTJOIN': {
      const texts = list.slice(2).map((value) => `nullif(${words(value)}, '')`);
      return { sql: `concat_ws(${words(a!)}, ${texts.join(', ')})`, solid: true };
    }
    case 'LEFT':
      return { sql: `left(${words(a!)}, ${b ? `greatest(0, ${whole(b)})` : '1'})`, solid: true };
    case 'INITIAL': {
      const first = `left(normalize(btrim(${words(a!)}, E' \\t\\n\\r'), NFD), 1)`;
      return { sql: `upper(${ordered(first, names)})`, solid: true };
    }
    case 'YEAR':
    case 'QUARTER':
    case 'MONTH':
    case 'DAY':
      return { sql: `extract(${name.toLowerCase()} from ${wallClock(a!, names, bindings)})::numeric`, solid: false };
    case 'PERIOD': {
      const [, period] = given;
      const unit = period?.kind === 'literal' ? String(period.value) : 'day';
      return {
        sql: `date_trunc(${bindings.bind(unit, 'text')}, ${wallClock(a!, names, bindings)})::date`,
        solid: false,
      };
    }
    case 'PERIODHOUR':
      return { sql: `date_trunc('hour', ${a!.sql}, ${bindings.bind(names.timeZone, 'text')})`, solid: false };
    case 'DATE': {
      // From a fixed day on, since make_date knows no year 0 and no month 13; blank where there is no such date.
      const parts = [a!, b!, c!].map(numeric);
      const day = `(date '2000-01-01' + make_interval(years => trunc(d.y)::int - 2000, months => trunc(d.m)::int - 1, days => trunc(d.d)::int - 1))::date`;
      const near = 'abs(d.y) < 10000 and abs(d.m) < 100000 and abs(d.d) < 3000000';
      const found = `(select case when ${near} then ${day} end as v from (select ${parts[0]} as y, ${parts[1]} as m, ${parts[2]} as d) d)`;
      const alias = bindings.alias();
      return {
        sql: `(select ${alias}.v from ${found} ${alias} where ${alias}.v between date '0001-01-01' and date '9999-12-31')`,
        solid: false,
      };
    }
    case 'DAYS':
      return { sql: `(${a!.sql} - ${b!.sql})::numeric`, solid: false };
    default:
      throw new Error(`${name} cannot run in the database`);
  }
};

const binary = (tree: Checked & { kind: 'binary' }, names: SqlNames, bindings: Bindings): Term => {
  const { operator, type } = tree;
  // The side whose type is known tells how to read the other one.
  const leftType = tree.left.type === 'any' ? tree.right.type : tree.left.type;
  const rightType = tree.right.type === 'any' ? tree.left.type : tree.right.type;
  const left = toSql(tree.left, names, bindings, leftType);
  const right = toSql(tree.right, names, bindings, rightType);
  switch (operator) {
    case '+':
    case '-':
    case '*':
      return { sql: `(${exact(left)} ${operator} ${exact(right)})`, solid: true, type };
    case '&':
      return { sql: `(${words(left)} || ${words(right)})`, solid: true, type };
    case '=':
    case '<>':
    case '<':
    case '>':
    case '<=':
    case '>=':
      return { ...comparison(operator, left, right, leftType, names), type };
    case '/':
      // Only recipes push it: a division by nothing gives nothing.
      return {
        sql: `(${exact(left)} * 1.0000000000000000000000000000000000 / nullif(${exact(right)}, 0))`,
        solid: false,
        type,
      };
    default:
      throw new Error(`“${operator}” cannot run in the database`);
  }
};

/** Blank equals 0, an empty text or FALSE; a blank date equals only a blank date and orders before and after none. */
const comparison = (
  operator: string,
  left: Term,
  right: Term,
  type: CheckedType,
  names: SqlNames,
): Omit<Term, 'type'> => {
  // Capitals do not matter to formulas.
  if (type === 'text') return { sql: `(${small(left, names)} ${operator} ${small(right, names)})`, solid: true };
  if (type === 'date' || type === 'datetime') {
    if (operator === '=') return { sql: `(${left.sql} is not distinct from ${right.sql})`, solid: true };
    if (operator === '<>') return { sql: `(${left.sql} is distinct from ${right.sql})`, solid: true };
    return { sql: `(${left.sql} ${operator} ${right.sql})`, solid: left.solid && right.solid };
  }
  const blank = type === 'boolean' ? 'false' : '0';
  const filled = (term: Term): string => (term.solid ? term.sql : `coalesce(${term.sql}, ${blank})`);
  return { sql: `(${filled(left)} ${operator} ${filled(right)})`, solid: true };
};
