import type { Parameter } from '../definition/schema.ts';
import type { FormulaScope } from '../formula/check.ts';
import type { Checked, CheckedType } from '../formula/checked.ts';
import type { TotalName } from '../formula/functions.ts';
import { type Problem, problem } from '../problems/problem.ts';
import { didYouMean } from '../problems/suggest.ts';
import type { Level } from './level.ts';
import { type Field, findEntity, type Model } from './model.ts';

/** A total that the run keeps: which rows it counts and when it starts anew. */
export interface TotalPlan {
  slot: number;
  name: TotalName;
  formula: Checked;
  /** Level whose rows are counted, one by one. */
  counted: Level;
  /** Starts anew with each set of rows of this level (`set`) or with each row of it (`row`). */
  scope: Level;
  scopeKind: 'set' | 'row';
  /** It stands before its rows, so they must be read ahead. */
  ahead: boolean;
}

/** Where a formula stands. */
export interface Standing {
  /** Innermost level whose row is current; null outside of all drawers. */
  current: Level | null;
  /** The rows a total counts there; null where totals cannot stand. */
  total: { scope: Level; kind: 'set' | 'row'; ahead: boolean } | 'page' | 'query' | 'none';
}

interface ReachContext {
  model: Model | null;
  root: Level | null;
  parameters: Parameter[];
  totals: TotalPlan[];
}

const PAGE_NAMES: Record<string, Checked> = {
  'page.number': { kind: 'page', value: 'number', type: 'number' },
  'page.count': { kind: 'page', value: 'count', type: 'number' },
  'report.name': { kind: 'report', value: 'name', type: 'text' },
  'report.run_at': { kind: 'report', value: 'run_at', type: 'datetime' },
};

export const PAGE_VALUES = Object.keys(PAGE_NAMES);

const parameterType = (parameter: Parameter): CheckedType => (parameter.type === 'choice' ? 'text' : parameter.type);

/** The field at the end of `parts`, from `level`'s entity along `one` relations. */
const fieldAt = (model: Model, level: Level, parts: string[]): Field | 'hidden' | null => {
  let entity = level.entity;
  for (const part of parts.slice(0, -1)) {
    const relation = entity.relations.find((r) => r.name === part && r.kind === 'one');
    const next = relation && findEntity(model, relation.to);
    if (!next) return null;
    entity = next;
  }
  const field = entity.fields.find((f) => f.name === parts.at(-1));
  return field?.hidden ? 'hidden' : (field ?? null);
};

const fieldNode = (level: Level, parts: string[], field: Field): Checked => ({
  kind: 'field',
  level: level.index,
  column: level.column(parts, field),
  type: field.type,
  ...(field.format ? { format: field.format } : {}),
});

/** Looks `parts` up at one level: by the drawer's name first, then as its own field or along its relations. */
const lookUp = (model: Model, level: Level, parts: string[]): Checked | 'hidden' | null => {
  const own = parts.length > 1 && parts[0] === level.drawer.name ? parts.slice(1) : null;
  for (const path of own ? [own, parts] : [parts]) {
    const field = fieldAt(model, level, path);
    if (field === 'hidden') return 'hidden';
    if (field) return fieldNode(level, path, field);
  }
  return null;
};

/** Resolves names for a formula that stands in a band, a filter or a link. */
export const reachOf = (context: ReachContext, standing: Standing): FormulaScope => ({
  name(parts) {
    const dotted = parts.join('.');
    const found = inReach(context, standing.current, parts);
    if (found === 'hidden') return problem('hidden-field', {}, { name: dotted });
    if (found) return found;
    const many = context.model && context.root ? elsewhere(context.model, context.root, parts, standing.current) : null;
    if (many) return problem('needs-one-row', {}, { name: dotted, drawer: many.drawer.name });
    return problem('unknown-name', {}, { name: dotted, hint: hintFor(context, dotted) });
  },
  total(name, check) {
    const { total } = standing;
    if (total === 'page') return problem('total-without-rows');
    if (total === 'query' || total === 'none') return problem('total-in-query');
    return totalIn(context, standing, total, name, check);
  },
  suggestions: () => namesInReach(context),
});

const inReach = (context: ReachContext, current: Level | null, parts: string[]): Checked | 'hidden' | null => {
  const { model } = context;
  if (model) {
    // The name of a drawer around it wins over a relation of the same name.
    for (let level = current; level && parts.length > 1; level = level.parent) {
      if (level.drawer.name !== parts[0]) continue;
      const field = fieldAt(model, level, parts.slice(1));
      if (field === 'hidden') return 'hidden';
      if (field) return fieldNode(level, parts.slice(1), field);
    }
    for (let level = current; level; level = level.parent) {
      const found = lookUp(model, level, parts);
      if (found) return found;
    }
  }
  const fixed = PAGE_NAMES[parts.join('.')];
  if (fixed) return fixed;
  const name = parts[0] === 'parameters' && parts.length === 2 ? parts[1] : parts.length === 1 ? parts[0] : null;
  const parameter = context.parameters.find((p) => p.name === name);
  return parameter ? { kind: 'parameter', name: parameter.name, type: parameterType(parameter) } : null;
};

/** A drawer that has the field, but is not around the place where the formula stands. */
const elsewhere = (model: Model, root: Level, parts: string[], current: Level | null): Level | null => {
  for (const level of root.subtree()) {
    if (current?.isWithin(level)) continue;
    const own = parts.length > 1 && parts[0] === level.drawer.name ? parts.slice(1) : parts;
    const field = fieldAt(model, level, own);
    if (field && field !== 'hidden') return level;
  }
  return null;
};

const totalIn = (
  context: ReachContext,
  standing: Standing,
  total: { scope: Level; kind: 'set' | 'row'; ahead: boolean },
  name: TotalName,
  check: (inner: FormulaScope) => Checked | null,
): Checked | Problem | null => {
  const { model } = context;
  const candidates: Level[] = [];
  const breadthFirst = total.kind === 'set' ? [total.scope] : [...total.scope.children];
  for (let next = breadthFirst.shift(); next; next = breadthFirst.shift()) {
    candidates.push(next);
    breadthFirst.push(...next.children);
  }
  if (total.kind === 'row') candidates.push(total.scope);
  const used = new Map<Level, string>();
  const formula = check({
    name(parts) {
      for (const level of candidates) {
        if (parts.length === 1 && parts[0] === level.drawer.name) {
          used.set(level, parts[0]!);
          return { kind: 'rows', level: level.index, type: 'any' };
        }
        const found = model ? lookUp(model, level, parts) : null;
        if (found === 'hidden') return problem('hidden-field', {}, { name: parts.join('.') });
        if (found) {
          used.set(level, parts.join('.'));
          return found;
        }
      }
      const outer = inReach(context, standing.current, parts);
      if (outer === 'hidden') return problem('hidden-field', {}, { name: parts.join('.') });
      return outer ?? problem('unknown-name', {}, { name: parts.join('.'), hint: hintFor(context, parts.join('.')) });
    },
    total: () => problem('total-in-total'),
    suggestions: () => namesInReach(context),
  });
  if (!formula) return null;
  let counted = total.scope;
  for (const level of used.keys()) if (level.isWithin(counted)) counted = level;
  if ([...used.keys()].some((level) => !counted.isWithin(level))) {
    return problem('total-fields-apart', {}, { names: [...used.values()].join(', ') });
  }
  const plan: Omit<TotalPlan, 'slot'> = {
    name,
    formula,
    counted,
    scope: total.scope,
    scopeKind: total.kind,
    ahead: total.ahead,
  };
  const type = name === 'COUNT' || name === 'SUM' || name === 'AVERAGE' ? 'number' : formula.type;
  const format = name === 'COUNT' ? undefined : formula.format;
  return { kind: 'total', slot: slotFor(context.totals, plan), name, type, ...(format ? { format } : {}) };
};

/** One slot serves every place that asks for the same total. */
const slotFor = (totals: TotalPlan[], plan: Omit<TotalPlan, 'slot'>): number => {
  const key = (t: Omit<TotalPlan, 'slot'>): string =>
    JSON.stringify([t.name, t.counted.index, t.scope.index, t.scopeKind, t.ahead, t.formula], (_, v) =>
      typeof v === 'bigint' ? String(v) : v,
    );
  const wanted = key(plan);
  const found = totals.find((t) => key(t) === wanted);
  if (found) return found.slot;
  totals.push({ ...plan, slot: totals.length });
  return totals.length - 1;
};

const namesInReach = (context: ReachContext): string[] => {
  const names = [...context.parameters.map((p) => p.name), ...PAGE_VALUES];
  for (const level of context.root?.subtree() ?? []) {
    names.push(level.drawer.name);
    for (const field of level.entity.fields) {
      if (!field.hidden) names.push(field.name, `${level.drawer.name}.${field.name}`);
    }
  }
  return names;
};

const hintFor = (context: ReachContext, name: string): string =>
  didYouMean(name, namesInReach(context), 'Pick a field from the Data tray.');
