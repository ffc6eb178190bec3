import {
  type DataType,
  type Field,
  type Operation,
  type RowsTotal,
  STEP_TOTALS,
  type StepTotal,
} from '@gaveta/core/internal';
import { convertedSql, filledSql, gatheredSql, splitSql } from './column-steps.ts';
import { SQL_TYPES } from './expression.ts';
import { identifier, indent } from './identifiers.ts';
import { type OperationKind, type OperationOf, ROWS, type StepWriting } from './step-writing.ts';

/** A blank of a type. */
export const blank = (type: DataType): string => `null::${SQL_TYPES[type]}`;

/** The rows stand in no order any more. */
const unordered = (): string[] => [];

const sortOrder = ({ by }: OperationOf<'sort'>, fields: readonly Field[], collation: string | null): string[] =>
  by.map(({ formula, descending }) => {
    const field = formula.kind === 'field' ? fields[formula.column - 1] : undefined;
    const collate = formula.type === 'text' && collation ? ` collate ${collation}` : '';
    return `${identifier(field?.name ?? '')}${collate}${descending ? ' desc' : ''} nulls last`;
  });

/** The order as far as its columns still go by their names. */
const stillThere = (
  { taken }: OperationOf<'columns'>,
  _fields: readonly Field[],
  _collation: string | null,
  order: readonly string[],
): string[] => {
  const lost = order.findIndex((by) =>
    taken.some((name) => by.startsWith(`${identifier(name)} `) || by === identifier(name)),
  );
  return lost < 0 ? [...order] : order.slice(0, lost);
};

/** A column of another type is put in the order of that type. */
const convertedOrder = (
  { columns }: OperationOf<'convert'>,
  fields: readonly Field[],
  _collation: string | null,
  order: readonly string[],
): string[] => {
  const converted = fields.filter((_, i) => columns[i]).map(({ name }) => `${identifier(name)} collate `);
  return order.map((by) => (converted.some((start) => by.startsWith(start)) ? by.replace(/ collate "[^"]*"/, '') : by));
};

/** The order of the rows after a step; left out: as before it. */
const ORDERS: {
  readonly [K in OperationKind]?: (
    operation: OperationOf<K>,
    fields: readonly Field[],
    collation: string | null,
    order: readonly string[],
  ) => string[];
} = {
  sort: sortOrder,
  summarise: unordered,
  spread: unordered,
  stack: unordered,
  gather: unordered,
  columns: stillThere,
  convert: convertedOrder,
};

/** Each kind of step as a select over the rows before it. */
const STEPS: { readonly [K in OperationKind]: (operation: OperationOf<K>, step: StepWriting) => string } = {
  take: ({ source }, step) => step.source(source),
  sql: (operation, step) => {
    const columns = step.after.map(
      ({ name, type }) => `q.${quoteExact(name)}${type === 'text' ? '::text' : ''} as ${identifier(name)}`,
    );
    return `select ${columns.join(', ')}\nfrom (\n${indent(step.written(operation))}\n) q`;
  },
  bring: (operation, step) => {
    const { source, on, keep, columns } = operation;
    const join = { matching: 'join', here: 'left join', there: 'right join', both: 'full join' }[keep];
    const there = step.joined(source);
    const pairs = on.map((pair) => `t.${there.column(pair.there)} = ${ROWS}.${identifier(pair.here)}`);
    const typeOf = (name: string): DataType => step.after.find((f) => f.name === name)?.type ?? 'text';
    const brought = columns.map((c) =>
      step.isUnused(c.name)
        ? `${blank(typeOf(c.name))} as ${identifier(c.name)}`
        : `${c.isNoneZero ? `coalesce(t.${there.column(c.field)}, 0)` : `t.${there.column(c.field)}`} as ${identifier(c.name)}`,
    );
    return `select ${[`${ROWS}.*`, ...brought].join(', ')}\n${step.from}\n${join} ${there.from} t on ${pairs.join(' and ')}`;
  },
  keep: ({ formula }, { from, sql }) => `select *\n${from}\nwhere ${sql(formula).sql}`,
  add: (operation, step) => {
    const { formula, totals } = operation;
    const term = step.sql(formula, (slot) => `t.total_${slot}`);
    const type = formula.type === 'any' ? 'text' : formula.type;
    const added = `${term.sql}::${SQL_TYPES[type]} as ${identifier(operation.name)}`;
    if (totals.length === 0) return `select ${ROWS}.*, ${added}\n${step.from}`;
    const before = step.fields.map((f) => `${ROWS}.${identifier(f.name)}`).join(', ');
    const whole = `${withTotals(operation, step)}\nselect ${before}, ${added}\nfrom numbered ${ROWS} join totals t on t.group_number = ${ROWS}.group_number`;
    // It may stand behind other table expressions.
    return `select *\nfrom (\n${indent(whole)}\n) added`;
  },
  summarise: (operation, step) => {
    const { by, totals } = operation;
    const keys = by.map(({ name, formula }) => `${step.sql(formula).sql} as ${identifier(name)}`);
    const values = totals.map(
      ({ name, total, of }) => `${totalSql(total, of && step.sql(of).sql, step.order)} as ${identifier(name)}`,
    );
    const group = by.length > 0 ? `\ngroup by ${by.map((_, i) => i + 1).join(', ')}` : '';
    return `select ${[...keys, ...values].join(', ')}\n${step.from}${group}`;
  },
  spread: (operation, step) => {
    const { by, names: name, values, total, into } = operation;
    const keys = by.map((key) => `${ROWS}.${identifier(key)}`);
    const spread = into.map(({ name: column, value }) => {
      const when = `${step.sql(name).sql}::text = ${step.bind(String(value))}`;
      return `${totalSql(total, step.sql(values).sql, step.order, when)} as ${identifier(column)}`;
    });
    const group = by.length > 0 ? `\ngroup by ${keys.join(', ')}` : '';
    return `select ${[...keys, ...spread].join(', ')}\n${step.from}${group}`;
  },
  sort: (operation, { from, fields, collation, isSorted }) =>
    isSorted
      ? `select *\n${from}\norder by ${sortOrder(operation, fields, collation).join(', ')}`
      : `select *\n${from}`,
  first: (operation, step) => {
    const { count, per } = operation;
    if (per.length === 0) return `select *\n${step.from}${step.orderBy}\nlimit ${count}`;
    const over = `partition by ${per.map((f) => step.sql(f).sql).join(', ')}${step.order.length > 0 ? ` order by ${step.order.join(', ')}` : ''}`;
    const columns = step.fields.map((f) => identifier(f.name)).join(', ');
    return `select ${columns}\nfrom (select ${ROWS}.*, row_number() over (${over}) as _place ${step.from}) placed\nwhere _place <= ${count}`;
  },
  distinct: (operation, step) => {
    const { by } = operation;
    if (by.length === 0) return `select *\n${step.from}\nlimit 1`;
    const keys = by.map((key) => `${ROWS}.${identifier(key)}`).join(', ');
    const then = step.order.length > 0 ? `, ${step.order.join(', ')}` : '';
    return `select distinct on (${keys}) *\n${step.from}\norder by ${keys}${then}`;
  },
  columns: ({ columns }, { from }) =>
    `select ${columns.map((c) => `${ROWS}.${identifier(c.field)} as ${identifier(c.name)}`).join(', ')}\n${from}`,
  along: (operation, step) =>
    `select ${ROWS}.*, ${alongSql(operation, step)} as ${identifier(operation.name)}\n${step.from}`,
  convert: convertedSql,
  gather: gatheredSql,
  fill: filledSql,
  split: splitSql,
  stack: (operation, step) => {
    const there = step.joined(operation.source);
    const columns = operation.columns.map((column, i) =>
      column === null ? blank(step.fields[i]!.type) : `t.${there.column(column)}`,
    );
    return `select ${step.fields.map((f) => `${ROWS}.${identifier(f.name)}`).join(', ')}\n${step.from}\nunion all\nselect ${columns.join(', ')}\nfrom ${there.from} t`;
  },
};

/** Records are by kind: an operation is of the kind that it is looked up by. */
export const stepSql = (operation: Operation, step: StepWriting): string =>
  (STEPS[operation.kind] as (operation: Operation, step: StepWriting) => string)(operation, step);

export const orderAfter = (
  operation: Operation,
  before: string[],
  fields: readonly Field[],
  collation: string | null,
): string[] => {
  const order = ORDERS[operation.kind] as
    | ((
        operation: Operation,
        fields: readonly Field[],
        collation: string | null,
        before: readonly string[],
      ) => string[])
    | undefined;
  return order ? order(operation, fields, collation, before) : before;
};

/** What is worked out along the rows, each group of rows by itself. */
const alongSql = ({ what, of, per }: OperationOf<'along'>, step: StepWriting): string => {
  const value = of ? step.sql(of).sql : '';
  const groups = per.map((field) => step.sql(field).sql);
  const over = (order: string, frame = ''): string => {
    const parts = [groups.length > 0 ? `partition by ${groups.join(', ')}` : '', order, frame].filter(Boolean);
    return `over (${parts.join(' ')})`;
  };
  const inOrder = step.order.length > 0 ? `order by ${step.order.join(', ')}` : '';
  switch (what) {
    case 'running':
      return `sum(${value}::numeric) ${over(inOrder, 'rows unbounded preceding')}`;
    case 'before':
      return `lag(${value}) ${over(inOrder)}`;
    case 'rank':
      return `case when ${value} is not null then rank() ${over(`order by ${value} desc nulls last`)} end`;
    case 'share':
      return `${value}::numeric / nullif(sum(${value}::numeric) ${over('')}, 0)`;
    case 'number':
      return `row_number() ${over(inOrder)}`;
    default:
      return what satisfies never;
  }
};

/** Whether a total of rows can be taken where they are. */
export const isTakenThere = ({ name }: RowsTotal): boolean => (STEP_TOTALS as readonly string[]).includes(name);

/** Rows with the number of their group, blanks alike, and the totals of each group. */
const withTotals = ({ totals, per }: OperationOf<'add'>, step: StepWriting): string => {
  const groups = per.map((field) => step.sql(field).sql);
  const number = groups.length > 0 ? `dense_rank() over (order by ${groups.join(', ')})` : '1';
  const taken = totals.map(
    ({ name, of }, slot) => `${totalSql(name as StepTotal, step.sql(of).sql, step.order)} as total_${slot}`,
  );
  return `with numbered as (
  select ${ROWS}.*, ${number} as group_number ${step.from}
), totals as (
  select group_number, ${taken.join(', ')} from numbered ${ROWS} group by group_number
)`;
};

/** A total of a step; an empty SUM is 0, every other empty total blank. */
const totalSql = (total: StepTotal, of: string | null, order: readonly string[], when?: string): string => {
  const filter = (condition: string): string => (condition ? ` filter (where ${condition})` : '');
  const number = `${of}::numeric`;
  switch (total) {
    case 'COUNT':
      return `count(${of ?? '*'})${filter(when ?? '')}`;
    case 'COUNTDISTINCT':
      return `count(distinct ${of ?? '*'})${filter(when ?? '')}`;
    case 'SUM':
      return when ? `sum(${number})${filter(when)}` : `coalesce(sum(${number}), 0)`;
    case 'AVERAGE':
      return `avg(${number})${filter(when ?? '')}`;
    // Of an even number of values the mean of the two in the middle, exactly.
    case 'MEDIAN': {
      const half = (by: string): string => `(percentile_disc(0.5) within group (order by ${by})${filter(when ?? '')})`;
      return `(${half(number)} - ${half(`-(${number})`)}) / 2`;
    }
    case 'STDEV':
      return `stddev_samp(${number})${filter(when ?? '')}`;
    case 'MIN':
    case 'MAX':
      return `${total.toLowerCase()}(${of})${filter(when ?? '')}`;
    case 'FIRST':
    case 'LAST': {
      const by = order.length > 0 ? order : ['1'];
      const turned = total === 'LAST' ? by.map(reversed) : by;
      const conditions = [`${of} is not null`, ...(when ? [when] : [])].join(' and ');
      return `(array_agg(${of} order by ${turned.join(', ')})${filter(conditions)})[1]`;
    }
    default:
      return total satisfies never;
  }
};

const reversed = (term: string): string => {
  const plain = term.replace(/ nulls last$/, '');
  return plain.endsWith(' desc') ? `${plain.slice(0, -' desc'.length)} nulls first` : `${plain} desc nulls first`;
};

const quoteExact = (name: string): string => `"${name.replace(/"/g, '""')}"`;
