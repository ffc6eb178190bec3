import type { Condition, Step, StepOf, StepTotal } from '../definition/recipe.ts';
import { writtenName } from '../formula/tokens.ts';
import type { Field } from '../model/model.ts';
import { renamed } from './names.ts';
import { isAcrossDescending, type Sketch, type SketchColumn, type SketchGroup } from './schema.ts';

type Column = Pick<Field, 'name' | 'label'>;

/** Columns of a sketch's rows, as the steps that give them name them: by its groups, and by its columns with a value in each row. */
export interface RowColumns {
  groups: ReadonlyMap<string, Column>;
  columns: ReadonlyMap<string, Column>;
}

/** How many lines lie inside a group: groups of the next level, or rows. */
export const INSIDE = 'lines_inside';
/** 1 where one of them has no value to be told apart by: it is not among those counted. */
export const INSIDE_BLANK = 'lines_inside_blank';

/** What a column shows on the lines of groups, or at the end, which has no totals of its own with a field across; null for nothing. */
export const totalOf = (
  { total, end = total }: Pick<SketchColumn, 'total' | 'end'>,
  isEnd: boolean,
): StepTotal | null => {
  const wanted = isEnd ? end : total;
  return wanted === undefined || wanted === 'nothing' ? null : wanted;
};

/** How counts are shown, and other totals of numbers that have no format of their own. */
const COUNT_FORMAT = '#,##0';
const TOTAL_FORMAT = '#,##0.##';
const OF_NUMBERS: readonly StepTotal[] = ['SUM', 'AVERAGE', 'MEDIAN', 'STDEV'];

/** Number format of a column where it shows a total of its field, or its own values where that is null; undefined for the usual one. */
export const shownFormat = (
  { format, ofLine }: SketchColumn,
  total: StepTotal | null,
  field: Pick<Field, 'format' | 'type'> | undefined,
): string | undefined => {
  if (format !== undefined) return format;
  if (total === 'COUNT' || total === 'COUNTDISTINCT') return COUNT_FORMAT;
  // Mostly a share of one column in another.
  const isNumber = ofLine !== undefined && (field === undefined || field.type === 'number');
  return field?.format ?? (isNumber || (total !== null && OF_NUMBERS.includes(total)) ? TOTAL_FORMAT : undefined);
};

/**
 * What makes the lines of groups out of a sketch's rows, in their order: `depth` groups deep, from 1; the end of all rows is 0. Behind the
 * groups and totals stands what is worked out of them on each line, and how many lines lie inside it: rows always, groups where
 * `countsInside`.
 */
export const levelSteps = (
  sketch: Sketch,
  { groups: keys, columns: values }: RowColumns,
  depth: number,
  countsInside = true,
): Step[] => {
  const { groups, columns, across } = sketch;
  const by = keysOf(groups.slice(0, depth), keys);
  const totals = totalsOf(columns, values, depth === 0 && !across);
  const next = groups[depth];
  const nextKey = countsInside && next ? keys.get(next.name)?.name : undefined;
  const isInnermost = !next;
  // To count different values of a million rows takes as long as all other totals together.
  const inside: StepOf<'summarise'>['totals'] =
    nextKey === undefined && !isInnermost
      ? []
      : nextKey === undefined
        ? [{ total: 'COUNT', name: INSIDE }]
        : [
            { total: 'COUNTDISTINCT', of: nextKey, name: INSIDE },
            { total: 'MAX', of: INSIDE_BLANK, name: INSIDE_BLANK },
          ];
  const shown = new Set([...by, ...totals].map(({ name }) => name!));
  const lines = lineSteps(columns);
  return [
    // Distinct values leave blanks out, which are a group as well.
    ...(nextKey === undefined
      ? []
      : [{ step: 'add' as const, name: INSIDE_BLANK, formula: `IF(ISBLANK(${writtenName(nextKey)}); 1; 0)` }]),
    { step: 'summarise', by, totals: [...totals, ...inside] },
    ...lines,
    ...sorted(sketch, depth, new Set([...shown, ...lines.map(({ name }) => name)])),
  ];
};

/**
 * What makes the totals of each value across, on the lines of groups so deep; 0 for the end. One line for each of them, by the values of the
 * groups and its own.
 */
export const acrossSteps = (sketch: Sketch, { groups: keys, columns: values }: RowColumns, depth: number): Step[] => {
  const { groups, columns, across } = sketch;
  if (!across) return [];
  return [
    {
      step: 'summarise',
      by: keysOf([...groups.slice(0, depth), across], keys),
      totals: totalsOf(columns, values, false),
    },
    ...lineSteps(columns),
    { step: 'sort', by: [{ field: across.name, ...(isAcrossDescending(sketch) ? { descending: true } : {}) }] },
  ];
};

const keysOf = (groups: readonly SketchGroup[], keys: RowColumns['groups']): StepOf<'summarise'>['by'] =>
  groups.flatMap(({ name, label }) => {
    const key = keys.get(name);
    return key === undefined ? [] : [{ field: key.name, name, label: label ?? key.label }];
  });

const totalsOf = (
  columns: readonly SketchColumn[],
  values: RowColumns['columns'],
  isEnd: boolean,
): StepOf<'summarise'>['totals'] =>
  columns.flatMap((column) => {
    const total = totalOf(column, isEnd);
    const of = values.get(column.name);
    if (total === null || (of === undefined && !(total === 'COUNT' && column.field === undefined))) return [];
    const label = column.label ?? of?.label;
    return [{ total, ...(of && { of: of.name }), name: column.name, ...(label === undefined ? {} : { label }) }];
  });

/** What is worked out on each line of its other columns. */
const lineSteps = (columns: readonly SketchColumn[]): StepOf<'add'>[] =>
  columns.flatMap(({ name, label, ofLine, format }) =>
    ofLine === undefined
      ? []
      : [
          {
            step: 'add' as const,
            name,
            ...(label === undefined ? {} : { label }),
            formula: ofLine,
            ...(format ? { format } : {}),
          },
        ],
  );

/** Lines of groups in their order: by what the sketch says of them, then by what they are. */
const sorted = ({ groups, order }: Sketch, depth: number, shown: ReadonlySet<string>): Step[] => {
  if (depth === 0) return [];
  const own = groups[depth - 1]!.name;
  const around = new Set(groups.slice(0, depth - 1).map(({ name }) => name));
  const by = order.filter((entry) => shown.has(entry.by) && !around.has(entry.by));
  const wanted = by.map(({ by: field, descending }) => ({ field, ...(descending ? { descending } : {}) }));
  return [{ step: 'sort', by: [...wanted, ...(by.some((entry) => entry.by === own) ? [] : [{ field: own }])] }];
};

/** Value of a group as it travels; null for a blank. */
export type GroupValue = string | number | boolean | null;

/** Only the rows of one group of each level, from the outermost on. */
export const inGroups = ({ groups }: Sketch, keys: RowColumns['groups'], at: readonly GroupValue[]): Step[] => {
  const all = at.flatMap((value, i): Condition[] => {
    const group = groups[i];
    const key = group && keys.get(group.name);
    if (!key) return [];
    return [
      value === null
        ? { formula: `ISBLANK(${writtenName(key.name)})` }
        : { field: key.name, is: 'equal', to: { value } },
    ];
  });
  return all.length === 0 ? [] : [{ step: 'keep', where: all.length === 1 ? all[0]! : { all } }];
};

/** A formula of a line as that of a row, where each name is a column's own value. */
export const rowFormula = (ofLine: string, columns: RowColumns['columns']): string =>
  renamed(ofLine, (path) => {
    const column = columns.get(path);
    return column ? writtenName(column.name) : null;
  });

/** What shows the rows of a sketch themselves in its order, and the name that each of its columns has there. */
export const rowSteps = (
  { columns, order }: Sketch,
  { columns: values }: Pick<RowColumns, 'columns'>,
): { steps: Step[]; shown: ReadonlyMap<string, string> } => {
  const shown = new Map<string, string>();
  const steps: Step[] = [];
  for (const { name, label = name, ofLine, format } of columns) {
    const value = values.get(name);
    if (value) shown.set(name, value.name);
    else if (ofLine !== undefined) {
      const made = `line_${name}`;
      const formula = rowFormula(ofLine, values);
      steps.push({ step: 'add', name: made, label, formula, ...(format ? { format } : {}) });
      shown.set(name, made);
    }
  }
  const by = order.flatMap(({ by: column, descending }) => {
    const field = shown.get(column);
    return field === undefined ? [] : [{ field, ...(descending ? { descending } : {}) }];
  });
  return { steps: [...steps, ...(by.length > 0 ? [{ step: 'sort' as const, by }] : [])], shown };
};
