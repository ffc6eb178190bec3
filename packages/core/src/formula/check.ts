import { type Problem, problem } from '../problems/problem.ts';
import { didYouMean } from '../problems/suggest.ts';
import type { Checked, CheckedType } from './checked.ts';
import { FUNCTIONS, isTotal, TOTALS, type TotalName } from './functions.ts';
import { parseFormula } from './parse.ts';
import type { Tree } from './tree.ts';

/** What names mean where a formula stands. Implemented over the drawers of a report by data/reach.ts. */
export interface FormulaScope {
  /** The meaning of a name, or the problem with it (its place is filled in by the caller). */
  name(parts: string[]): Checked | Problem;
  /** A total over rows; null where totals cannot stand. `check` checks the inner formula in the scope it is given. */
  total(name: TotalName, check: (inner: FormulaScope) => Checked | null): Checked | Problem | null;
  /** Names to suggest for a misspelt one. */
  suggestions(): string[];
  /** Whether CLAIM() may be used: only in row scopes that the integrator writes. */
  claims?: boolean;
}

export type CheckResult = { ok: true; formula: Checked } | { ok: false; problems: Problem[] };

export const checkFormula = (source: string, scope: FormulaScope): CheckResult => {
  const parsed = parseFormula(source);
  if (!parsed.ok) return { ok: false, problems: [parsed.problem] };
  const problems: Problem[] = [];
  const formula = new Checker(problems).check(parsed.tree, scope);
  return formula && problems.length === 0 ? { ok: true, formula } : { ok: false, problems };
};

const TYPE_WORDS: Record<CheckedType, string> = {
  text: 'text',
  number: 'a number',
  date: 'a date',
  datetime: 'a date with time',
  boolean: 'a condition (TRUE or FALSE)',
  picture: 'a picture',
  any: 'any value',
};

const isTemporal = (type: CheckedType): boolean => type === 'date' || type === 'datetime';

const fits = (given: CheckedType, wanted: CheckedType): boolean =>
  wanted === 'any' || given === 'any' || given === wanted || (wanted === 'text' && given !== 'picture');

class Checker {
  constructor(private readonly problems: Problem[]) {}

  private report(found: Problem, tree: Tree): null {
    this.problems.push({ ...found, place: { ...found.place, from: tree.from, to: tree.to } });
    return null;
  }

  private want(wanted: CheckedType, checked: Checked, tree: Tree, where: string): boolean {
    if (fits(checked.type, wanted)) return true;
    const data = { where, expected: TYPE_WORDS[wanted], given: TYPE_WORDS[checked.type] };
    this.report(problem('wrong-type', {}, data), tree);
    return false;
  }

  check(tree: Tree, scope: FormulaScope): Checked | null {
    switch (tree.kind) {
      case 'number':
        return { kind: 'literal', value: tree.value, type: 'number' };
      case 'text':
        return { kind: 'literal', value: tree.value, type: 'text' };
      case 'name': {
        const only = tree.parts.length === 1 ? tree.parts[0]!.toUpperCase() : '';
        const found = scope.name(tree.parts);
        if ('code' in found && (only === 'TRUE' || only === 'FALSE')) {
          return { kind: 'call', name: only, arguments: [], type: 'boolean' };
        }
        return 'code' in found ? this.report(found, tree) : found;
      }
      case 'unary': {
        const operand = this.check(tree.operand, scope);
        if (!operand || !this.want('number', operand, tree.operand, `“${tree.operator}”`)) return null;
        return { kind: 'unary', operator: tree.operator, operand, type: 'number' };
      }
      case 'binary':
        return this.binary(tree, scope);
      case 'call':
        return this.call(tree, scope);
      default:
        return tree satisfies never;
    }
  }

  private binary(tree: Tree & { kind: 'binary' }, scope: FormulaScope): Checked | null {
    const { operator } = tree;
    const left = this.check(tree.left, scope);
    const right = this.check(tree.right, scope);
    if (!left || !right) return null;
    const where = `“${operator}”`;
    switch (operator) {
      case '&': {
        const good = this.want('text', left, tree.left, where) && this.want('text', right, tree.right, where);
        return good ? { kind: 'binary', operator, left, right, type: 'text' } : null;
      }
      case '=':
      case '<>':
      case '<':
      case '>':
      case '<=':
      case '>=': {
        const comparable =
          left.type === right.type ||
          left.type === 'any' ||
          right.type === 'any' ||
          (isTemporal(left.type) && isTemporal(right.type));
        if (!comparable || left.type === 'picture') {
          const data = { where, expected: `${TYPE_WORDS[left.type]} on both sides`, given: TYPE_WORDS[right.type] };
          return this.report(problem('wrong-type', {}, data), tree.right);
        }
        return { kind: 'binary', operator, left, right, type: 'boolean' };
      }
      default: {
        // A day count may be added to or taken from a date; a date minus a date is a number of days.
        if (isTemporal(left.type) && operator === '-' && left.type === right.type) {
          return { kind: 'call', name: 'DAYS', arguments: [left, right], type: 'number' };
        }
        if (left.type === 'date' && (operator === '+' || operator === '-') && fits(right.type, 'number')) {
          return { kind: 'binary', operator, left, right, type: 'date' };
        }
        const good = this.want('number', left, tree.left, where) && this.want('number', right, tree.right, where);
        return good ? { kind: 'binary', operator, left, right, type: 'number' } : null;
      }
    }
  }

  private call(tree: Tree & { kind: 'call' }, scope: FormulaScope): Checked | null {
    const { name } = tree;
    if (isTotal(name)) return this.total(tree, name, scope);
    const list = tree.arguments;
    const counted = (min: number, max: number): boolean => {
      if (list.length >= min && list.length <= max) return true;
      const expected = min === max ? `${min} value${min === 1 ? '' : 's'}` : `${min} to ${max} values`;
      this.report(problem('wrong-arguments', {}, { name, expected, given: list.length }), tree);
      return false;
    };
    if (name === 'IF') {
      if (!counted(2, 3)) return null;
      const [condition, yes, no] = list.map((argument) => this.check(argument, scope));
      if (!condition || !yes || no === null) return null;
      if (!this.want('boolean', condition, list[0]!, 'The condition of IF')) return null;
      const type = !no || no.type === yes.type || no.type === 'any' ? yes.type : yes.type === 'any' ? no.type : 'any';
      return { kind: 'if', condition, yes, no: no ?? null, type };
    }
    if (name === 'IFERROR') {
      if (!counted(2, 2)) return null;
      const [value, otherwise] = list.map((argument) => this.check(argument, scope));
      if (!value || !otherwise) return null;
      return { kind: 'iferror', value, otherwise, type: value.type === otherwise.type ? value.type : 'any' };
    }
    if (name === 'TEXT') {
      if (!counted(2, 2)) return null;
      const [value, format] = list.map((argument) => this.check(argument, scope));
      if (!value || !format || !this.want('text', format, list[1]!, 'The format of TEXT')) return null;
      return { kind: 'text', value, pattern: format, type: 'text' };
    }
    if (name === 'CLAIM' && scope.claims) {
      const argument = list[0];
      if (!counted(1, 1) || argument?.kind !== 'text') return null;
      return { kind: 'claim', name: argument.value, type: 'any' };
    }
    const definition = FUNCTIONS[name];
    if (!definition) {
      const known = [...Object.keys(FUNCTIONS), ...Object.keys(TOTALS), 'IF', 'IFERROR', 'TEXT'];
      const hint = didYouMean(name, known, 'The list of functions is in docs/formulas.md.');
      return this.report(problem('unknown-function', {}, { name, hint }), tree);
    }
    if (!counted(definition.min, definition.max)) return null;
    const checked: Checked[] = [];
    for (const [i, argument] of list.entries()) {
      const value = this.check(argument, scope);
      const wanted = definition.takes[Math.min(i, definition.takes.length - 1)]!;
      if (value && this.want(wanted, value, argument, name)) checked.push(value);
    }
    if (checked.length < list.length) return null;
    const { gives } = definition;
    return {
      kind: 'call',
      name,
      arguments: checked,
      type: typeof gives === 'string' ? gives : checked[gives.sameFrom]!.type,
    };
  }

  private total(tree: Tree & { kind: 'call' }, name: TotalName, scope: FormulaScope): Checked | null {
    const [argument] = tree.arguments;
    if (!argument || tree.arguments.length > 1) {
      const data = { name, expected: 'one field or formula', given: tree.arguments.length };
      return this.report(problem('wrong-arguments', {}, data), tree);
    }
    let failed = false;
    const found = scope.total(name, (inner) => {
      const before = this.problems.length;
      const checked = this.check(argument, inner);
      const isRows = checked?.kind === 'rows';
      if (checked && isRows && name !== 'COUNT') {
        const data = { where: name, expected: 'a field', given: 'a drawer' };
        this.report(problem('wrong-type', {}, data), argument);
      } else if (checked && TOTALS[name].numbersOnly) this.want('number', checked, argument, name);
      failed = this.problems.length > before;
      return failed ? null : checked;
    });
    if (failed || !found) return null;
    return 'code' in found ? this.report(found, tree) : found;
  }
}
