import type { Comparison, Condition, Operand } from '../definition/recipe.ts';
import { parseFormula } from '../formula/parse.ts';
import type { BinaryOperator, Tree } from '../formula/tree.ts';
import type { Field } from '../model/model.ts';
import { toNumber } from '../value/number.ts';
import { conditionFormula } from './conditions.ts';

const SIGNS: Partial<Record<BinaryOperator, Comparison>> = {
  '=': 'equal',
  '<>': 'notEqual',
  '<': 'less',
  '<=': 'lessOrEqual',
  '>': 'greater',
  '>=': 'greaterOrEqual',
};

const TESTS: Readonly<Record<string, Comparison>> = {
  CONTAINS: 'contains',
  STARTSWITH: 'startsWith',
  ENDSWITH: 'endsWith',
};

/**
 * The condition that a formula says, as far as its parts are ones that {@link conditionFormula} writes; parts of any other
 * kind stay formulas. The condition's formula says the same as the one given.
 */
export const conditionOf = (source: string, fields: readonly Field[]): Condition => {
  if (source.trim() === '') return { all: [] };
  const parsed = parseFormula(source);
  return parsed.ok ? new Reader(source, fields).read(parsed.tree) : { formula: source };
};

class Reader {
  constructor(
    private readonly source: string,
    private readonly fields: readonly Field[],
  ) {}

  read(tree: Tree): Condition {
    const found = this.test(tree);
    if (found) return found;
    if (tree.kind === 'call' && (tree.name === 'AND' || tree.name === 'OR')) {
      const parts = tree.arguments.map((part) => this.read(part));
      return tree.name === 'AND' ? { all: parts } : { any: parts };
    }
    return { formula: this.source.slice(tree.from, tree.to) };
  }

  /** A test of one field; null when it is none. */
  private test(tree: Tree): Condition | null {
    const read = tree.kind === 'binary' ? this.comparison(tree) : tree.kind === 'call' ? this.call(tree) : null;
    if (!read) return null;
    // Only what would be written the same way is taken apart: nothing is lost by opening an editor.
    const again = parseFormula(conditionFormula(read, this.fields));
    return again.ok && same(again.tree, tree) ? read : null;
  }

  private comparison({ operator, left, right }: Tree & { kind: 'binary' }): Condition | null {
    const field = this.field(left);
    const is = SIGNS[operator];
    const to = field && is ? this.operand(right) : null;
    return field && is && to ? { field: field.name, is, to } : null;
  }

  /** A test that holds as long as the parameter that it compares with has no value; null when it is none. */
  private unlessBlank(asked: Tree, tree: Tree | undefined): Condition | null {
    const parameter = this.parameter(asked);
    if (parameter === null || !tree) return null;
    const isNot = tree.kind === 'call' && tree.name === 'NOT' && tree.arguments[0]?.kind === 'call';
    const inner = isNot ? tree.arguments[0]! : tree;
    const read = inner.kind === 'binary' ? this.comparison(inner) : inner.kind === 'call' ? this.call(inner) : null;
    if (!read || !('field' in read)) return null;
    if (isNot) return read.is === 'within' ? { field: read.field, is: 'notOneOf', to: { parameter } } : null;
    return { ...read, to: { parameter } };
  }

  private parameter(tree: Tree): string | null {
    return tree.kind === 'name' && tree.parts.length === 2 && tree.parts[0] === 'parameters' ? tree.parts[1]! : null;
  }

  private call({ name, arguments: given }: Tree & { kind: 'call' }): Condition | null {
    const [first, second] = given;
    if (!first) return null;
    if (name === 'ISBLANK') return this.about(first, 'blank');
    if (name === 'OR' && first.kind === 'call' && first.name === 'ISBLANK' && first.arguments[0])
      return this.unlessBlank(first.arguments[0], second) ?? this.about(first.arguments[0], 'blank');
    if (name === 'NOT') {
      const inner = first.kind === 'call' ? this.call(first) : null;
      if (!inner || !('field' in inner)) return null;
      if (inner.is === 'blank') return { field: inner.field, is: 'notBlank' };
      return inner.is === 'oneOf' ? { ...inner, is: 'notOneOf' } : null;
    }
    if (name === 'AND' && second && given.length === 2) return this.between(first, second);
    const field = this.field(first);
    if (!field || !second) return null;
    const test = TESTS[name];
    const to = this.operand(second);
    if (test) return to && { field: field.name, is: test, to };
    if (name === 'WITHIN')
      return to && { field: field.name, is: 'within', to: 'parameter' in to ? { parameter: to.parameter } : to };
    if (name !== 'ONEOF') return null;
    const values = given.slice(1).map(literal);
    return values.some((v) => v === null)
      ? null
      : { field: field.name, is: 'oneOf', to: { values: values as (string | number)[] } };
  }

  private between(low: Tree, high: Tree): Condition | null {
    if (low.kind !== 'binary' || high.kind !== 'binary' || low.operator !== '>=' || high.operator !== '<=') return null;
    const field = this.field(low.left);
    const from = literal(low.right);
    const to = literal(high.right);
    if (!field || from === null || to === null || typeof from === 'boolean' || typeof to === 'boolean') return null;
    return { field: field.name, is: 'between', to: { from, to } };
  }

  private about(tree: Tree, is: Comparison): Condition | null {
    const field = this.field(tree);
    return field && { field: field.name, is };
  }

  private field(tree: Tree): Field | null {
    if (tree.kind !== 'name') return null;
    const path = tree.parts.join('.');
    return this.fields.find((f) => f.name === path) ?? null;
  }

  private operand(tree: Tree): Operand | null {
    if (tree.kind === 'name') {
      const parameter = this.parameter(tree);
      if (parameter !== null) return { parameter, evenBlank: true };
      const field = this.field(tree);
      return field && { field: field.name };
    }
    const value = literal(tree);
    return value === null ? null : { value };
  }
}

/** A value that is written out; days and moments as they are typed. */
const literal = (tree: Tree): string | number | boolean | null => {
  if (tree.kind === 'text') return tree.value;
  if (tree.kind === 'number') return toNumber(tree.value);
  if (tree.kind === 'unary' && tree.operator === '-' && tree.operand.kind === 'number')
    return -toNumber(tree.operand.value);
  if (tree.kind !== 'call') return null;
  if (tree.name === 'TRUE' || tree.name === 'FALSE') return tree.name === 'TRUE';
  const numbers = tree.arguments.map((a) => (a.kind === 'number' ? toNumber(a.value) : null));
  const two = (n: number | null | undefined): string => String(n).padStart(2, '0');
  if (tree.name === 'DATE' && numbers.length === 3 && numbers.every((n) => n !== null))
    return `${String(numbers[0]).padStart(4, '0')}-${two(numbers[1])}-${two(numbers[2])}`;
  if (tree.name === 'DATETIME' && tree.arguments.length === 4) {
    const day = literal(tree.arguments[0]!);
    if (typeof day === 'string') return `${day}T${two(numbers[1])}:${two(numbers[2])}:${two(numbers[3])}`;
  }
  return null;
};

/** Whether two trees say the same, wherever they stand in their text. */
const same = (a: Tree, b: Tree): boolean => JSON.stringify(bare(a)) === JSON.stringify(bare(b));

const bare = (value: unknown): unknown => {
  if (Array.isArray(value)) return value.map(bare);
  if (typeof value !== 'object' || value === null) return value;
  const { from: _, to: __, ...rest } = value as Record<string, unknown>;
  return Object.fromEntries(Object.entries(rest).map(([key, v]) => [key, bare(v)]));
};
