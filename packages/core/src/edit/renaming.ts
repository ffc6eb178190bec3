import { produce } from 'immer';
import type { NameMeaning, NameUse } from '../data/names.ts';
import { planReport } from '../data/plan.ts';
import type { PlanContext } from '../data/planned.ts';
import { reportModel } from '../data/report-model.ts';
import type { Parameter, Report } from '../definition/schema.ts';
import { findDrawer } from '../definition/walk.ts';
import { tokenize, writtenName } from '../formula/tokens.ts';
import { findEntity, type Model } from '../model/model.ts';
import type { Settings } from './edit.ts';

const keyOf = (meaning: NameMeaning): string =>
  [meaning.kind, 'drawer' in meaning ? meaning.drawer : '', 'name' in meaning ? meaning.name : ''].join('/');

/** Every use of a part's name in the report's own formulas, calculated fields included; parameters and queries are not read. */
export const usesOf = (report: Report, meaning: NameMeaning, context: PlanContext): NameUse[] => {
  const uses = new Map<string, NameUse>();
  planReport(report, {
    ...context,
    onName: (use) => {
      if (keyOf(use.meaning) === keyOf(meaning)) uses.set(JSON.stringify(use), use);
    },
  });
  return [...uses.values()];
};

/**
 * The report with another name for one of its parts, there and in every formula that means it. What has the same name and
 * means something else stays. `to` must be a free identifier.
 */
export const renamePart = (report: Report, part: NameMeaning, to: string, context: PlanContext): Report => {
  const uses = usesOf(report, part, context);
  return produce(report, (draft) => {
    for (const [path, sources] of bySource(uses)) {
      const at = path.split('/');
      const key = at.pop()!;
      const holder = at.reduce<unknown>((value, step) => (value as Settings | undefined)?.[step], draft);
      if (typeof holder === 'object' && holder !== null) rewrite(holder as Settings, key, sources, to);
    }
    if (part.kind === 'parameter') {
      const old = part.name;
      const { model } = reportModel(report, context);
      draft.parameters = report.parameters.map((parameter) => {
        const next = renamedIn(parameter, old, to, PARAMETER_FORMULAS) as Parameter;
        const { choicesFrom: from } = parameter;
        // There the name means a field of the rows that are chosen from.
        if (from?.where && entityFields(model, from.rows).has(old)) next.choicesFrom = from;
        return parameter.name === old ? { ...next, name: to } : next;
      });
      if (typeof draft.languageFrom === 'object' && draft.languageFrom.parameter === old)
        draft.languageFrom = { parameter: to };
      if (report.queries) draft.queries = renamedIn(report.queries, old, to, QUERY_FORMULAS) as Report['queries'];
      return;
    }
    const drawer = findDrawer(draft as Report, part.drawer)?.drawer;
    if (!drawer) return;
    if (part.kind === 'drawer') drawer.name = to;
    const list = part.kind === 'group' ? drawer.groups : part.kind === 'calculated' ? drawer.calculated : [];
    for (const one of list ?? []) if ('name' in part && one.name === part.name) one.name = to;
  });
};

const entityFields = (model: Model | null, name: string): Set<string> =>
  new Set((model && findEntity(model, name))?.fields.map((f) => f.name));

/** Uses of each formula, by where it stands. */
const bySource = (uses: readonly NameUse[]): Map<string, Map<string, NameUse[]>> => {
  const paths = new Map<string, Map<string, NameUse[]>>();
  for (const use of uses) {
    const sources = paths.get(use.path) ?? new Map<string, NameUse[]>();
    paths.set(use.path, sources);
    sources.set(use.source, [...(sources.get(use.source) ?? []), use]);
  }
  return paths;
};

/** A formula where it stands by itself, or those of an item, a calculated field or a sort. */
const rewrite = (holder: Settings, key: string, sources: ReadonlyMap<string, NameUse[]>, to: string): void => {
  const value = holder[key];
  if (typeof value === 'string') {
    const uses = sources.get(value);
    if (uses) holder[key] = withName(value, uses, to);
    return;
  }
  if (typeof value !== 'object' || value === null) return;
  const own = value as Settings;
  for (const name of ['formula', 'by']) if (typeof own[name] === 'string') rewrite(own, name, sources, to);
  if (Array.isArray(own.content))
    for (const i of own.content.keys()) rewrite(own.content as unknown as Settings, String(i), sources, to);
};

const withName = (source: string, uses: readonly NameUse[], to: string): string => {
  const places = uses.map(({ at, part }) => {
    const names = tokenize(source).filter((t) => t.kind === 'name' && t.from >= at.from && t.to <= at.to);
    return names[part]!;
  });
  return [...new Map(places.map((p) => [p.from, p])).values()]
    .sort((a, b) => b.from - a.from)
    .reduce((text, { from, to: end }) => text.slice(0, from) + writtenName(to) + text.slice(end), source);
};

/** Settings of parameters, and of the steps of queries, that are formulas. */
const PARAMETER_FORMULAS: ReadonlySet<string> = new Set([
  'defaultFormula',
  'defaultUntil',
  'asOf',
  'where',
  'from',
  'until',
]);
const QUERY_FORMULAS: ReadonlySet<string> = new Set(['formula', 'argument']);

/** Parameters and queries with another name for a parameter: in operands, formulas and written statements. */
const renamedIn = (value: unknown, old: string, to: string, formulas: ReadonlySet<string>, key = ''): unknown => {
  if (typeof value === 'string') {
    if (key === 'parameter') return value === old ? to : value;
    if (key === 'text') return value.replace(new RegExp(`(?<![:\\w]):${old}(?![\\p{L}\\p{N}_])`, 'gu'), `:${to}`);
    return formulas.has(key) ? inFormula(value, old, to) : value;
  }
  if (Array.isArray(value)) return value.map((one) => renamedIn(one, old, to, formulas, key));
  if (typeof value !== 'object' || value === null) return value;
  const inner = (name: string): string => (key === 'arguments' ? 'argument' : name);
  return Object.fromEntries(
    Object.entries(value).map(([name, one]) => [name, renamedIn(one, old, to, formulas, inner(name))]),
  );
};

/** Where a name begins with the old one. */
const inFormula = (formula: string, old: string, to: string): string => {
  const tokens = tokenize(formula);
  return tokens
    .filter((token, i) => {
      const isInside = tokens[i - 1]?.kind === 'dot' && tokens[i - 2]?.text !== 'parameters';
      return token.kind === 'name' && token.text === old && !isInside && tokens[i + 1]?.kind !== 'open';
    })
    .reverse()
    .reduce((text, { from, to: end }) => text.slice(0, from) + writtenName(to) + text.slice(end), formula);
};
