import type { Query, Step, StepOf } from '../definition/recipe.ts';
import { freeName } from '../edit/ids.ts';
import { writtenName } from '../formula/tokens.ts';
import type { Field } from '../model/model.ts';
import { type ProblemData, phrase } from '../problems/phrases.ts';
import { type Problem, problem } from '../problems/problem.ts';
import { didYouMean } from '../problems/suggest.ts';
import { PERIOD_FORMATS, periodFormula } from '../recipe/periods.ts';
import { planRecipe } from '../recipe/plan.ts';
import type { RecipeContext } from '../recipe/planned.ts';
import type { DataType } from '../value/value.ts';
import { levelSteps } from './levels.ts';
import { namesIn, renamed } from './names.ts';
import { type Reached, reachedField, reachOf } from './reach.ts';
import {
  type ColumnCondition,
  groupsOf,
  isMeasured,
  type Sketch,
  type SketchColumn,
  type SketchGroup,
} from './schema.ts';

/** Name of the query that finds the groups that are kept, where only the first of them are. */
export const KEPT = 'kept_groups';

/** A sketch's rows as steps of a recipe: what its groups are told apart by, and its values, each in a column of its own. */
export interface SketchRows {
  steps: Step[];
  /** What the steps take rows from besides. */
  queries: Query[];
  /** Name of the column in the steps by each group, and by each column with a value of its own in each row. */
  groups: ReadonlyMap<string, Field>;
  columns: ReadonlyMap<string, Field>;
  problems: Problem[];
}

/** The rows of a sketch, before anything is grouped. Never fails: what is wrong is left out, and said. */
export const sketchRows = (sketch: Sketch, context: RecipeContext): SketchRows =>
  new RowsWriter(sketch, context).write();

/** What stands for a blank of each type where rows are found again by their values. */
const IN_PLACE: Record<DataType, string> = {
  ...{ text: '""', number: '0', boolean: 'FALSE()', date: 'DATE(2000;1;1)', picture: '""' },
  datetime: 'DATETIME(DATE(2000;1;1);0;0;0)',
};

/** A value that is never blank, and whether it was: together no other value has them. Databases work both out. */
const withoutBlank = ({ name, type }: Pick<Field, 'name' | 'type'>): [string, string] => {
  const field = writtenName(name);
  return [`IF(ISBLANK(${field}); ${IN_PLACE[type]}; ${field})`, `IF(ISBLANK(${field}); 1; 0)`];
};

class RowsWriter {
  private readonly reach: Reached[];
  private readonly problems: Problem[] = [];
  private steps: Step[];
  /** Names of columns by the path of their field. */
  private readonly names = new Map<string, string>();
  private readonly queries: Query[] = [];

  constructor(
    private readonly sketch: Sketch,
    private readonly context: RecipeContext,
  ) {
    this.reach = reachOf(sketch.from, context);
    this.steps = [{ step: 'take', from: sketch.from }];
  }

  write(): SketchRows {
    const { sketch } = this;
    this.bring();
    const made = new Map<string, string>();
    for (const column of sketch.columns) {
      const name = this.column(column);
      if (name !== null) made.set(column.name, name);
    }
    const keys = new Map<string, string>();
    for (const group of groupsOf(sketch)) {
      const name = this.group(group);
      if (name !== null) keys.set(group.name, name);
    }
    this.keep(made);
    for (const condition of sketch.only)
      if ('column' in condition && condition.of !== undefined) this.keepWith(condition, condition.of, keys, made);
    this.first(keys, made);
    const { problems } = this.planned();
    const groups = this.fieldsOf(keys);
    const columns = this.fieldsOf(made);
    const { steps, queries } = this;
    return { steps, queries, groups, columns, problems: [...this.problems, ...problems] };
  }

  private planned(): ReturnType<typeof planRecipe> {
    const queries = [...this.context.queries, ...this.queries];
    return planRecipe({ name: 'sketch', steps: this.steps }, { ...this.context, queries });
  }

  /** The columns of the steps as they are now, by what they are of. */
  private fieldsOf(names: ReadonlyMap<string, string>): Map<string, Field> {
    const { fields } = this.planned();
    return new Map(
      [...names].flatMap(([of, name]) => {
        const field = fields.find((f) => f.name === name);
        return field ? [[of, field] as const] : [];
      }),
    );
  }

  private add(step: Step): void {
    this.steps = [...this.steps, step];
  }

  /** A name that no column of the steps has yet. */
  private free(wanted: string): string {
    return freeName(wanted, new Set(this.planned().fields.map((f) => f.name)));
  }

  /** `isOne`: only fields that each row has one value of. What is not found is said. */
  private found(path: string, isOne = false): { at: Reached; field: Field } | null {
    const found = reachedField(this.reach, path);
    if (found && !(isOne && found.at.isMany)) return found;
    const paths = this.reach.flatMap(({ way, fields, isMany }) =>
      (isOne && isMany ? [] : fields).filter((f) => !f.hidden).map((f) => [...way, f.name].join('.')),
    );
    const hint = didYouMean(path, paths, phrase('remove-or-choose'));
    this.gone(path, hint);
    return null;
  }

  /** Says once that a field, column or group is not there. */
  private gone(name: string, hint: ProblemData[string] = phrase('remove-or-choose')): void {
    if (!this.problems.some(({ data }) => data.name === name))
      this.problems.push(problem('recipe-field-gone', {}, { name, hint }));
  }

  /** Paths of fields along relations to one row each that the sketch names anywhere. */
  private *paths(): Iterable<string> {
    const { columns, only } = this.sketch;
    for (const { field } of columns) if (field !== undefined) yield field;
    for (const { field } of groupsOf(this.sketch)) yield field;
    for (const condition of only) {
      if ('field' in condition) yield condition.field;
      if ('field' in condition && condition.to && 'field' in condition.to) yield condition.to.field;
    }
    for (const source of this.formulas()) for (const { path } of namesIn(source)) yield path;
  }

  private *formulas(): Iterable<string> {
    const { columns, only } = this.sketch;
    for (const { formula } of columns) if (formula !== undefined) yield formula;
    for (const condition of only) if ('formula' in condition) yield condition.formula;
  }

  /** Brings the fields of other rows that are used, each way after the one that it begins with. */
  private bring(): void {
    /** Fields that are used of each way, by its names. */
    const used = new Map<string, Set<string>>();
    const use = (way: readonly string[], field: string): void => {
      const key = way.join('.');
      used.set(key, (used.get(key) ?? new Set()).add(field));
    };
    for (const path of this.paths()) {
      const found = reachedField(this.reach, path);
      if (!found || found.at.isMany) continue;
      use(found.at.way, found.field.name);
      // Keys that lead on come along, also where they may be seen.
      for (let length = found.at.way.length - 1; length > 0; length--) {
        const way = found.at.way.slice(0, length);
        const before = this.reach.find((r) => r.way.join('.') === way.join('.'));
        const onward = before?.relations.find((r) => r.name === found.at.way[length]);
        for (const { here } of onward?.on ?? []) use(way, here);
      }
    }
    for (const { way, fields } of this.reach) {
      const wanted = used.get(way.join('.'));
      if (!wanted) continue;
      if (way.length === 0) {
        for (const name of wanted) this.names.set(name, name);
        continue;
      }
      const parent = way.slice(0, -1).join('_');
      const relation = parent === '' ? way[0]! : `${parent}_${way.at(-1)}`;
      const shown = fields.filter((f) => wanted.has(f.name) && !f.hidden).map((f) => f.name);
      this.add({ step: 'bring', relation, keep: 'here', as: way.join('_'), fields: shown });
      const operation = this.planned().steps.at(-1)?.operation;
      if (operation?.kind !== 'bring') continue;
      for (const { field, name } of operation.columns) this.names.set([...way, field].join('.'), name);
    }
  }

  /** A formula with the fields of other rows by the names that they have in the steps. */
  private flat(source: string): string {
    return renamed(source, (path) => {
      const name = this.names.get(path);
      return name === undefined ? null : writtenName(name);
    });
  }

  /** The column that has a sketch column's value in each row; null for one that has none, as one that counts rows. */
  private column({
    name,
    label,
    field: path,
    formula,
    ofLine,
    inner,
    total = 'SUM',
    format,
  }: SketchColumn): string | null {
    if (ofLine !== undefined) return null;
    if (formula !== undefined) {
      const free = this.free(name);
      const text = label === undefined ? {} : { label };
      this.add({ step: 'add', name: free, ...text, formula: this.flat(formula), ...(format ? { format } : {}) });
      return free;
    }
    if (path === undefined) return null;
    const found = this.found(path);
    if (!found) return null;
    if (!found.at.isMany) return this.names.get(path) ?? null;
    const [relation] = found.at.way;
    const as = this.free(name);
    const totals = [
      {
        total: inner ?? total,
        of: found.field.name,
        name: as,
        label: label ?? `${found.at.label}: ${found.field.label}`,
      },
    ];
    this.add({ step: 'bring', relation: relation!, keep: 'here', as: relation!, totals });
    const operation = this.planned().steps.at(-1)?.operation;
    return operation?.kind === 'bring' ? (operation.columns.at(-1)?.name ?? null) : null;
  }

  /** The column that tells a group's rows from others'. */
  private group({ name, label, field: path, per }: SketchGroup): string | null {
    const found = this.found(path, true);
    const column = this.names.get(path);
    if (!found || column === undefined) return null;
    if (per === undefined) return column;
    const free = this.free(name);
    const formula = periodFormula(column, per);
    this.add({ step: 'add', name: free, label: label ?? found.field.label, formula, format: PERIOD_FORMATS[per] });
    return free;
  }

  private keep(values: ReadonlyMap<string, string>): void {
    const all = this.sketch.only.flatMap((condition): StepOf<'keep'>['where'][] => {
      if ('formula' in condition) return [{ formula: this.flat(condition.formula) }];
      if ('column' in condition) {
        const own = values.get(condition.column);
        if (condition.of !== undefined) return [];
        if (own !== undefined) return [columnTest(condition, own)];
        this.gone(condition.column);
        return [];
      }
      const { field: path, per, is, to, orBlank } = condition;
      const found = this.found(path, true);
      const own = this.names.get(path);
      if (!found || own === undefined) return [];
      let field = own;
      if (per !== undefined) {
        field = this.free(`${own}_${per}`);
        this.add({ step: 'add', name: field, formula: periodFormula(own, per) });
      }
      const other = to && 'field' in to ? this.names.get(to.field) : undefined;
      const against = other === undefined ? to : { field: other };
      const test = { field, is, ...(against ? { to: against } : {}) };
      return [orBlank ? { any: [test, { field: own, is: 'blank' }] } : test];
    });
    if (all.length > 0) this.add({ step: 'keep', where: all.length === 1 ? all[0]! : { all } });
  }

  /** Only the rows of the groups that are first in their order. */
  private first(keys: ReadonlyMap<string, string>, values: ReadonlyMap<string, string>): void {
    const { first } = this.sketch;
    if (!first) return;
    this.keepGroups(first.of, keys, values, (around) => ({
      step: 'first',
      count: first.count,
      ...(around.length > 0 ? { per: around } : {}),
    }));
  }

  /** Only the rows of the groups that have something in a column. */
  private keepWith(
    condition: ColumnCondition,
    of: string,
    keys: ReadonlyMap<string, string>,
    values: ReadonlyMap<string, string>,
  ): void {
    const column = this.sketch.columns.find(({ name }) => name === condition.column);
    if (!column || !isMeasured(column) || !keys.has(of))
      this.gone(column && isMeasured(column) ? of : condition.column);
    else this.keepGroups(of, keys, values, () => ({ step: 'keep', where: columnTest(condition, column.name) }));
  }

  /** Only the rows of some groups of a name: of those whose lines `cut` leaves, which is told the names of the groups around. */
  private keepGroups(
    of: string,
    keys: ReadonlyMap<string, string>,
    values: ReadonlyMap<string, string>,
    cut: (around: string[]) => Step,
  ): void {
    const { groups } = this.sketch;
    const upTo = groups.slice(0, groups.findIndex(({ name }) => name === of) + 1);
    const fields = this.fieldsOf(keys);
    if (upTo.length === 0 || upTo.some(({ name }) => !fields.has(name))) return;
    // Blanks are a group as well, and nothing is equal to a blank.
    const here = upTo.flatMap(({ name: group }) =>
      withoutBlank(fields.get(group)!).map((formula) => {
        const name = this.free(`${group}_kept`);
        this.add({ step: 'add', name, formula });
        return name;
      }),
    );
    const rows = { groups: this.fieldsOf(keys), columns: this.fieldsOf(values) };
    const level = [...this.steps, ...levelSteps(this.sketch, rows, upTo.length, false)];
    const there = upTo
      .flatMap(({ name: group }) => withoutBlank({ name: group, type: fields.get(group)!.type }))
      .map((formula, i): StepOf<'add'> => ({ step: 'add', name: `kept_${i + 1}`, formula }));
    const around = upTo.slice(0, -1).map(({ name }) => name);
    const number = this.queries.length + 1;
    const name = number === 1 ? KEPT : `${KEPT}_${number}`;
    this.queries.push({ name, steps: [...level, cut(around), ...there] });
    const on = there.map(({ name: other }, i) => ({ here: here[i]!, there: other }));
    this.add({ step: 'bring', from: { query: name }, on, keep: 'matching', as: `kept_${number}`, fields: [] });
  }
}

/** A condition on a column, as a test of the field that stands for it. */
const columnTest = ({ is, to, orBlank }: ColumnCondition, field: string): StepOf<'keep'>['where'] => {
  const test = { field, is, ...(to ? { to } : {}) };
  return orBlank ? { any: [test, { field, is: 'blank' }] } : test;
};
