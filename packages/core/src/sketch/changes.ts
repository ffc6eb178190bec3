import type { Source, StepTotal } from '../definition/recipe.ts';
import { freeName } from '../edit/ids.ts';
import type { Field } from '../model/model.ts';
import type { StepPeriod } from '../recipe/periods.ts';
import { type Reached, reachedField } from './reach.ts';
import {
  groupsOf,
  MOST_GROUPS,
  SKETCH_VERSION,
  type Sketch,
  type SketchAcross,
  type SketchChart,
  type SketchColumn,
  type SketchCondition,
  type SketchGroup,
} from './schema.ts';

/** Columns that a sketch begins with. */
const FIRST_COLUMNS = 6;

/** A name that nothing in a sketch has yet. */
const freeIn = (sketch: Sketch, wanted: string): string =>
  freeName(wanted, new Set([...sketch.columns, ...groupsOf(sketch)].map(({ name }) => name)));

/** The table, and the field unless it is what rows there are called by: `hut` for `hut.name`. */
const nameOf = (path: string): string => {
  const parts = path.split('.');
  return (parts.length > 1 && parts.at(-1) === 'name' ? parts.slice(0, -1) : parts).slice(-2).join('_');
};

/** What rows along a way are called stands for their names: “Hut”, not “Hut: Name”. Null where a field keeps its own label. */
const labelAlong = ({ at, field }: { at: Reached; field: Pick<Field, 'name'> }): string | null =>
  at.way.length > 0 && !at.isMany && field.name === 'name' ? at.label : null;

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
  const [rows] = reach;
  const own =
    rows?.fields.filter((f) => !f.hidden && f.type !== 'picture' && f.name !== rows.key).slice(0, FIRST_COLUMNS) ?? [];
  return own.reduce((sketch, field) => withColumn(sketch, field.name, reach), empty);
};

/** The sketch with one more column: a field, or what many rows behind each row add up to. As it is where the field is not in reach. */
export const withColumn = (sketch: Sketch, path: string, reach: readonly Reached[], at?: number): Sketch => {
  const found = reachedField(reach, path);
  if (!found || found.field.type === 'picture') return sketch;
  const { field } = found;
  const isKey = field.name === found.at.key;
  const total = isKey ? 'COUNTDISTINCT' : usualTotal(field);
  const label = labelAlong(found);
  const column: SketchColumn = {
    name: freeIn(sketch, nameOf(path)),
    ...(label === null ? {} : { label }),
    field: path,
    ...(found.at.isMany ? { inner: total } : {}),
    // Of a list only numbers are added up by themselves.
    ...((field.type === 'number' && !isKey) || !sketch.rows
      ? { total: found.at.isMany && total !== 'SUM' ? 'SUM' : total }
      : {}),
  };
  return { ...sketch, columns: sketch.columns.toSpliced(at ?? sketch.columns.length, 0, column) };
};

/** The sketch without a column, and without what is said of it. */
export const withoutColumn = (sketch: Sketch, name: string): Sketch => ({
  ...sketch,
  columns: sketch.columns.filter((c) => c.name !== name),
  order: sketch.order.filter(({ by }) => by !== name),
  only: sketch.only.filter((condition) => !('column' in condition && condition.column === name)),
});

/** Settings with others in their place; what is undefined is taken away. */
const changed = <T extends object>(settings: T, change: Partial<T>): T =>
  Object.fromEntries(Object.entries({ ...settings, ...change }).filter(([, value]) => value !== undefined)) as T;

/** The list with the part of a name at another place; as it is where there is none. */
const moved = <T extends { name: string }>(list: T[], name: string, to: number): T[] => {
  const part = list.find((one) => one.name === name);
  return part ? list.filter((one) => one !== part).toSpliced(to, 0, part) : list;
};

/** A sketch with other settings; what is undefined is taken away. */
export const changedSketch = (sketch: Sketch, change: Partial<Sketch>): Sketch => changed(sketch, change);

/** A column with other settings; what is undefined is taken away. */
export const changedColumn = (sketch: Sketch, name: string, change: Partial<SketchColumn>): Sketch => ({
  ...sketch,
  columns: sketch.columns.map((column) => (column.name === name ? changed(column, change) : column)),
});

export const movedColumn = (sketch: Sketch, name: string, to: number): Sketch => ({
  ...sketch,
  columns: moved(sketch.columns, name, to),
});

/**
 * The sketch with one more group. Rows give way to groups when the first one comes: what adds up stays, and rows are counted where nothing
 * does; `rows` is what that column is called.
 */
export const withGroup = (sketch: Sketch, path: string, reach: readonly Reached[], rows: string): Sketch => {
  if (sketch.groups.length >= MOST_GROUPS) return sketch;
  const summed = sketch.rows && sketch.groups.length === 0 ? summary(sketch, rows) : sketch;
  const group = newGroup(summed, path, reach);
  return group ? { ...summed, groups: [...summed.groups, group] } : sketch;
};

/** A field to group by, dates by a period; null where it cannot be. */
const newGroup = (sketch: Sketch, path: string, reach: readonly Reached[]): SketchGroup | null => {
  const found = reachedField(reach, path);
  if (!found || found.at.isMany || found.field.type === 'picture') return null;
  const isDate = found.field.type === 'date' || found.field.type === 'datetime';
  const label = labelAlong(found);
  return {
    name: freeIn(sketch, nameOf(path)),
    ...(label === null ? {} : { label }),
    field: path,
    ...(isDate ? { per: freePeriod(sketch, path) } : {}),
  };
};

/** The sketch with a field across, in the place of the one before. Rows give way to totals, as they do to groups. */
export const withAcross = (sketch: Sketch, path: string, reach: readonly Reached[], rows: string): Sketch => {
  const rest = withoutAcross(sketch);
  const summed = sketch.rows ? summary(rest, rows) : rest;
  const across = newGroup(summed, path, reach);
  return across ? { ...summed, across } : sketch;
};

/** The sketch without what goes across, and without what is said of it. */
export const withoutAcross = (sketch: Sketch): Sketch => {
  const { across, ...rest } = sketch;
  return { ...rest, order: sketch.order.filter(({ by }) => by !== across?.name) };
};

/** A group goes across, and what did is a group in its place. */
export const acrossFromGroup = (sketch: Sketch, name: string, rows: string): Sketch => {
  const group = sketch.groups.find((one) => one.name === name);
  if (!group) return sketch;
  const { first, across, ...rest } = withoutGroup(sketch.rows ? summary(sketch, rows) : sketch, name);
  const { withoutTotal: _, ...back } = across ?? {};
  const at = sketch.groups.indexOf(group);
  return {
    ...rest,
    groups: across ? rest.groups.toSpliced(at, 0, back as SketchGroup) : rest.groups,
    across: group,
    ...(first ? { first } : {}),
  };
};

/** What goes across is the innermost group instead; as it is where there are as many as there may be. */
export const groupFromAcross = (sketch: Sketch): Sketch => {
  const { across, ...rest } = sketch;
  if (!across || sketch.groups.length >= MOST_GROUPS) return sketch;
  const { withoutTotal: _, ...group } = across;
  return { ...rest, groups: [...rest.groups, group] };
};

/** Each row, with nothing across; or the totals alone. */
export const withRows = (sketch: Sketch, rows: boolean): Sketch => ({
  ...(rows ? withoutAcross(sketch) : sketch),
  rows,
});

/** What goes across with other settings; what is undefined is taken away. */
export const changedAcross = (sketch: Sketch, change: Partial<SketchAcross>): Sketch =>
  sketch.across ? { ...sketch, across: changed(sketch.across, change) } : sketch;

const summary = (sketch: Sketch, rows: string): Sketch => {
  const columns = sketch.columns.filter(({ total, ofLine }) => total !== undefined || ofLine !== undefined);
  const kept = new Set(columns.map(({ name }) => name));
  const made = {
    ...sketch,
    ...{ rows: false, columns, order: sketch.order.filter(({ by }) => kept.has(by)) },
    only: sketch.only.filter((condition) => !('column' in condition) || kept.has(condition.column)),
  };
  const count: SketchColumn = { name: freeIn(made, 'rows'), label: rows, total: 'COUNT' };
  return columns.length > 0 ? made : { ...made, columns: [count] };
};

const PERIODS: readonly StepPeriod[] = ['year', 'month', 'day', 'hour'];

/** Months at first; inside groups of the same date, the next shorter stretch. */
const freePeriod = (sketch: Sketch, path: string): StepPeriod => {
  const used = groupsOf(sketch)
    .filter(({ field }) => field === path)
    .map(({ per }) => PERIODS.indexOf(per ?? 'day'));
  return used.length === 0 ? 'month' : PERIODS[Math.min(PERIODS.length - 1, Math.max(...used) + 1)]!;
};

/** The sketch without a group, and without what is said of it. */
export const withoutGroup = (sketch: Sketch, name: string): Sketch => {
  const { first, ...rest } = sketch;
  return {
    ...rest,
    groups: sketch.groups.filter((g) => g.name !== name),
    order: sketch.order.filter(({ by }) => by !== name),
    only: sketch.only.filter((condition) => !('column' in condition && condition.of === name)),
    ...(first && first.of !== name ? { first } : {}),
  };
};

/** Sorted by a column or group alone; null: no longer sorted. */
export const sortedBy = (sketch: Sketch, by: string, descending: boolean | null): Sketch => ({
  ...sketch,
  order: descending === null ? [] : [{ by, ...(descending ? { descending } : {}) }],
});

/** The sketch with a condition at a place; null takes the one there away. */
export const withCondition = (sketch: Sketch, at: number, condition: SketchCondition | null): Sketch => ({
  ...sketch,
  only: sketch.only.toSpliced(at, 1, ...(condition ? [condition] : [])),
});

/** A column that is worked out: of each row, or of each line out of the other columns. `name` is what formulas call it. */
export const withFormula = (sketch: Sketch, label: string, formula: string, isOfLine: boolean): Sketch => {
  const column: SketchColumn = {
    name: freeIn(sketch, nameFor(label)),
    label,
    ...(isOfLine ? { ofLine: formula } : { formula, total: 'SUM' }),
  };
  return { ...sketch, columns: [...sketch.columns, column] };
};

/** A name that formulas can have, after words. */
const nameFor = (words: string): string => {
  const plain = words
    .trim()
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, '_')
    .replace(/^_+|_+$/g, '');
  return /^[\p{L}_]/u.test(plain) ? plain.slice(0, 40) : `value_${plain}`.slice(0, 40);
};

/** A group with other settings; what is undefined is taken away. */
export const changedGroup = (sketch: Sketch, name: string, change: Partial<SketchGroup>): Sketch => ({
  ...sketch,
  groups: sketch.groups.map((group) => (group.name === name ? changed(group, change) : group)),
});

export const movedGroup = (sketch: Sketch, name: string, to: number): Sketch => ({
  ...sketch,
  groups: moved(sketch.groups, name, to),
});

/** The chart with other settings; what is undefined follows from the groups and columns again. */
export const changedChart = (sketch: Sketch, change: SketchChart): Sketch => ({
  ...sketch,
  chart: changed(sketch.chart ?? {}, change),
});

/** The first so many groups of a name in each group around; null: all of them. */
export const withFirst = (sketch: Sketch, of: string, count: number | null): Sketch => {
  const { first: _, ...rest } = sketch;
  return count === null ? rest : { ...rest, first: { of, count } };
};

/** Only these values of a group, or of a field; null stands for blank. All of them without any. */
export const conditionOfValues = (
  { field, per }: Pick<SketchGroup, 'field' | 'per'>,
  values: readonly (string | number | boolean | null)[],
): SketchCondition | null => {
  const said = values.filter((value) => value !== null);
  const hasBlank = said.length < values.length;
  if (values.length === 0) return null;
  const about = { field, ...(per === undefined ? {} : { per }) };
  if (said.length === 0) return { field, is: 'blank' };
  return { ...about, is: 'oneOf', to: { values: said }, ...(hasBlank ? { orBlank: true as const } : {}) };
};

/** All values of a group but one; null stands for blank. */
export const conditionWithout = (
  { field, per }: Pick<SketchGroup, 'field' | 'per'>,
  value: string | number | boolean | null,
): SketchCondition => {
  if (value === null) return { field, is: 'notBlank' };
  const about = { field, ...(per === undefined ? {} : { per }) };
  // Nothing is unequal to a blank.
  return typeof value === 'boolean'
    ? { ...about, is: 'equal', to: { value: !value }, orBlank: true }
    : { ...about, is: 'notOneOf', to: { values: [value] }, orBlank: true };
};

/** What was pressed in the chart, in the place of what was pressed about the same group before; all of it without values. */
export const keptFromChart = (
  sketch: Sketch,
  group: Pick<SketchGroup, 'field' | 'per'>,
  values: readonly (string | number | boolean | null)[],
): Sketch => {
  const others = sketch.only.filter(
    (condition) => !(condition.fromChart && 'field' in condition && condition.field === group.field),
  );
  const condition = conditionOfValues(group, values);
  return { ...sketch, only: condition ? [...others, { ...condition, fromChart: true }] : others };
};

/** What decides on the lines of a sketch, without how they look: lines of two sketches for which it is the same are the same. */
export const questionOf = ({ columns, groups, across, ...sketch }: Sketch): object => {
  const { from, rows, only, order, first, language, timeZone } = sketch;
  return {
    ...{ from, rows, order, first, language, timeZone },
    only: only.map(({ fromChart: _, ...condition }) => condition),
    columns: columns.map(({ name, field, formula, ofLine, inner, total, end }) => ({
      ...{ name, field, formula, ofLine, inner, total, end },
    })),
    groups: groups.map(({ name, field, per }) => ({ name, field, per })),
    ...(across ? { across: { name: across.name, field: across.field, per: across.per } } : {}),
  };
};

/** Paths of the fields whose values a sketch shows. */
export const shownPaths = (sketch: Sketch): Set<string> =>
  new Set([
    ...sketch.columns.flatMap(({ field, hidden }) => (field === undefined || hidden ? [] : [field])),
    ...groupsOf(sketch).map(({ field }) => field),
  ]);
