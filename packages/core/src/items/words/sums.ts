import type { PieceSum } from '../../content/pieces.ts';
import type { Checked } from '../../formula/checked.ts';
import { isNumeric, numericText, toNumber } from '../../value/number.ts';

/** Deepest formula that becomes one of a spreadsheet. */
const DEEPEST = 12;

const OPERATORS: Readonly<Record<string, '+' | '-' | '*' | '/'>> = { '+': '+', '-': '-', '*': '*', '/': '/' };

/**
 * A formula that does no more than calculate with numbers, as a spreadsheet works it out from the cells beside it; null for one that does
 * anything else, or has no parts. `sourceOf`: what tells a formula from all others.
 */
export const sumOf = (formula: Checked, sourceOf: (part: Checked) => string): PieceSum | null => {
  const visit = (part: Checked, depth: number): PieceSum | null => {
    if (depth > DEEPEST || part.type !== 'number') return null;
    if (part.kind === 'literal') return isNumeric(part.value) ? { number: numericText(part.value) } : null;
    const of = depth > 0 ? { of: sourceOf(part) } : null;
    if (part.kind === 'unary') {
      const inner = part.operator === '-' ? visit(part.operand, depth + 1) : null;
      return inner ? { ...of, operator: '-', parts: [inner] } : of;
    }
    if (part.kind === 'call' && part.name === 'ROUND') {
      const [value, digits] = part.arguments;
      const inner = value && visit(value, depth + 1);
      const round = digits?.kind === 'literal' && isNumeric(digits.value) ? toNumber(digits.value) : digits ? null : 0;
      return inner && round !== null && Number.isInteger(round) ? { ...of, round, part: inner } : of;
    }
    if (part.kind !== 'binary') return of;
    const operator = OPERATORS[part.operator];
    const left = operator && visit(part.left, depth + 1);
    const right = left && visit(part.right, depth + 1);
    return operator && left && right ? { ...of, operator, parts: [left, right] } : of;
  };
  const sum = visit(formula, 0);
  return sum && ('operator' in sum || 'round' in sum) ? sum : null;
};
