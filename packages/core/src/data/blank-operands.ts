import { type Checked, nodes, partsOf } from '../formula/checked.ts';
import type { Level } from './level.ts';

/** A field that a product reads, of which a blank counts as nothing. */
export interface BlankOperand {
  formula: Checked;
  /** As people see it. */
  label: string;
}

const isProduct = (node: Checked): node is Checked & { kind: 'binary' } =>
  node.kind === 'binary' && (node.operator === '*' || node.operator === '/' || node.operator === '^');

/** A field of a row, as formulas read it: two that are alike bring the same. */
const keyOf = (node: Checked): string | null => (node.kind === 'field' ? `${node.level} ${node.column}` : null);

/**
 * Fields that are multiplied, divided or raised as they are, so that a row without a value shows 0 there; those that the formula
 * itself asks whether they are blank are left out.
 */
export const blankOperands = (formula: Checked, levels: readonly Level[]): BlankOperand[] => {
  const all = [...nodes(formula)];
  const products = all.filter(isProduct);
  if (products.length === 0) return [];
  const asked = new Set(
    all.flatMap((node) => (node.kind === 'call' && node.name === 'ISBLANK' ? node.arguments.map(keyOf) : [])),
  );
  const found = new Map<string, BlankOperand>();
  for (const operand of products.flatMap(partsOf)) {
    const key = keyOf(operand);
    if (key === null || operand.kind !== 'field' || asked.has(key)) continue;
    const column = levels[operand.level]?.columns[operand.column - 1];
    if (column?.kind === 'field') found.set(key, { formula: operand, label: column.field.label });
  }
  return [...found.values()];
};
