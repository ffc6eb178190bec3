import type { Source, StepTotal } from '../definition/recipe.ts';
import { freeName } from '../edit/ids.ts';
import type { Field } from '../model/model.ts';
import type { StepPeriod } from '../recipe/periods.ts';
import { type Reached, reachedField } from './reach.ts';
import { SKETCH_VERSION, type Sketch, type SketchColumn, type SketchCondition, type SketchGroup } from './schema.ts';

/** Columns that a sketch begins with. */
const FIRST_COLUMNS = 6;

/** A name that nothing in a sketch has yet. */
const freeIn = ({ columns, groups }: Sketch, wanted: string): string =>
  freeName(wanted, new Set([...columns, ...groups].map(({ name }) => name)));

/** The table, and the field unless it is what rows there are called by: `hut` for `hut.name`. */
const nameOf = (path: string): string => {
  const parts = path.split('.');
  return (parts.length > 1 && parts.at(-1) === 'name' ? parts.slice(0, -1) : parts).slice(-2).join('_');
};

/** What a field's values add up to, if nothing else is said. */
export const usualTotal = ({ type }: Pick<Field, 'type'>): StepTotal => (type === 'number' ? 'SUM' : 'COUNTDISTINCT');

/** A sketch that lists the rows of a source, with the first of what can be seen of them. */
export const newSketch = (
  name: string,
  from: Source,
  reach: readonly Reached[],
  { language, timeZone }: Pick<Sketch, 'language' | 'timeZone'>,
): Sketch => {
  const empty: Sketch = {
    sketch: SKETCH_VERSION,
    name,
    language,
    timeZone,
    from,
    rows: true,
    columns: [],
    groups: [],
    only: [],
    order: [],
  };
  const own = reach[0]?.fields.filter((f) => !f.hidden && f.type !== 'picture').slice(0, FIRST_COLUMNS) ?? [];
  return own.reduce((sketch, field) => withColumn(sketch, field.name, reach), empty);
};

/** The sketch with one more column: a field, or what many rows behind each row add up to. As it is where the field is not in reach. */
export const withColumn = (sketch: Sketch, path: string, reach: readonly Reached[], at?: number): Sketch => {
  const found = reachedField(reach, path);
  if (!found || found.field.type === 'picture') return sketch;
  const { field } = found;
  const total = usualTotal(field);
  const column: SketchColumn = {
    name: freeIn(sketch, nameOf(path)),
    field: path,
    ...(found.at.isMany ? { inner: total } : {}),
    // Of a list only numbers are added up by themselves.
    ...(field.type === 'number' || !sketch.rows ? { total: found.at.isMany && total !== 'SUM' ? 'SUM' : total } : {}),
  };
  return { ...sketch, columns: sketch.columns.toSpliced(at ?? sketch.columns.length, 0, column) };
};

/** The sketch without a column, and without what is said of it. */
export const withoutColumn = (sketch: Sketch, name: string): Sketch => ({
  ...sketch,
  columns: sketch.columns.filter((c) => c.name !== name),
  order: sketch.order.filter(({ by }) => by !== name),
});

/** A column with other settings; what is undefined is taken away. */
export const changedColumn = (sketch: Sketch, name: string, change: Partial<SketchColumn>): Sketch => ({
  ...sketch,
  columns: sketch.columns.map((column) => {
    if (column.name !== name) return column;
    const all = Object.entries({ ...column, ...change }).filter(([, value]) => value !== undefined);
    return Object.fromEntries(all) as SketchColumn;
  }),
});

export const movedColumn = (sketch: Sketch, name: string, to: number): Sketch => {
  const column = sketch.columns.find((c) => c.name === name);
  if (!column) return sketch;
  return { ...sketch, columns: sketch.columns.filter((c) => c !== column).toSpliced(to, 0, column) };
};

/**
 * The sketch with one more group. Rows give way to groups when the first one comes: what adds up stays, and rows are counted where nothing
 * does; `rows` is what that column is called.
 */
export const withGroup = (sketch: Sketch, path: string, reach: readonly Reached[], rows: string): Sketch => {
  const found = reachedField(reach, path);
  if (!found || found.at.isMany || found.field.type === 'picture') return sketch;
  const isDate = found.field.type === 'date' || found.field.type === 'datetime';
  const summed = sketch.rows && sketch.groups.length === 0 ? summary(sketch, rows) : sketch;
  const group: SketchGroup = {
    name: freeIn(summed, nameOf(path)),
    field: path,
    ...(isDate ? { per: freePeriod(sketch, path) } : {}),
  };
  return { ...summed, groups: [...summed.groups, group] };
};

const summary = (sketch: Sketch, rows: string): Sketch => {
  const columns = sketch.columns.filter(({ total, ofLine }) => total !== undefined || ofLine !== undefined);
  const kept = new Set(columns.map(({ name }) => name));
  const made = { ...sketch, rows: false, columns, order: sketch.order.filter(({ by }) => kept.has(by)) };
  const count: SketchColumn = { name: freeIn(made, 'rows'), label: rows, total: 'COUNT' };
  return columns.length > 0 ? made : { ...made, columns: [count] };
};

const PERIODS: readonly StepPeriod[] = ['year', 'month', 'day', 'hour'];

/** Months at first; inside groups of the same date, the next shorter stretch. */
const freePeriod = ({ groups }: Sketch, path: string): StepPeriod => {
  const used = groups.filter(({ field }) => field === path).map(({ per }) => PERIODS.indexOf(per ?? 'day'));
  return used.length === 0 ? 'month' : PERIODS[Math.min(PERIODS.length - 1, Math.max(...used) + 1)]!;
};

/** The sketch without a group, and without what is said of it. */
export const withoutGroup = (sketch: Sketch, name: string): Sketch => {
  const { first, ...rest } = sketch;
  return {
    ...rest,
    groups: sketch.groups.filter((g) => g.name !== name),
    order: sketch.order.filter(({ by }) => by !== name),
    ...(first && first.of !== name ? { first } : {}),
  };
};

/** Sorted by a column or group alone: numbers the largest first, then the other way, then not at all. */
export const sortedBy = (sketch: Sketch, name: string, isNumber: boolean): Sketch => {
  const [now] = sketch.order;
  const descending = now?.by !== name ? isNumber : !now.descending;
  if (now?.by === name && descending === isNumber) return { ...sketch, order: [] };
  return { ...sketch, order: [{ by: name, ...(descending ? { descending } : {}) }] };
};

/** The sketch with a condition at a place; null takes the one there away. */
export const withCondition = (sketch: Sketch, at: number, condition: SketchCondition | null): Sketch => ({
  ...sketch,
  only: sketch.only.toSpliced(at, 1, ...(condition ? [condition] : [])),
});
