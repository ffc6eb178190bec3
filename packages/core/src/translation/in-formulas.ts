import { parseFormula } from '../formula/parse.ts';
import { type Tree, treeNodes } from '../formula/tree.ts';

/** A text in a formula that readers read: that of SAY, or the forms of a word that PLURAL chooses from. */
export interface FormulaText {
  /** As it is looked up: the text itself, or the forms with ` | ` between them. */
  text: string;
  isPlural: boolean;
  /** Where its literals stand in the formula, end exclusive. */
  from: number;
  to: number;
}

export const FORMS = ' | ';

/** The texts of a formula that readers read, in order; none where it cannot be read. */
export const textsInFormula = (source: string): FormulaText[] => {
  // Most formulas name neither, and need not be read.
  if (!/\b(?:SAY|PLURAL)\s*\(/i.test(source)) return [];
  const parsed = parseFormula(source);
  if (!parsed.ok) return [];
  return [...treeNodes(parsed.tree)].flatMap((node) => textOf(node) ?? []).sort((a, b) => a.from - b.from);
};

const textOf = (node: Tree): FormulaText | null => {
  if (node.kind !== 'call') return null;
  const name = node.name.toUpperCase();
  const given = name === 'SAY' ? node.arguments : name === 'PLURAL' ? node.arguments.slice(1) : [];
  const texts = given.map((one) => (one.kind === 'text' ? one.value : null));
  if (texts.length === 0 || texts.includes(null)) return null;
  const isPlural = name === 'PLURAL';
  return { text: texts.join(FORMS), isPlural, from: given[0]!.from, to: given.at(-1)!.to };
};

/** The formula with its texts as `say` has them. */
export const formulaSaying = (source: string, say: (text: string) => string): string => {
  let next = source;
  for (const { text, isPlural, from, to } of textsInFormula(source).reverse()) {
    const said = say(text);
    if (said === text) continue;
    const forms = isPlural ? said.split(FORMS) : [said];
    next = `${next.slice(0, from)}${forms.map(written).join('; ')}${next.slice(to)}`;
  }
  return next;
};

const written = (text: string): string => `"${text.replaceAll('"', '""')}"`;
