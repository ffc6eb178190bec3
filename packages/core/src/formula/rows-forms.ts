import type { Problem } from '../problems/problem.ts';
import { type Checked, nodes } from './checked.ts';
import { meeting, valueWhere } from './conditional.ts';
import type { FunctionDefinition } from './functions/context.ts';
import { type ArgumentType, CONDITIONAL_TOTALS, type ConditionalTotal, FUNCTIONS } from './functions/index.ts';
import type { FormulaScope, RowsRequest } from './scope.ts';
import type { Tree } from './tree.ts';

/** What checking a function of rows needs of the checker around it. */
export interface RowsChecker {
  check(tree: Tree, scope: FormulaScope): Checked | null;
  tried(tree: Tree, scope: FormulaScope): { checked: Checked | null; problems: readonly Problem[] };
  all(trees: readonly Tree[], scope: FormulaScope): Checked[] | null;
  want(wanted: ArgumentType, checked: Checked, tree: Tree, where: string): boolean;
  counted(tree: Tree & { kind: 'call' }, min: number, max: number, definition?: FunctionDefinition | null): boolean;
  scopeName(tree: Tree, scope: FormulaScope): string | null;
  found(found: Checked | Problem, tree: Tree): Checked | null;
  overRows(tree: Tree, request: RowsRequest, argument: Tree, numbersOnly: boolean, scope: FormulaScope): Checked | null;
}

type Call = Tree & { kind: 'call' };

/** Whether a total of what meets criteria is one of lists, and not of rows. */
export const isOfList = (checker: RowsChecker, tree: Call, name: ConditionalTotal, scope: FormulaScope): boolean => {
  const first = tree.arguments[0];
  const { values, several } = CONDITIONAL_TOTALS[name];
  if (!first || (name !== 'COUNTBLANK' && tree.arguments.length < 2)) return true;
  const asked = values && several ? [first, tree.arguments[1]!] : [first];
  return asked.some((one) => one.kind === 'list' || checker.tried(one, scope).checked?.type === 'list');
};

const ONE: Checked = { kind: 'literal', value: 1, type: 'number' };
const NOTHING: Tree = { kind: 'text', value: '', from: 0, to: 0 };

/** A total of the rows that meet criteria: `SUMIFS(amount; kind; "bunk"; quantity; ">1"; hut)`. */
export const checkConditional = (
  checker: RowsChecker,
  tree: Call,
  name: ConditionalTotal,
  scope: FormulaScope,
): Checked | null => {
  const { name: total, values, several } = CONDITIONAL_TOTALS[name];
  const list = [...tree.arguments];
  const last = list.at(-1)!;
  const fewest = name === 'COUNTBLANK' ? 1 : 2;
  const named = list.length > fewest ? checker.scopeName(last, scope) : null;
  if (named !== null) list.pop();
  if (name === 'COUNTBLANK') list.push(NOTHING);
  const own = several && values ? list.shift() : undefined;
  const beside = !several && values && list.length === 3 ? list.pop() : undefined;
  const pairs = list.length / 2;
  if (!Number.isInteger(pairs) || pairs < 1 || (!several && pairs !== 1)) {
    const { min, max } = FUNCTIONS[name]!;
    // Always too many or too few: it tells how many there may be.
    checker.counted({ ...tree, arguments: [] }, min, max);
    return null;
  }
  const counted = own ?? beside ?? list[0]!;
  let failed = false;
  const request: RowsRequest = { kind: total, scope: named, scopeAt: named === null ? undefined : last };
  const found = scope.rows(request, (inner) => {
    const checked = checker.all(list, inner);
    const value = values ? checker.check(counted, inner) : ONE;
    const fits =
      checked && value && (total === 'MIN' || total === 'MAX' || checker.want('number', value, counted, name));
    failed = !fits;
    if (!fits) return null;
    const conditions = Array.from({ length: pairs }, (_, i) => meeting(checked[2 * i]!, checked[2 * i + 1]!));
    return valueWhere(conditions, value);
  });
  return failed || !found ? null : checker.found(found, tree);
};

/** Arguments that are fields of rows, by their places, and the scope that the last one names. */
export interface RowsArguments {
  at: readonly number[];
  named: string | null;
  scopeAt: Tree | undefined;
}

/**
 * Which arguments of a function of lists are fields of rows: the values of all of them are meant, `LARGE(amount; 2; hut)`. The last one
 * may name the scope.
 */
export const argumentsOfRows = (
  checker: RowsChecker,
  tree: Call,
  { takes, isOfRows }: FunctionDefinition,
  scope: FormulaScope,
): { list: Tree[]; rows: RowsArguments | null } => {
  const all = tree.arguments;
  const last = all.at(-1);
  const named = all.length > 1 && last ? checker.scopeName(last, scope) : null;
  const list = named === null ? all : all.slice(0, -1);
  const isList = (i: number): boolean => {
    const type = takes[Math.min(i, takes.length - 1)]?.[1];
    return type === 'list' || (isOfRows === true && list.length === 1);
  };
  const at = list.flatMap((one, i) => (isList(i) && isFieldOfRows(checker, one, scope) ? [i] : []));
  if (at.length === 0) return { list: all, rows: null };
  return { list, rows: { at, named, scopeAt: named === null ? undefined : last } };
};

/** Whether a formula reads the fields of rows, here or in drawers further in, and gives no list. */
const isFieldOfRows = (checker: RowsChecker, tree: Tree, scope: FormulaScope): boolean => {
  if (tree.kind === 'list') return false;
  const { checked, problems } = checker.tried(tree, scope);
  if (!checked) return problems.some(({ code }) => code === 'needs-one-row');
  return checked.type !== 'list' && [...nodes(checked)].some(({ kind }) => kind === 'field');
};

/** Arguments of which some are lists of what all rows have: of several, what is of one row stays together. */
export const checkWithRows = (
  checker: RowsChecker,
  list: readonly Tree[],
  { at, named, scopeAt }: RowsArguments,
  scope: FormulaScope,
): Checked[] | null => {
  const request: RowsRequest = { kind: 'LIST', scope: named, scopeAt };
  const own = at.map((i) => list[i]!);
  const total =
    own.length === 1
      ? checker.overRows(own[0]!, request, own[0]!, false, scope)
      : listOfRows(checker, own, request, scope);
  if (!total) return null;
  const checked = list.map((one, i): Checked | null => {
    const place = at.indexOf(i);
    if (place < 0) return checker.check(one, scope);
    if (at.length === 1) return total;
    const number: Checked = { kind: 'literal', value: place, type: 'number' };
    return { kind: 'call', name: 'NTHS', arguments: [total, number], type: 'list' };
  });
  return checked.every((one) => one !== null) ? checked : null;
};

const listOfRows = (
  checker: RowsChecker,
  list: readonly Tree[],
  request: RowsRequest,
  scope: FormulaScope,
): Checked | null => {
  let failed = false;
  const found = scope.rows(request, (inner) => {
    const items = checker.all(list, inner);
    failed = items === null;
    return items && { kind: 'tuple', items, type: 'list' };
  });
  return failed || !found ? null : checker.found(found, list[0]!);
};
