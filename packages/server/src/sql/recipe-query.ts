import type {
  Field,
  Operation,
  PlannedRecipe,
  PlannedSource,
  PlannedStep,
  PlannedTable,
  StepTotal,
} from '@gaveta/core';
import { type Bindings, SQL_TYPES, type SqlNames, toSql } from './expression.ts';
import { identifier } from './identifiers.ts';

/** Where the rows of a recipe's first steps stand in the database that the statement runs in. */
export interface RecipeTables {
  /** What stands after FROM for a table, and its column for each field. */
  table(table: PlannedTable, given: string[]): { from: string; column: (field: string) => string };
  /** A statement that a person wrote, made ready to stand in brackets. */
  written(operation: Extract<Operation, { kind: 'sql' }>): string;
  /** A table that holds the rows after a step already, when they had to be worked out elsewhere. */
  ready(step: PlannedStep): string | null;
}

/** A recipe as SQL: one table expression for each step that does something. */
export interface RecipeSql {
  /** `with … select …`, or a select alone. */
  text: string;
  /** By which its rows are in order, as SQL over its columns; empty for no order. */
  order: string[];
}

/**
 * SQL of a recipe's first `steps` steps (all when left out). Names of `names.field` are ignored: formulas read the
 * columns of the step before.
 */
export const recipeSql = (
  recipe: PlannedRecipe,
  tables: RecipeTables,
  names: Omit<SqlNames, 'field' | 'total'>,
  bindings: Bindings,
  steps = recipe.steps.length,
): RecipeSql => {
  const writer = new RecipeWriter(tables, names, bindings);
  return writer.write(recipe, steps);
};

const ROWS = 'r';

class RecipeWriter {
  constructor(
    private readonly tables: RecipeTables,
    private readonly names: Omit<SqlNames, 'field' | 'total'>,
    private readonly bindings: Bindings,
  ) {}

  write(recipe: PlannedRecipe, count: number): RecipeSql {
    const expressions: { name: string; text: string }[] = [];
    const steps = recipe.steps.slice(0, count);
    const ready = steps.findLastIndex((step) => step.operation && this.tables.ready(step) !== null);
    let order: string[] = [];
    let fields: readonly Field[] = [];
    const key = recipe.key === null ? [] : [identifier(recipe.key)];
    for (const [i, step] of steps.entries()) {
      if (!step.operation) continue;
      const name = `step_${i + 1}`;
      const before = expressions.at(-1)?.name ?? '';
      const stable = [...order, ...key.filter((k) => fields.some((f) => identifier(f.name) === k))];
      // Everything before a table that stands ready is in that table.
      if (i === ready) expressions.push({ name, text: `select * from ${this.tables.ready(step)}` });
      else if (i > ready) expressions.push({ name, text: this.step(step, before, fields, stable) });
      order = this.orderAfter(step, order, fields);
      fields = step.fields;
    }
    const last = expressions.pop();
    if (!last) return { text: 'select null where false', order: [] };
    const before = expressions.map(({ name, text }) => `${name} as (\n${indent(text)}\n)`);
    return { text: before.length > 0 ? `with ${before.join(',\n')}\n${last.text}` : last.text, order };
  }

  private orderAfter({ operation }: PlannedStep, order: string[], fields: readonly Field[]): string[] {
    switch (operation!.kind) {
      case 'sort':
        return operation!.by.map(({ formula, descending }) => {
          const field = formula.kind === 'field' ? fields[formula.column - 1] : undefined;
          const collate = formula.type === 'text' && this.names.collation ? ` collate ${this.names.collation}` : '';
          return `${identifier(field?.name ?? '')}${collate}${descending ? ' desc' : ''} nulls last`;
        });
      case 'summarise':
      case 'spread':
      case 'stack':
        return [];
      default:
        return order;
    }
  }

  private step(
    { operation, fields: after }: PlannedStep,
    before: string,
    fields: readonly Field[],
    order: readonly string[],
  ): string {
    const names: SqlNames = {
      ...this.names,
      field: (_, column) => `${ROWS}.${identifier(fields[column - 1]!.name)}`,
      total: () => 'null',
    };
    const sql = (formula: Parameters<typeof toSql>[0]): ReturnType<typeof toSql> =>
      toSql(formula, names, this.bindings);
    const from = `from ${before} ${ROWS}`;
    const orderBy = order.length > 0 ? `\norder by ${order.join(', ')}` : '';
    switch (operation!.kind) {
      case 'take':
        return this.source(operation!.source);
      case 'sql': {
        const columns = after.map(
          ({ name, type }) => `q.${quoteExact(name)}${type === 'text' ? '::text' : ''} as ${identifier(name)}`,
        );
        return `select ${columns.join(', ')}\nfrom (\n${indent(this.tables.written(operation!))}\n) q`;
      }
      case 'bring': {
        const { source, on, keep, columns } = operation!;
        const join = { matching: 'join', here: 'left join', there: 'right join', both: 'full join' }[keep];
        const there = this.joined(source);
        const pairs = on.map((pair) => `t.${there.column(pair.there)} = ${ROWS}.${identifier(pair.here)}`);
        const brought = columns.map((c) => `t.${there.column(c.field)} as ${identifier(c.name)}`);
        return `select ${[`${ROWS}.*`, ...brought].join(', ')}\n${from}\n${join} ${there.from} t on ${pairs.join(' and ')}`;
      }
      case 'keep':
        return `select *\n${from}\nwhere ${sql(operation!.formula).sql}`;
      case 'add': {
        const term = sql(operation!.formula);
        const type = operation!.formula.type === 'any' ? 'text' : operation!.formula.type;
        return `select ${ROWS}.*, ${term.sql}::${SQL_TYPES[type]} as ${identifier(operation!.name)}\n${from}`;
      }
      case 'summarise': {
        const { by, totals } = operation!;
        const keys = by.map(({ name, formula }) => `${sql(formula).sql} as ${identifier(name)}`);
        const values = totals.map(
          ({ name, total, of }) => `${totalSql(total, of && sql(of).sql, order)} as ${identifier(name)}`,
        );
        const group = by.length > 0 ? `\ngroup by ${by.map((_, i) => i + 1).join(', ')}` : '';
        return `select ${[...keys, ...values].join(', ')}\n${from}${group}`;
      }
      case 'spread': {
        const { by, names: name, values, total, into } = operation!;
        const keys = by.map((key) => `${ROWS}.${identifier(key)}`);
        const spread = into.map(({ name: column, value }) => {
          const when = `${sql(name).sql}::text = ${this.bindings.bind(String(value), 'text')}`;
          return `${totalSql(total, sql(values).sql, order, when)} as ${identifier(column)}`;
        });
        const group = by.length > 0 ? `\ngroup by ${keys.join(', ')}` : '';
        return `select ${[...keys, ...spread].join(', ')}\n${from}${group}`;
      }
      case 'sort':
        return `select *\n${from}\norder by ${this.orderAfter({ operation } as PlannedStep, [], fields).join(', ')}`;
      case 'first': {
        const { count, per } = operation!;
        if (per.length === 0) return `select *\n${from}${orderBy}\nlimit ${count}`;
        const over = `partition by ${per.map((f) => sql(f).sql).join(', ')}${order.length > 0 ? ` order by ${order.join(', ')}` : ''}`;
        const columns = fields.map((f) => identifier(f.name)).join(', ');
        return `select ${columns}\nfrom (select ${ROWS}.*, row_number() over (${over}) as _place ${from}) placed\nwhere _place <= ${count}`;
      }
      case 'distinct': {
        const { by } = operation!;
        if (by.length === 0) return `select *\n${from}\nlimit 1`;
        const keys = by.map((key) => `${ROWS}.${identifier(key)}`).join(', ');
        const then = order.length > 0 ? `, ${order.join(', ')}` : '';
        return `select distinct on (${keys}) *\n${from}\norder by ${keys}${then}`;
      }
      case 'stack': {
        const there = this.joined(operation!.source);
        const columns = operation!.columns.map((column, i) =>
          column === null ? `null::${SQL_TYPES[fields[i]!.type]}` : `t.${there.column(column)}`,
        );
        return `select ${fields.map((f) => `${ROWS}.${identifier(f.name)}`).join(', ')}\n${from}\nunion all\nselect ${columns.join(', ')}\nfrom ${there.from} t`;
      }
      default:
        return operation satisfies never;
    }
  }

  /** Rows of a source as a select. */
  private source(source: PlannedSource): string {
    const given = this.joined(source);
    const fields = source.kind === 'table' ? source.entity.fields : source.recipe.fields;
    const columns = fields.map((f) => {
      const column = given.column(f.name);
      const name = identifier(f.name);
      return column === name ? `t.${name}` : `t.${column} as ${name}`;
    });
    return `select ${columns.join(', ')}\nfrom ${given.from} t`;
  }

  private joined(source: PlannedSource): { from: string; column: (field: string) => string } {
    if (source.kind === 'recipe') {
      const { text } = this.write(source.recipe, source.recipe.steps.length);
      return { from: `(\n${indent(text)}\n)`, column: identifier };
    }
    const names: SqlNames = { ...this.names, field: () => 'null', total: () => 'null' };
    const given = (source.entity.arguments ?? []).map(({ name, type }) => {
      const term = toSql(source.arguments[name]!, names, this.bindings, type);
      return `${term.sql}::${SQL_TYPES[type]}`;
    });
    return this.tables.table(source, given);
  }
}

const quoteExact = (name: string): string => `"${name.replace(/"/g, '""')}"`;

const indent = (text: string): string => text.replace(/^/gm, '  ');

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

/** The formula of a step that the database must know; null for steps without one. Totals and keys are always known. */
export const formulaOf = (operation: Operation): Parameters<typeof toSql>[0] | null =>
  operation.kind === 'keep' || operation.kind === 'add' ? operation.formula : null;
