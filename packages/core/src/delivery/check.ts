import { readParameters } from '../data/parameters.ts';
import type { Report } from '../definition/schema.ts';
import type { Field } from '../model/model.ts';
import { type Problem, problem } from '../problems/problem.ts';
import { didYouMean, hasPhrase } from '../problems/suggest.ts';
import { Moment } from '../value/date.ts';
import { type DeliveryScope, factParameters, messageProblems } from './message.ts';
import type { Delivery, Target } from './schema.ts';
import { deliveredValues } from './values.ts';

/** What a delivery is held against. */
export interface DeliveryContext {
  report: Pick<Report, 'name' | 'language' | 'timeZone' | 'parameters'>;
  /** Of the rows that get a part each; null: there are none. */
  fields: readonly Field[] | null;
  /** Names that the application registered; null: what they stand for was not registered at all. */
  folders: readonly string[];
  addresses: readonly string[];
  printers: readonly string[];
  hasMail: boolean;
  /** The application says who people are. */
  hasPeople: boolean;
  /** Milliseconds since 1970. */
  now: number;
}

/** The formulas of a delivery’s values see the row alone; those of its words also what is known of the run. */
export const scopesOf = (
  { report, fields }: Pick<DeliveryContext, 'report' | 'fields'>,
  now: number,
): { values: DeliveryScope; words: DeliveryScope } => {
  const { name, language, timeZone } = report;
  const about = { name, language, timeZone, runAt: new Moment(now) };
  return {
    values: { fields: fields ?? [], parameters: factParameters().filter((one) => one.name === 'date'), report: about },
    words: { fields: fields ?? [], parameters: factParameters(report.parameters), report: about },
  };
};

const inPath = (problems: readonly Problem[], path: string): Problem[] =>
  problems.map((one) => ({ ...one, place: { ...one.place, path } }));

/** What is wrong with a delivery, each with the path of what it is about; empty when it can go. */
export const deliveryProblems = (delivery: Delivery, context: DeliveryContext): Problem[] => {
  const { report, fields, now } = context;
  const scopes = scopesOf(context, now);
  const { values, each, to, fileName, files } = delivery;
  const problems: Problem[] = [];
  const known = (path: string, field: string): void => {
    const names = (fields ?? []).map((one) => one.name);
    if (!names.includes(field))
      problems.push(
        problem('delivery-field-unknown', { path }, { name: field, hint: didYouMean(field, names, hasPhrase(names)) }),
      );
  };
  for (const [name, value] of Object.entries(values)) {
    if (typeof value !== 'object' || Array.isArray(value) || !('formula' in value)) continue;
    problems.push(...inPath(messageProblems(`{${value.formula}}`, scopes.values), `values/${name}`));
  }
  if (each === undefined && problems.length === 0) {
    const worked = deliveredValues(values, report.parameters, scopes.values);
    problems.push(...worked.problems);
    if (worked.problems.length === 0)
      problems.push(...readParameters(report, worked.values, { now }).problems.filter(isAboutGiven));
  }
  if (each?.person !== undefined) known('each/person', each.person);
  if (each?.rowsOf === 'person' && each.person === undefined)
    problems.push(problem('delivery-needs-person', { path: 'each' }));
  if (each?.person !== undefined && !context.hasPeople)
    problems.push(problem('delivery-no-people', { path: 'each/person' }));
  if (fileName !== undefined) problems.push(...inPath(messageProblems(fileName, scopes.words), 'fileName'));
  for (const [i, target] of to.entries()) {
    const path = `to/${i}`;
    problems.push(...targetProblems(target, path, context));
    if (target.kind !== 'mail') continue;
    problems.push(...inPath(messageProblems(target.subject, scopes.words), `${path}/subject`));
    problems.push(...inPath(messageProblems(target.words, scopes.words), `${path}/words`));
    for (const [j, recipient] of target.to.entries()) {
      const at = `${path}/to/${j}`;
      if ('field' in recipient) known(at, recipient.field);
      if ('person' in recipient && each?.person === undefined)
        problems.push(problem('delivery-needs-person', { path: at }));
      if (('user' in recipient || 'group' in recipient) && !context.hasPeople)
        problems.push(problem('delivery-no-people', { path: at }));
    }
  }
  if (files.length === 0 && to.some(({ kind }) => kind !== 'kept' && kind !== 'mail'))
    problems.push(problem('delivery-no-files', { path: 'files' }));
  return problems;
};

/** The host’s own values are those of whoever the delivery runs as. */
const isAboutGiven = ({ code }: Problem): boolean => code !== 'missing-parameter';

const targetProblems = (target: Target, path: string, context: DeliveryContext): Problem[] => {
  const named = (name: string, names: readonly string[]): Problem[] =>
    names.includes(name)
      ? []
      : [problem('delivery-target-unknown', { path }, { name, hint: didYouMean(name, names, hasPhrase(names)) })];
  switch (target.kind) {
    case 'mail':
      return context.hasMail ? [] : [problem('delivery-no-mail', { path })];
    case 'folder':
      return named(target.name, context.folders);
    case 'address':
      return named(target.name, context.addresses);
    case 'printer':
      return named(target.name, context.printers);
    case 'kept':
      return [];
    default:
      return target satisfies never;
  }
};
