import type { Step, StepOf, StepTotal } from '../definition/recipe.ts';
import { writtenName } from '../formula/tokens.ts';
import type { Sketch, SketchColumn } from './schema.ts';

/** Columns of a sketch's rows, as the steps that give them name them: by its groups, and by its columns with a value in each row. */
export interface RowColumns {
  groups: ReadonlyMap<string, string>;
  values: ReadonlyMap<string, string>;
}

/** How many lines lie inside a group: groups of the next level, or rows. */
export const INSIDE = 'lines_inside';
const INSIDE_BLANK = 'lines_inside_blank';

/** What a column shows on the lines of groups, or at the end; null for nothing. */
export const totalOf = ({ total, end = total }: SketchColumn, isEnd: boolean): StepTotal | null => {
  const wanted = isEnd ? end : total;
  return wanted === undefined || wanted === 'nothing' ? null : wanted;
};

/**
 * What makes the lines of groups out of a sketch's rows, in their order: `depth` groups deep, from 1; the end of all rows is 0. Behind the
 * groups and totals stands what is worked out of them on each line, and how many lines lie inside it.
 */
export const levelSteps = (sketch: Sketch, { groups: keys, values }: RowColumns, depth: number): Step[] => {
  const { groups, columns } = sketch;
  const by = groups.slice(0, depth).flatMap(({ name }): StepOf<'summarise'>['by'] => {
    const field = keys.get(name);
    return field === undefined ? [] : [{ field, name }];
  });
  const totals = columns.flatMap((column): StepOf<'summarise'>['totals'] => {
    const total = totalOf(column, depth === 0);
    const of = values.get(column.name);
    if (total === null || (of === undefined && !(total === 'COUNT' && column.field === undefined))) return [];
    return [{ total, ...(of === undefined ? {} : { of }), name: column.name }];
  });
  const next = groups[depth];
  const nextKey = next && keys.get(next.name);
  const inside: StepOf<'summarise'>['totals'] =
    nextKey === undefined
      ? [{ total: 'COUNT', name: INSIDE }]
      : [
          { total: 'COUNTDISTINCT', of: nextKey, name: INSIDE },
          { total: 'MAX', of: INSIDE_BLANK, name: INSIDE_BLANK },
        ];
  const shown = new Set([...by, ...totals].map(({ name }) => name!));
  const lines = columns.filter(({ ofLine }) => ofLine !== undefined);
  return [
    // Distinct values leave blanks out, which are a group as well.
    ...(nextKey === undefined
      ? []
      : [{ step: 'add' as const, name: INSIDE_BLANK, formula: `IF(ISBLANK(${writtenName(nextKey)}); 1; 0)` }]),
    { step: 'summarise', by, totals: [...totals, ...inside] },
    ...lines.map(
      ({ name, label, ofLine, format }): StepOf<'add'> => ({
        step: 'add',
        name,
        ...(label === undefined ? {} : { label }),
        formula: ofLine!,
        ...(format ? { format } : {}),
      }),
    ),
    ...sorted(sketch, depth, new Set([...shown, ...lines.map(({ name }) => name)])),
  ];
};

/** Lines of groups in their order: by what the sketch says of them, then by what they are. */
const sorted = ({ groups, order }: Sketch, depth: number, shown: ReadonlySet<string>): Step[] => {
  if (depth === 0) return [];
  const own = groups[depth - 1]!.name;
  const around = new Set(groups.slice(0, depth - 1).map(({ name }) => name));
  const by = order.filter((entry) => shown.has(entry.by) && !around.has(entry.by));
  const wanted = by.map(({ by: field, descending }) => ({ field, ...(descending ? { descending } : {}) }));
  return [{ step: 'sort', by: [...wanted, ...(by.some((entry) => entry.by === own) ? [] : [{ field: own }])] }];
};
