import { type Checked, nodes } from '../formula/checked.ts';
import { STRENGTH } from '../formula/parse.ts';
import { numericText } from '../value/number.ts';

/** What a formula is put into words with. */
export interface FormulaNames {
  /** Label of a field, or of what stands in a column. */
  field: (level: number, column: number) => string;
  /** What rows are called. */
  rows: (level: number) => string;
  total: (slot: number) => string;
}

/** Longer texts are cut. */
const LONGEST = 300;

/** A formula as it is read, with labels in the place of names: `Quantity × Unit price` as `Quantity * Unit price`. */
export const formulaWords = (formula: Checked, names: FormulaNames): string => {
  const text = worded(formula, names, [], 0);
  return text.length <= LONGEST ? text : `${text.slice(0, LONGEST - 1)}…`;
};

const worded = (tree: Checked, names: FormulaNames, bound: readonly string[], around: number): string => {
  const word = (part: Checked, binds = 0): string => worded(part, names, bound, binds);
  const list = (parts: readonly Checked[]): string => parts.map((part) => word(part)).join('; ');
  switch (tree.kind) {
    case 'literal':
      return typeof tree.value === 'string' ? JSON.stringify(tree.value) : numericText(tree.value);
    case 'field':
      return names.field(tree.level, tree.column);
    case 'rows':
      return names.rows(tree.level);
    case 'total':
      return names.total(tree.slot);
    case 'parameter':
    case 'claim':
      return tree.name;
    case 'page':
      return `page.${tree.value}`;
    case 'report':
      return `report.${tree.value}`;
    case 'unary':
      return tree.operator === '%' ? `${word(tree.operand, 6)}%` : `${tree.operator}${word(tree.operand, 6)}`;
    case 'binary': {
      const binds = STRENGTH[tree.operator];
      const text = `${word(tree.left, binds)} ${tree.operator} ${word(tree.right, binds + 1)}`;
      return binds < around ? `(${text})` : text;
    }
    case 'if':
      return `IF(${list(tree.no ? [tree.condition, tree.yes, tree.no] : [tree.condition, tree.yes])})`;
    case 'iferror':
      return `${tree.missing ? 'IFNA' : 'IFERROR'}(${list([tree.value, tree.otherwise])})`;
    case 'iserror':
      return `ISERROR(${word(tree.value)})`;
    case 'text':
      return `TEXT(${list([tree.value, tree.pattern])})`;
    case 'previous':
      return `PREVIOUS(${word(tree.formula)})`;
    case 'call':
    case 'aggregate':
      return `${tree.name}(${list(tree.arguments)})`;
    case 'list':
      return `{${list(tree.items)}}`;
    case 'tuple':
      return list(tree.items);
    case 'bind':
      return worded(tree.body, names, [...bound, word(tree.value, 6)], around);
    case 'bound':
      return bound.at(-1) ?? '';
    default:
      return tree satisfies never;
  }
};

/** Names of the parameters that a formula reads. */
export const parametersIn = (formula: Checked, into: Set<string>): void => {
  // A range is read by its ends.
  for (const node of nodes(formula)) if (node.kind === 'parameter') into.add(node.name.replace(/\.(?:from|to)$/, ''));
};
