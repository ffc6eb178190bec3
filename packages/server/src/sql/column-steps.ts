import type { Conversion } from '@gaveta/core/internal';
import { SQL_TYPES } from './expression.ts';
import { identifier, indent } from './identifiers.ts';
import { type OperationOf, ROWS, type StepWriting } from './step-writing.ts';

/** A value of one type as one of another; nothing where that needs more than the database knows, as reading a text does. */
const conversionSql = (value: string, { from, to }: Conversion, zone: () => string): string => {
  const type = SQL_TYPES[to];
  const clock = (): string => `${value} at time zone ${zone()}`;
  switch (`${from} ${to}`) {
    case 'number text':
      return `trim_scale(${value}::numeric)::text`;
    case 'date text':
      return `to_char(${value}, 'YYYY-MM-DD')`;
    case 'datetime text':
      return `to_char(${clock()}, 'YYYY-MM-DD HH24:MI:SS')`;
    case 'boolean text':
      return `case ${value} when true then 'TRUE' when false then 'FALSE' end`;
    case 'datetime date':
      return `(${clock()})::date`;
    case 'date datetime':
      return `(${value}::timestamp at time zone ${zone()})`;
    case 'boolean number':
      return `case ${value} when true then 1 when false then 0 end::numeric`;
    case 'number boolean':
      return `(${value} <> 0)`;
    default:
      return `null::${type}`;
  }
};

/** Columns of another type. */
export const convertedSql = ({ columns }: OperationOf<'convert'>, step: StepWriting): string => {
  const all = step.fields.map(({ name }, i) => {
    const [column, conversion] = [`${ROWS}.${identifier(name)}`, columns[i]];
    return conversion ? `${conversionSql(column, conversion, step.zone)} as ${identifier(name)}` : column;
  });
  return `select ${all.join(', ')}\n${step.from}`;
};

/** One row for each of some columns. */
export const gatheredSql = (operation: OperationOf<'gather'>, step: StepWriting): string => {
  const { kept, columns, names, values, blanks } = operation;
  const each = columns.map(({ label, of }) => {
    const type = of.type === 'picture' ? '' : `::${SQL_TYPES[of.type]}`;
    return `(${step.bind(label)}, ${step.sql(of).sql}${type})`;
  });
  const all = [
    ...kept.map((name) => `${ROWS}.${identifier(name)}`),
    `g.named as ${identifier(names)}`,
    `g.valued as ${identifier(values)}`,
  ];
  const where = blanks ? '' : '\nwhere g.valued is not null';
  return `select ${all.join(', ')}\n${step.from} cross join lateral (values ${each.join(', ')}) g(named, valued)${where}`;
};

/** Something in the place of blanks. */
export const filledSql = (operation: OperationOf<'fill'>, step: StepWriting): string => {
  const { fields, by, value, per } = operation;
  const column = (name: string): string => `${ROWS}.${identifier(name)}`;
  const all = (filled: (name: string, at: number) => string): string =>
    step.fields
      .map(({ name }) => {
        const at = fields.indexOf(name);
        return at < 0 ? column(name) : `${filled(name, at)} as ${identifier(name)}`;
      })
      .join(', ');
  if (value) return `select ${all((name) => `coalesce(${column(name)}, ${step.sql(value).sql})`)}\n${step.from}`;
  const groups = per.map((field) => step.sql(field).sql);
  const down = by === 'below' ? ' desc' : '';
  const within = (more: readonly string[]): string => {
    const parts = [...groups, ...more];
    return parts.length > 0 ? `partition by ${parts.join(', ')} ` : '';
  };
  const numbered = `select ${ROWS}.*, row_number() over (order by ${step.order.join(', ')}) as place ${step.from}`;
  // From one value to the next the count of values stays the same: such a stretch has one value, its first.
  const counts = fields.map(
    (name, at) => `count(${column(name)}) over (${within([])}order by ${ROWS}.place${down}) as stretch_${at}`,
  );
  const stretched = `select ${ROWS}.*, ${counts.join(', ')} from (\n${indent(numbered)}\n) ${ROWS}`;
  const filled = all(
    (name, at) =>
      `(array_agg(${column(name)}) filter (where ${column(name)} is not null) over (${within([`${ROWS}.stretch_${at}`])}))[1]`,
  );
  return `select ${filled}\nfrom (\n${indent(stretched)}\n) ${ROWS}`;
};

/** Parts of a text; the last one takes what is left. */
export const splitSql = ({ of, at, into }: OperationOf<'split'>, step: StepWriting): string => {
  const text = step.sql(of).sql;
  const parts = into.map((name, i) => {
    const sign = step.bind(at);
    const part =
      i < into.length - 1
        ? `split_part(${text}, ${sign}, ${i + 1})`
        : `array_to_string((string_to_array(${text}, ${sign}))[${i + 1}:], ${sign})`;
    return `nullif(btrim(${part}), '') as ${identifier(name)}`;
  });
  return `select ${ROWS}.*, ${parts.join(', ')}\n${step.from}`;
};
