import type { Parameter } from '../definition/schema.ts';
import { parseFormula } from '../formula/parse.ts';
import { treeNodes } from '../formula/tree.ts';

/** The names that a formula reads, each with its parts joined by dots; none of one that is no formula. */
export const namesIn = (source: string): string[] => {
  const parsed = parseFormula(source);
  return parsed.ok ? [...treeNodes(parsed.tree)].flatMap((n) => (n.kind === 'name' ? [n.parts.join('.')] : [])) : [];
};

/** Parameters whose choices follow another one: their condition reads it. In the order in which they are asked for. */
export const followersOf = (parameters: readonly Parameter[], name: string): Parameter[] =>
  parameters.filter(
    (p) =>
      p.name !== name &&
      namesIn(p.choicesFrom?.where ?? '').some(
        (read) => read === name || read.startsWith(`${name}.`) || read === `parameters.${name}`,
      ),
  );
