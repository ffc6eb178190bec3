import type { Numeric } from '../value/number.ts';
import type { DataType } from '../value/value.ts';
import type { TotalName } from './functions/index.ts';
import type { BinaryOperator } from './tree.ts';

/** A value that means something, and what. */
export interface Choice {
  value: string;
  label: string;
}

/** `any` only where nothing is known, as for a blank. */
export type CheckedType = DataType | 'list' | 'any';

/** Values of the page that a formula lands on. `part` is the stretch of pages since the numbering last started anew. */
export type PageValue = 'number' | 'count' | 'partNumber' | 'partCount' | 'room';

/**
 * A formula whose names are resolved and whose types are known. Compiles to closures and, where possible, to SQL.
 * `format` is the number-format code of the field that the value comes from, where there is one.
 */
export type Checked = { type: CheckedType; format?: string } & (
  | { kind: 'literal'; value: Numeric | string }
  | { kind: 'list'; items: Checked[] }
  /** Values side by side, whatever each of them is: an error of one leaves the others as they are. */
  | { kind: 'tuple'; items: Checked[] }
  /** `choices`: what its coded values mean. */
  | { kind: 'field'; level: number; column: number; choices?: readonly Choice[] }
  | { kind: 'rows'; level: number }
  /** `range`: a stretch of days or time, whose ends are parameters of their own, `name.from` and `name.to`; `of`: what a list holds. */
  | {
      kind: 'parameter';
      name: string;
      range?: 'date' | 'datetime';
      of?: 'text' | 'number';
      choices?: readonly Choice[];
    }
  | { kind: 'claim'; name: string }
  | { kind: 'page'; value: PageValue }
  | { kind: 'report'; value: 'name' | 'run_at' }
  | { kind: 'unary'; operator: '-' | '+' | '%'; operand: Checked }
  | { kind: 'binary'; operator: BinaryOperator; left: Checked; right: Checked }
  | { kind: 'call'; name: string; arguments: Checked[] }
  | { kind: 'if'; condition: Checked; yes: Checked; no: Checked | null }
  /** `missing`: only #N/A is caught. */
  | { kind: 'iferror'; value: Checked; otherwise: Checked; missing: boolean }
  | { kind: 'iserror'; value: Checked }
  | { kind: 'text'; value: Checked; pattern: Checked }
  /** A value that is worked out once, and read in `body` wherever `bound` stands: it means the innermost one around. */
  | { kind: 'bind'; value: Checked; body: Checked }
  | { kind: 'bound' }
  /** A total of values at hand, not of rows. */
  | { kind: 'aggregate'; name: TotalName; arguments: Checked[] }
  | { kind: 'total'; slot: number; name: TotalName | 'RANK' }
  /** A formula's value on the row before. */
  | { kind: 'previous'; level: number; formula: Checked }
);

/** The type that all have in common; of those that may be anything nothing is known. */
export const commonType = (list: readonly Checked[]): CheckedType => {
  const known = list.filter((one) => one.type !== 'any');
  return known.length > 0 && known.every((one) => one.type === known[0]!.type) ? known[0]!.type : 'any';
};

/** The formulas that a formula is made of. */
export const partsOf = (tree: Checked): readonly Checked[] => {
  switch (tree.kind) {
    case 'unary':
      return [tree.operand];
    case 'binary':
      return [tree.left, tree.right];
    case 'call':
    case 'aggregate':
      return tree.arguments;
    case 'list':
    case 'tuple':
      return tree.items;
    case 'if':
      return tree.no ? [tree.condition, tree.yes, tree.no] : [tree.condition, tree.yes];
    case 'iferror':
      return [tree.value, tree.otherwise];
    case 'iserror':
      return [tree.value];
    case 'text':
      return [tree.value, tree.pattern];
    case 'previous':
      return [tree.formula];
    case 'bind':
      return [tree.value, tree.body];
    case 'bound':
    case 'literal':
    case 'field':
    case 'rows':
    case 'parameter':
    case 'claim':
    case 'page':
    case 'report':
    case 'total':
      return [];
    default:
      return tree satisfies never;
  }
};

/** A formula made of other parts, in the order of {@link partsOf}. */
export const withParts = (tree: Checked, change: (part: Checked) => Checked): Checked => {
  switch (tree.kind) {
    case 'unary':
      return { ...tree, operand: change(tree.operand) };
    case 'binary':
      return { ...tree, left: change(tree.left), right: change(tree.right) };
    case 'call':
    case 'aggregate':
      return { ...tree, arguments: tree.arguments.map(change) };
    case 'list':
    case 'tuple':
      return { ...tree, items: tree.items.map(change) };
    case 'if': {
      const { condition, yes, no } = tree;
      return { ...tree, condition: change(condition), yes: change(yes), no: no && change(no) };
    }
    case 'iferror':
      return { ...tree, value: change(tree.value), otherwise: change(tree.otherwise) };
    case 'iserror':
      return { ...tree, value: change(tree.value) };
    case 'text':
      return { ...tree, value: change(tree.value), pattern: change(tree.pattern) };
    case 'previous':
      return { ...tree, formula: change(tree.formula) };
    case 'bind':
      return { ...tree, value: change(tree.value), body: change(tree.body) };
    case 'bound':
    case 'literal':
    case 'field':
    case 'rows':
    case 'parameter':
    case 'claim':
    case 'page':
    case 'report':
    case 'total':
      return tree;
    default:
      return tree satisfies never;
  }
};

/** Every node below and including `tree`. */
export function* nodes(tree: Checked): Iterable<Checked> {
  const waiting = [tree];
  for (let node = waiting.pop(); node; node = waiting.pop()) {
    yield node;
    waiting.push(...[...partsOf(node)].reverse());
  }
}

/** Works a value out once for a formula that reads it in several places; what is read for nothing is not bound. */
export const bound = (value: Checked, body: (read: Checked) => Checked): Checked => {
  if (partsOf(value).length === 0) return body(value);
  const { type, format } = value;
  const whole = body({ kind: 'bound', type, ...(format ? { format } : {}) });
  return { kind: 'bind', value, body: whole, type: whole.type, ...(whole.format ? { format: whole.format } : {}) };
};

/** How deep formulas lie inside one another; 1 for a formula without parts. */
export const depthOf = (tree: Checked): number => {
  let deepest = 0;
  const waiting: { node: Checked; depth: number }[] = [{ node: tree, depth: 1 }];
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    deepest = Math.max(deepest, next.depth);
    for (const node of partsOf(next.node)) waiting.push({ node, depth: next.depth + 1 });
  }
  return deepest;
};

/** When the page values that a formula reads are known: at once, on the page it lands on, or after the last page. */
export const pageDependence = (tree: Checked): 'none' | 'number' | 'count' => {
  let found: 'none' | 'number' | 'count' = 'none';
  for (const node of nodes(tree)) {
    if (node.kind !== 'page') continue;
    if (node.value === 'count' || node.value === 'partCount') return 'count';
    found = 'number';
  }
  return found;
};

/** Large numbers are no JSON as they are. */
const plainNumbers = (_: string, value: unknown): unknown => (typeof value === 'bigint' ? String(value) : value);

/** The same for two formulas of a plan exactly when they are made of the same. */
export const formulaKey = (tree: Checked): string => JSON.stringify(tree, plainNumbers);
