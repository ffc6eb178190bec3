import { type Phrase, phrase } from '../problems/phrases.ts';
import { type Problem, problem } from '../problems/problem.ts';
import { didYouMean } from '../problems/suggest.ts';
import { type Checked, type CheckedType, commonType, depthOf } from './checked.ts';
import { checkForm } from './forms.ts';
import type { FunctionDefinition, FunctionTable } from './functions/context.ts';
import {
  type ArgumentType,
  FUNCTIONS,
  isConditionalTotal,
  isRowFunction,
  isSpecialForm,
  isTotal,
  ROW_FUNCTIONS,
  SPECIAL_FORMS,
  signatureOf,
  TOTALS,
  type TotalName,
} from './functions/index.ts';
import { parseFormula } from './parse.ts';
import { argumentsOfRows, checkConditional, checkWithRows, isOfList } from './rows-forms.ts';
import type { FormulaScope, RowsRequest } from './scope.ts';
import type { Tree } from './tree.ts';

export type { FormulaScope } from './scope.ts';

/** `warnings`: what the formula may come to that is surely not meant. */
export type CheckResult = { ok: true; formula: Checked; warnings: Problem[] } | { ok: false; problems: Problem[] };

/** Formulas nested deeper than this, calculated fields put in, are refused: working them out takes a step of the stack for each. */
const DEEPEST = 1000;

export const checkFormula = (source: string, scope: FormulaScope): CheckResult => {
  const parsed = parseFormula(source);
  if (!parsed.ok) return { ok: false, problems: [parsed.problem] };
  const problems: Problem[] = [];
  const formula = new Checker(problems).check(parsed.tree, scope);
  const errors = problems.filter((p) => p.severity === 'error');
  if (!formula || errors.length > 0) return { ok: false, problems };
  if (depthOf(formula) > DEEPEST)
    return { ok: false, problems: [problem('formula-too-deep', { from: 0, to: source.length })] };
  return { ok: true, formula, warnings: problems };
};

/** Types as problems name them. */
export const typePhrase = (type: CheckedType | ArgumentType): Phrase => phrase(`type-${type}`);

const NEEDS_MORE_THAN_TEXT: ReadonlySet<ArgumentType> = new Set(['number', 'boolean', 'date', 'datetime', 'temporal']);

/** Whether a formula of no certain type gives a text in some case, as `IF(amount > 10; amount; "n/a")` does. */
const canBeText = (formula: Checked): boolean => {
  if (formula.type === 'text') return true;
  if (formula.type !== 'any') return false;
  if (formula.kind === 'if') return canBeText(formula.yes) || (formula.no !== null && canBeText(formula.no));
  if (formula.kind === 'iferror') return canBeText(formula.value) || canBeText(formula.otherwise);
  return formula.kind === 'bind' && canBeText(formula.body);
};

const countPhrase = (least: number, most: number): Phrase =>
  least !== most
    ? phrase('values-between', { least, most })
    : least === 1
      ? phrase('one-value')
      : phrase('values', { count: least });

/** What COUNT never counts. */
const UNCOUNTED: ReadonlySet<CheckedType> = new Set(['text', 'boolean', 'picture']);

const isTemporal = (type: CheckedType): boolean => type === 'date' || type === 'datetime';

const fits = (given: CheckedType, wanted: ArgumentType): boolean =>
  wanted === 'any' ||
  given === 'any' ||
  given === wanted ||
  (wanted === 'text' && given !== 'picture' && given !== 'list') ||
  (wanted === 'temporal' && isTemporal(given));

/** Every name that may stand before a bracket, those of further functions included. */
export const functionNames = (added: FunctionTable = {}): string[] => [
  ...Object.keys(FUNCTIONS),
  ...Object.keys(TOTALS),
  ...Object.keys(SPECIAL_FORMS),
  ...Object.keys(ROW_FUNCTIONS),
  ...Object.keys(added),
];

/** What a name before a bracket means; no further function takes the name of one of Gaveta's own. */
const functionNamed = (name: string, added: FunctionTable = {}): FunctionDefinition | null =>
  FUNCTIONS[name] ?? (Object.hasOwn(added, name) ? added[name]! : null);

/** Checks one formula; collects what it finds wrong. */
export class Checker {
  constructor(private readonly problems: Problem[]) {}

  private get errors(): number {
    return this.problems.filter((p) => p.severity === 'error').length;
  }

  report(found: Problem, tree: Tree): null {
    this.problems.push({ ...found, place: { ...found.place, from: tree.from, to: tree.to } });
    return null;
  }

  want(wanted: ArgumentType, checked: Checked, tree: Tree, where: string): boolean {
    if (fits(checked.type, wanted)) {
      if (checked.type === 'any' && NEEDS_MORE_THAN_TEXT.has(wanted) && canBeText(checked))
        this.report(problem('can-be-text', {}, { where, expected: typePhrase(wanted) }, 'warning'), tree);
      return true;
    }
    const data = { where, expected: typePhrase(wanted), given: typePhrase(checked.type) };
    this.report(problem('wrong-type', {}, data), tree);
    return false;
  }

  /** Says so unless the number of arguments lies between the two. */
  counted(
    tree: Tree & { kind: 'call' },
    min: number,
    max: number,
    definition: FunctionDefinition | null = functionNamed(tree.name),
  ): boolean {
    const given = tree.arguments.length;
    if (given >= min && given <= max) return true;
    const values = countPhrase(min, max);
    const expected = definition
      ? phrase('as-signature', { values, signature: signatureOf(tree.name, definition) })
      : values;
    this.report(problem('wrong-arguments', {}, { name: tree.name, expected, given }), tree);
    return false;
  }

  check(tree: Tree, scope: FormulaScope): Checked | null {
    switch (tree.kind) {
      case 'number':
        return { kind: 'literal', value: tree.value, type: 'number' };
      case 'text':
        return { kind: 'literal', value: tree.value, type: 'text' };
      case 'list': {
        const items = this.all(tree.items, scope);
        return items && { kind: 'list', items, type: 'list' };
      }
      case 'name': {
        const only = tree.parts.length === 1 ? tree.parts[0]!.toUpperCase() : '';
        const found = scope.name(tree.parts, tree);
        if ('code' in found && (only === 'TRUE' || only === 'FALSE')) {
          return { kind: 'call', name: only, arguments: [], type: 'boolean' };
        }
        return this.found(found, tree);
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

  /** As {@link check}, without a word of what is wrong: that comes back beside it. */
  tried(tree: Tree, scope: FormulaScope): { checked: Checked | null; problems: readonly Problem[] } {
    const problems: Problem[] = [];
    return { checked: new Checker(problems).check(tree, scope), problems };
  }

  /** Null when any of them is wrong. */
  all(list: readonly Tree[], scope: FormulaScope): Checked[] | null {
    const checked = list.map((tree) => this.check(tree, scope));
    return checked.every((c) => c !== null) ? checked : null;
  }

  found(found: Checked | Problem, tree: Tree): Checked | null {
    return 'code' in found ? this.report(found, tree) : found;
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
      case '>=':
        return this.comparable(left, right, tree) ? { kind: 'binary', operator, left, right, type: 'boolean' } : null;
      default: {
        // Days may be added to or taken from a date or moment; one less another is a number of days.
        if (left.type === 'date' && operator === '-' && right.type === 'date')
          return { kind: 'call', name: 'DAYS', arguments: [left, right], type: 'number' };
        if (isTemporal(left.type) && operator === '-' && isTemporal(right.type))
          return { kind: 'binary', operator, left, right, type: 'number' };
        if (isTemporal(left.type) && (operator === '+' || operator === '-') && fits(right.type, 'number'))
          return { kind: 'binary', operator, left, right, type: left.type };
        if (isTemporal(right.type) && operator === '+' && fits(left.type, 'number'))
          return { kind: 'binary', operator, left: right, right: left, type: right.type };
        const good = this.want('number', left, tree.left, where) && this.want('number', right, tree.right, where);
        return good ? { kind: 'binary', operator, left, right, type: 'number' } : null;
      }
    }
  }

  /** Says so unless two values may be compared. */
  comparable(left: Checked, right: Checked, tree: { operator: string; right: Tree }): boolean {
    const fine =
      left.type === right.type ||
      left.type === 'any' ||
      right.type === 'any' ||
      (isTemporal(left.type) && isTemporal(right.type));
    if (fine && left.type !== 'picture' && left.type !== 'list') return true;
    const expected = phrase('both-sides', { type: typePhrase(left.type) });
    const data = { where: `“${tree.operator}”`, expected, given: typePhrase(right.type) };
    this.report(problem('wrong-type', {}, data), tree.right);
    return false;
  }

  private call(tree: Tree & { kind: 'call' }, scope: FormulaScope): Checked | null {
    const { name } = tree;
    if (isTotal(name)) return this.total(tree, name, scope);
    if (isRowFunction(name)) return this.rowFunction(tree, name, scope);
    if (isSpecialForm(name)) return checkForm(this, tree, name, scope);
    if (isConditionalTotal(name) && !isOfList(this, tree, name, scope))
      return checkConditional(this, tree, name, scope);
    if (name === 'CLAIM' && scope.claims) {
      const argument = tree.arguments[0];
      if (!this.counted(tree, 1, 1) || argument?.kind !== 'text') return null;
      return { kind: 'claim', name: argument.value, type: 'any' };
    }
    const definition = functionNamed(name, scope.functions);
    if (!definition) {
      const hint = didYouMean(name, functionNames(scope.functions), phrase('functions-listed'));
      return this.report(problem('unknown-function', {}, { name, hint }), tree);
    }
    const { list, rows } = argumentsOfRows(this, tree, definition, scope);
    if (!this.counted({ ...tree, arguments: list }, definition.min, definition.max, definition)) return null;
    const checked = rows ? checkWithRows(this, list, rows, scope) : this.all(list, scope);
    if (!checked) return null;
    const { takes, gives } = definition;
    const fine = checked.map((value, i) => this.want(takes[Math.min(i, takes.length - 1)]![1], value, list[i]!, name));
    if (fine.includes(false)) return null;
    return {
      kind: 'call',
      name,
      arguments: checked,
      type: gives === 'common' ? commonType(checked) : gives,
    };
  }

  /** A total of rows, `SUM(amount)` or `SUM(amount; hut)`, or of values at hand, `MAX(0; balance)`. */
  private total(tree: Tree & { kind: 'call' }, name: TotalName, scope: FormulaScope): Checked | null {
    const list = tree.arguments;
    const argument = list[0];
    if (!argument) {
      const data = { name, expected: phrase('field-or-formula'), given: 0 };
      return this.report(problem('wrong-arguments', {}, data), tree);
    }
    const named = list.length === 2 ? this.scopeName(list[1]!, scope) : null;
    if (argument.kind === 'list' || (list.length > 1 && named === null)) {
      const checked = this.all(list, scope);
      if (!checked) return null;
      const { gives, numbersOnly } = TOTALS[name];
      // A text in a list is passed over; one that stands by itself is a mistake.
      const fine = checked.map((c, i) => c.type === 'list' || !numbersOnly || this.want('number', c, list[i]!, name));
      if (fine.includes(false)) return null;
      const same = checked.every((c) => c.type === checked[0]!.type && c.type !== 'list') ? checked[0]!.type : 'any';
      return { kind: 'aggregate', name, arguments: checked, type: gives === 'same' ? same : gives };
    }
    return this.overRows(
      tree,
      { kind: name, scope: named, scopeAt: list[1] },
      argument,
      TOTALS[name].numbersOnly,
      scope,
    );
  }

  scopeName(tree: Tree, scope: FormulaScope): string | null {
    return tree.kind === 'name' && tree.parts.length === 1 && scope.isRowScope(tree.parts[0]!) ? tree.parts[0]! : null;
  }

  private rowFunction(
    tree: Tree & { kind: 'call' },
    name: keyof typeof ROW_FUNCTIONS,
    scope: FormulaScope,
  ): Checked | null {
    const list = tree.arguments;
    if (name === 'VALUEOF') return this.valueOf(tree, scope);
    if (name === 'DEPTH') return this.counted(tree, 0, 0) ? this.found(scope.depth(), tree) : null;
    if (name === 'PREVIOUS') {
      if (!this.counted(tree, 1, 1)) return null;
      const found = scope.previous((inner) => this.check(list[0]!, inner));
      return found && this.found(found, tree);
    }
    const own = name === 'ROWNUMBER' ? 0 : 1;
    if (!this.counted(tree, own, own + 1)) return null;
    const last = list[own];
    const named = last ? this.scopeName(last, scope) : null;
    if (last && named === null) {
      const data = {
        where: name,
        expected: phrase('scope-name'),
        given: phrase('something-else'),
      };
      return this.report(problem('wrong-type', {}, data), last);
    }
    const request: RowsRequest = { kind: name, scope: named, scopeAt: last };
    if (name === 'ROWNUMBER') {
      const found = scope.rows(request, () => ({ kind: 'literal', value: 1, type: 'number' }));
      return found && this.found(found, tree);
    }
    return this.overRows(tree, request, list[0]!, name === 'RUNNING', scope);
  }

  /** `VALUEOF(course.title; course_id)`: the first value is no formula, it names a field of a table. */
  private valueOf(tree: Tree & { kind: 'call' }, scope: FormulaScope): Checked | null {
    if (!this.counted(tree, 2, 2)) return null;
    const [field, by] = tree.arguments as [Tree, Tree];
    if (field.kind !== 'name' || field.parts.length < 2) {
      const data = { where: 'VALUEOF', expected: phrase('field'), given: phrase('something-else') };
      return this.report(problem('wrong-type', {}, data), field);
    }
    const key = this.check(by, scope);
    if (!key) return null;
    const found = scope.lookUp?.(field.parts, key) ?? problem('total-in-query');
    return this.found(found, 'code' in found && found.code === 'wrong-type' ? by : field);
  }

  overRows(
    tree: Tree,
    request: RowsRequest,
    argument: Tree,
    numbersOnly: boolean,
    scope: FormulaScope,
  ): Checked | null {
    let failed = false;
    const found = scope.rows(request, (inner) => {
      const before = this.errors;
      const checked = this.check(argument, inner);
      const counts = request.kind === 'COUNT' || request.kind === 'COUNTA';
      if (checked?.kind === 'rows' && !counts) {
        const data = { where: request.kind, expected: phrase('field'), given: phrase('drawer') };
        this.report(problem('wrong-type', {}, data), argument);
      } else if (checked && numbersOnly) this.want('number', checked, argument, request.kind);
      else if (checked && request.kind === 'COUNT' && UNCOUNTED.has(checked.type))
        this.report(problem('count-of-values', {}, { given: typePhrase(checked.type) }), argument);
      else if (checked && !counts && (checked.type === 'list' || checked.type === 'picture')) {
        const data = { where: request.kind, expected: phrase('single-value'), given: typePhrase(checked.type) };
        this.report(problem('wrong-type', {}, data), argument);
      }
      failed = this.errors > before;
      return failed ? null : checked;
    });
    if (failed || !found) return null;
    return this.found(found, tree);
  }
}
