import type { ItemPlanning, PlanItem } from '../../data/item-planning.ts';
import type { Level, SubreportLink } from '../../data/level.ts';
import type { PlannedOwn } from '../../data/planned.ts';
import { Planner } from '../../data/planner.ts';
import type { ItemOf, Parameter, Report } from '../../definition/schema.ts';
import { typePhrase } from '../../formula/check.ts';
import type { Checked } from '../../formula/checked.ts';
import { takesType } from '../../model/parameter-names.ts';
import { parameterType, rangeOf } from '../../model/parameter-types.ts';
import { type Phrase, phrase } from '../../problems/phrases.ts';
import { type Problem, problem } from '../../problems/problem.ts';
import { hasPhrase } from '../../problems/suggest.ts';

/** Most nested reports that one report plans, each place where one stands counted, and how deep they may lie. */
const MOST_NESTED = 100;
const DEEPEST_NESTED = 20;

export const planSubreport: PlanItem<'subreport'> = (item, planning) => {
  const { planner, standing, place, band } = planning;
  const refuse = (found: Problem): PlannedOwn => {
    planner.found(found);
    return {};
  };
  if (band.isPage) return refuse(problem('subreport-in-page-band', place));
  const nested = planner.context.report(item.report);
  if (!nested) return refuse(problem('unknown-subreport', place, { name: item.report }));
  if (planner.ids.includes(item.report)) {
    return refuse(problem('subreport-cycle', place, { path: [...planner.chain, nested.name].join(' → ') }));
  }
  if (planner.ids.length >= DEEPEST_NESTED || ++planner.family.nested > MOST_NESTED)
    return refuse(problem('too-many-subreports', place, { limit: MOST_NESTED, deepest: DEEPEST_NESTED }));
  const values: Record<string, Checked> = {};
  for (const [name, source] of Object.entries(item.links)) {
    // Without the link the report would show the rows of every other row as well.
    const parameter = nested.parameters.find((p) => p.name === name);
    if (!parameter) return refuse(problem('unknown-link', place, { report: nested.name, name }));
    if (parameter.fromHost) return refuse(problem('link-from-host', place, { report: nested.name, name }));
    const formula = planning.optional(source, `links/${name}`);
    const linked = formula && linkedValues(planning, parameter, formula);
    if (!linked) return {};
    Object.assign(values, linked);
    if (isAmbiguous(formula, standing.current, nested, name))
      planner.found(problem('link-not-unique', place, { report: nested.name, name, link: source }, 'warning'));
  }
  for (const p of nested.parameters) {
    const hasDefault = p.default !== undefined || p.defaultFormula !== undefined || p.fromHost;
    if (p.required && !hasDefault && !(p.name in item.links)) {
      return refuse(problem('missing-link', place, { report: nested.name, name: p.name }));
    }
  }
  const rows = sharedRows(item, planning);
  if (rows && rows !== 'current' && 'code' in rows) return refuse(rows);
  const link: SubreportLink = { item: item.id, outer: standing.current, values, rows };
  const inner = new Planner(
    nested,
    planner.context,
    planner.plan,
    [...planner.chain, nested.name],
    link,
    [...planner.ids, item.report],
    planner.family,
  );
  const plan = planner.plan(inner);
  planner.problems.push(...plan.problems);
  return { nested: { plan, link } };
};

/** What is linked to a parameter: of a range, its ends as well. Null, which is told, when its type does not fit. */
const linkedValues = (
  { planner, part }: ItemPlanning,
  parameter: Parameter,
  formula: Checked,
): Record<string, Checked> | null => {
  const { name } = parameter;
  const range = rangeOf(parameter);
  const refuse = (expected: Phrase, given: Phrase): null => {
    const data = { where: phrase('link-of', { name }), expected, given };
    planner.found(problem('wrong-type', part(`links/${name}`), data));
    return null;
  };
  if (!range)
    return takesType(parameter, formula.type)
      ? { [name]: formula }
      : refuse(typePhrase(parameterType(parameter)), typePhrase(formula.type));
  if (formula.kind === 'parameter' && formula.range === range) {
    const end = (which: string): Checked => ({ kind: 'parameter', name: `${formula.name}.${which}`, type: range });
    return { [name]: formula, [`${name}.from`]: end('from'), [`${name}.to`]: end('to') };
  }
  return refuse(phrase('same-parameter'), phrase('something-else'));
};

/** The rows of this report that a nested one shows. */
const sharedRows = (
  { rows }: ItemOf<'subreport'>,
  { standing, place }: ItemPlanning,
): SubreportLink['rows'] | Problem => {
  const outer = standing.current;
  if (!rows) return null;
  if (!outer) return problem('shared-rows-without-row', place);
  if (rows === 'current') return 'current';
  const relation = outer.entity.relations.find((r) => r.name === rows.relation);
  if (!relation) {
    const data = {
      entity: outer.entity.name,
      name: rows.relation,
      hint: hasPhrase(outer.entity.relations.map((r) => r.name)),
    };
    return problem('unknown-relation', place, data);
  }
  for (const { here } of relation.on) outer.linkKeys.add(here);
  return { relation };
};

/**
 * Whether a link is likely to bring rows of others along: it gives a text, as a name, of a row that has a key of its own,
 * and the nested report chooses its rows by it. Two rows of one name would show the rows of both.
 */
const isAmbiguous = (formula: Checked, outer: Level | null, nested: Report, parameter: string): boolean => {
  if (formula.kind !== 'field' || formula.type !== 'text' || formula.level !== outer?.index) return false;
  const column = outer.columns[formula.column - 1];
  if (column?.kind !== 'field' || column.path.length !== 1 || column.path[0] === outer.entity.key) return false;
  const filter = nested.body.map(({ filter }) => filter ?? '').join(' ');
  return new RegExp(`(?<![\\p{L}\\p{N}_])${parameter}(?![\\p{L}\\p{N}_])`, 'u').test(filter);
};
