import type { Field, Operation, PlannedRecipe, PlannedSource, PlannedStep, PlannedTable } from '@gaveta/core/internal';
import { type Bindings, SQL_TYPES, type SqlNames, toSql } from './expression.ts';
import { identifier, indent } from './identifiers.ts';
import { blank, orderAfter, stepSql } from './step-sql.ts';
import { ROWS } from './step-writing.ts';

/** Where the rows of a recipe's first steps stand in the database that the statement runs in. */
export interface RecipeTables {
  /** What stands after FROM for a table, and its column for each field. */
  table(table: PlannedTable, given: string[]): { from: string; column: (field: string) => string };
  /** Whether nothing can need a column that a step gives, by its name; left out where all are shown. */
  isUnused?: ((column: string) => boolean) | undefined;
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
 * SQL of a recipe's steps. Names of `names.field` are ignored: formulas read the
 * columns of the step before. `isSorted`: false where whoever asks puts the rows in their order anyway, or in none.
 */
export const recipeSql = (
  recipe: PlannedRecipe,
  tables: RecipeTables,
  names: Omit<SqlNames, 'field' | 'total'>,
  bindings: Bindings,
  isSorted = true,
): RecipeSql => {
  const writer = new RecipeWriter(tables, names, bindings);
  return writer.write(recipe, isSorted);
};

class RecipeWriter {
  constructor(
    private readonly tables: RecipeTables,
    private readonly names: Omit<SqlNames, 'field' | 'total'>,
    private readonly bindings: Bindings,
  ) {}

  write(recipe: PlannedRecipe, isSorted: boolean): RecipeSql {
    const expressions: { name: string; text: string }[] = [];
    const { steps } = recipe;
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
      else if (i > ready) expressions.push({ name, text: this.step(step, before, fields, { stable, isSorted }) });
      order = orderAfter(step.operation, order, fields, this.names.collation);
      fields = step.fields;
    }
    const last = expressions.pop();
    if (!last) return { text: 'select null where false', order: [] };
    const before = expressions.map(({ name, text }) => `${name} as (\n${indent(text)}\n)`);
    return { text: before.length > 0 ? `with ${before.join(',\n')}\n${last.text}` : last.text, order };
  }

  private step(
    { operation, fields: after }: PlannedStep,
    before: string,
    fields: readonly Field[],
    { stable: order, isSorted }: { stable: readonly string[]; isSorted: boolean },
  ): string {
    const names: SqlNames = {
      ...this.names,
      field: (_, column) => `${ROWS}.${identifier(fields[column - 1]!.name)}`,
      total: () => 'null',
    };
    return stepSql(operation!, {
      from: `from ${before} ${ROWS}`,
      fields,
      after,
      order,
      orderBy: order.length > 0 ? `\norder by ${order.join(', ')}` : '',
      collation: this.names.collation,
      isSorted,
      sql: (formula, total = names.total) => toSql(formula, { ...names, total }, this.bindings),
      bind: (text) => this.bindings.bind(text, 'text'),
      isUnused: (column) => this.tables.isUnused?.(column) ?? false,
      zone: () => this.bindings.bind(this.names.timeZone, 'text'),
      written: (written) => this.tables.written(written),
      source: (source) => this.source(source),
      joined: (source) => this.joined(source),
    });
  }

  /** Rows of a source as a select. */
  private source(source: PlannedSource): string {
    const given = this.joined(source);
    const fields = source.kind === 'table' ? source.entity.fields : source.recipe.fields;
    const columns = fields.map((f) => {
      const column = given.column(f.name);
      const name = identifier(f.name);
      // One that is gone since the tables were looked at keeps nobody from the others.
      if (this.tables.isUnused?.(f.name)) return `${blank(f.type)} as ${name}`;
      return column === name ? `t.${name}` : `t.${column} as ${name}`;
    });
    return `select ${columns.join(', ')}\nfrom ${given.from} t`;
  }

  private joined(source: PlannedSource): { from: string; column: (field: string) => string } {
    if (source.kind === 'recipe') {
      // Whoever takes its rows counts on their order, as far as nothing else changes it.
      const { text } = this.write(source.recipe, true);
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

/** The formula of a step that the database must know; null for steps without one. Totals and keys are always known. */
export const formulaOf = (operation: Operation): Parameters<typeof toSql>[0] | null =>
  operation.kind === 'keep' || operation.kind === 'add' ? operation.formula : null;
