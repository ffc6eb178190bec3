import type { Numeric } from '../value/number.ts';

/** A stretch of a formula's text. */
export interface Stretch {
  /** 0-based place in the formula's text, end exclusive. */
  from: number;
  to: number;
}

export type BinaryOperator = '+' | '-' | '*' | '/' | '^' | '&' | '=' | '<>' | '<' | '>' | '<=' | '>=';

/** A parsed formula, before any name is looked up. */
export type Tree = Stretch &
  (
    | { kind: 'number'; value: Numeric }
    | { kind: 'text'; value: string }
    | { kind: 'list'; items: Tree[] }
    | { kind: 'name'; parts: string[] }
    | { kind: 'unary'; operator: '-' | '+' | '%'; operand: Tree }
    | { kind: 'binary'; operator: BinaryOperator; left: Tree; right: Tree }
    | { kind: 'call'; name: string; arguments: Tree[] }
  );

/** Every part of a formula, itself first. */
export function* treeNodes(tree: Tree): Iterable<Tree> {
  const waiting = [tree];
  for (let node = waiting.pop(); node; node = waiting.pop()) {
    yield node;
    switch (node.kind) {
      case 'list':
        waiting.push(...node.items);
        break;
      case 'unary':
        waiting.push(node.operand);
        break;
      case 'binary':
        waiting.push(node.right, node.left);
        break;
      case 'call':
        waiting.push(...node.arguments);
        break;
      case 'number':
      case 'text':
      case 'name':
        break;
      default:
        node satisfies never;
    }
  }
}
