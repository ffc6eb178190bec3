import type { Numeric } from '../value/number.ts';
import type { DataType } from '../value/value.ts';
import type { TotalName } from './functions.ts';
import type { BinaryOperator } from './tree.ts';

/** `any` only where nothing is known, as for a blank. */
export type CheckedType = DataType | 'any';

/**
 * A formula whose names are resolved and whose types are known. Compiles to closures and, where possible, to SQL.
 * `format` is the number-format code of the field that the value comes from, where there is one.
 */
export type Checked = { type: CheckedType; format?: string } & (
  | { kind: 'literal'; value: Numeric | string }
  | { kind: 'field'; level: number; column: number }
  | { kind: 'rows'; level: number }
  | { kind: 'parameter'; name: string }
  | { kind: 'claim'; name: string }
  | { kind: 'page'; value: 'number' | 'count' }
  | { kind: 'report'; value: 'name' | 'run_at' }
  | { kind: 'unary'; operator: '-' | '+' | '%'; operand: Checked }
  | { kind: 'binary'; operator: BinaryOperator; left: Checked; right: Checked }
  | { kind: 'call'; name: string; arguments: Checked[] }
  | { kind: 'if'; condition: Checked; yes: Checked; no: Checked | null }
  | { kind: 'iferror'; value: Checked; otherwise: Checked }
  | { kind: 'text'; value: Checked; pattern: Checked }
  | { kind: 'total'; slot: number; name: TotalName }
);

/** Every node below and including `tree`. */
export function* nodes(tree: Checked): Iterable<Checked> {
  yield tree;
  switch (tree.kind) {
    case 'unary':
      yield* nodes(tree.operand);
      return;
    case 'binary':
      yield* nodes(tree.left);
      yield* nodes(tree.right);
      return;
    case 'call':
      for (const argument of tree.arguments) yield* nodes(argument);
      return;
    case 'if':
      yield* nodes(tree.condition);
      yield* nodes(tree.yes);
      if (tree.no) yield* nodes(tree.no);
      return;
    case 'iferror':
      yield* nodes(tree.value);
      yield* nodes(tree.otherwise);
      return;
    case 'text':
      yield* nodes(tree.value);
      yield* nodes(tree.pattern);
      return;
    case 'literal':
    case 'field':
    case 'rows':
    case 'parameter':
    case 'claim':
    case 'page':
    case 'report':
    case 'total':
      return;
    default:
      tree satisfies never;
  }
}

/** How a formula depends on the page it lands on. */
export const pageDependence = (tree: Checked): 'none' | 'number' | 'count' => {
  let found: 'none' | 'number' | 'count' = 'none';
  for (const node of nodes(tree)) {
    if (node.kind !== 'page') continue;
    if (node.value === 'count') return 'count';
    found = 'number';
  }
  return found;
};
