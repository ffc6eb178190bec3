import type { Condition, Step } from '../definition/recipe.ts';
import type { Drawer, Report } from '../definition/schema.ts';
import { parseFormula } from '../formula/parse.ts';
import { treeNodes } from '../formula/tree.ts';
import { writtenParameters } from './written-parts.ts';

/** What decides on rows. */
type Decider = { formula: string } | { parameter: string } | { statement: string };

function* inCondition(condition: Condition): Iterable<Decider> {
  if ('formula' in condition) yield condition;
  else if ('field' in condition) {
    // Without a value such a comparison keeps everything, unless it is asked to compare with a blank.
    if (condition.to && 'parameter' in condition.to && condition.to.evenBlank)
      yield { parameter: condition.to.parameter };
  } else for (const part of 'all' in condition ? condition.all : condition.any) yield* inCondition(part);
}

function* inSteps(steps: readonly Step[]): Iterable<Decider> {
  for (const step of steps) {
    if (step.off) continue;
    if (step.step === 'keep') yield* inCondition(step.where);
    if (step.step === 'sql') yield { statement: step.text };
  }
}

function* inDrawers(drawers: readonly Drawer[]): Iterable<Decider> {
  for (const { filter, drawers: inner = [] } of drawers) {
    if (filter) yield { formula: filter };
    yield* inDrawers(inner);
  }
}

const inFormula = (source: string): string[] => {
  const parsed = parseFormula(source);
  if (!parsed.ok) return [];
  const all = [...treeNodes(parsed.tree)];
  const named = (list: typeof all): string[] =>
    list.flatMap((node) => {
      if (node.kind !== 'name') return [];
      const [first, second] = node.parts;
      return [first === 'parameters' && second ? second : first!];
    });
  const asked = all.flatMap((node) => (node.kind === 'call' && node.name === 'ISBLANK' ? named(node.arguments) : []));
  return named(all).filter((name) => !asked.includes(name));
};

const inStatement = (text: string): string[] =>
  writtenParameters(text).filter(
    (name) => !new RegExp(`:${name}(?:\\.(?:from|to))?(?:::\\w+)?\\s*\\)?\\s+is\\s+null`, 'i').test(text),
  );

/**
 * Names of parameters that keep rows away where they have no value: compared as they are in a formula or in a statement that
 * somebody wrote, without asking first whether they are blank. Of all others “all” is true where nothing was chosen.
 * `recipe`: the steps of a shared recipe by its id; null when it is not there.
 */
export const keepingAway = (
  report: Pick<Report, 'parameters'> & Partial<Pick<Report, 'queries' | 'body'>>,
  recipe: (id: string) => { steps: readonly Step[] } | null = () => null,
): string[] => {
  const deciders = [
    ...(report.queries ?? []).flatMap(({ steps, recipe: id }) => [
      ...inSteps(steps ?? (id === undefined ? [] : (recipe(id)?.steps ?? []))),
    ]),
    ...inDrawers(report.body ?? []),
  ];
  const named = new Set(
    deciders.flatMap((decider) =>
      'parameter' in decider
        ? [decider.parameter]
        : 'formula' in decider
          ? inFormula(decider.formula)
          : inStatement(decider.statement),
    ),
  );
  return report.parameters.map(({ name }) => name).filter((name) => named.has(name));
};
