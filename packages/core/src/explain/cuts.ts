import type { Level } from '../data/level.ts';
import type { ReportPlan } from '../data/planned.ts';
import type { Checked } from '../formula/checked.ts';
import type { PlannedRecipe } from '../recipe/planned.ts';
import type { RowsCut } from './explanation.ts';
import { formulaWords, parametersIn } from './formula-words.ts';

/** What cuts the rows of levels, outermost first: their queries, their filters, and how many of them are shown. */
export const cutsOf = (plan: ReportPlan, levels: readonly Level[]): RowsCut[] =>
  levels.flatMap(({ drawer, entity, groups }): RowsCut[] => {
    const query = plan.queries.get(entity.name);
    const { filter, first } = drawer;
    const name = entity.plural;
    return [
      ...(query ? cutsOfQuery(query) : []),
      ...(filter ? [{ kind: 'filter' as const, drawer: name, formula: filter.trim() }] : []),
      ...(first === undefined ? [] : [{ kind: 'first' as const, drawer: name, count: first }]),
      ...groups.flatMap(({ group }) =>
        group.first === undefined ? [] : [{ kind: 'first' as const, drawer: name, count: group.first }],
      ),
    ];
  });

const cutsOfQuery = ({ label, steps }: PlannedRecipe): RowsCut[] => [
  { kind: 'query', query: label },
  ...steps.flatMap(({ operation, fields }): RowsCut[] =>
    operation?.kind === 'keep'
      ? [
          {
            kind: 'keep',
            query: label,
            formula: formulaWords(operation.formula, {
              field: (_, column) => fields[column - 1]?.label ?? '',
              rows: () => '',
              total: () => '',
            }),
          },
        ]
      : [],
  ),
];

/** Names of the parameters that decide on a value: those of its formula, and of what cuts the rows of levels. */
export const parametersOf = (plan: ReportPlan, formula: Checked, levels: readonly Level[], into: Set<string>): void => {
  const known = new Set(plan.report.parameters.filter((one) => !one.hidden && !one.fromHost).map(({ name }) => name));
  const found = new Set<string>();
  parametersIn(formula, found);
  for (const { pushedFilter, localFilter, entity } of levels) {
    for (const filter of [pushedFilter, localFilter]) if (filter) parametersIn(filter, found);
    const query = plan.queries.get(entity.name);
    for (const { operation } of query?.steps ?? [])
      for (const part of Object.values(operation ?? {})) if (isFormula(part)) parametersIn(part, found);
  }
  for (const name of found) if (known.has(name)) into.add(name);
};

const isFormula = (part: unknown): part is Checked =>
  typeof part === 'object' && part !== null && 'kind' in part && 'type' in part;
