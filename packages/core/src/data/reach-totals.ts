import type { Checked } from '../formula/checked.ts';
import { isCount, TOTAL_STATES, TOTALS } from '../formula/functions/index.ts';
import type { FormulaScope, RowsRequest } from '../formula/scope.ts';
import { type Problem, problem } from '../problems/problem.ts';
import type { Level, TotalPlan, TotalScope } from './level.ts';
import type { NameMeaning } from './names.ts';
import type { Names, ReachContext, Standing } from './standing.ts';
import { carrierOf, rowsAreInDatabase, sameScope, stateType, totalsIn } from './total.ts';

type Check = (inner: FormulaScope) => Checked | null;

/** What depends on the order of the rows. */
const isOrdered = ({ kind }: RowsRequest): boolean => kind === 'RUNNING' || kind === 'ROWNUMBER' || kind === 'RANK';

/** Something over rows, where it stands: a total, a running total, a row number or a rank. */
export const overRows = (
  reach: Names,
  standing: Standing,
  request: RowsRequest,
  check: Check,
): Checked | Problem | null => {
  const running = isOrdered(request);
  if (running && standing.scope?.kind === 'cell') return problem('running-in-cell');
  if (standing.scope === null) return problem(standing.decides ? 'total-in-query' : 'total-without-rows');
  if (standing.decides && running) return problem('total-in-query');
  return running
    ? runningOver(reach, standing, standing.scope, request, check)
    : totalOver(reach, standing, standing.scope, request, check);
};

/** The rows that a name stands for: the whole report, the current row of a drawer around, or the current group. */
const namedScope = (reach: Names, standing: Standing, own: TotalScope, request: RowsRequest): TotalScope | null => {
  const { scope: name, scopeAt } = request;
  const means = (meaning: NameMeaning): void => {
    if (scopeAt) reach.means(scopeAt, 0, meaning);
  };
  if (name === 'report') return { level: own.level.outermost, kind: 'set', group: 0 };
  for (let level: Level | null = own.level; level; level = level.parent) {
    const group = level.groups.findIndex((g) => g.group.name === name);
    if (group >= 0) {
      means({ kind: 'group', drawer: level.drawer.id, name: level.groups[group]!.group.name });
      return { level, kind: 'group', group };
    }
    // In its own header and footer a drawer's name means all its rows, further inside the row that is current.
    if (level.drawer.name === name) {
      means({ kind: 'drawer', drawer: level.drawer.id });
      return { level, kind: standing.current?.isWithin(level) && own.kind !== 'group' ? 'row' : 'set', group: 0 };
    }
  }
  const other = reach.context.roots.find(({ drawer }) => drawer.name === name);
  if (!other) return null;
  means({ kind: 'drawer', drawer: other.drawer.id });
  return { level: other, kind: 'set', group: 0 };
};

/** Levels in which a total looks its fields up: those around the place first, then the nearest below the scope. */
const candidatesIn = (scope: TotalScope, { current, sets }: Pick<Standing, 'current' | 'sets'>): Level[] => {
  // Outside of all sets those of the scope come first, so that another set changes no total that was there before.
  if (sets?.includes(scope.level)) {
    const others = sets.filter((level) => level !== scope.level);
    return [scope.level, ...others].flatMap((level) => candidatesIn({ ...scope, level }, { current }));
  }
  const candidates: Level[] = [];
  for (let level = current; level && level !== scope.level && level.isWithin(scope.level); level = level.parent) {
    candidates.push(level);
  }
  const queue = scope.kind === 'row' && !scope.level.tree ? scope.level.drawers : [scope.level];
  for (let next = queue.shift(); next; next = queue.shift()) {
    if (!candidates.includes(next)) candidates.push(next);
    queue.push(...next.drawers);
  }
  if (scope.kind === 'row' && !candidates.includes(scope.level)) candidates.push(scope.level);
  return candidates;
};

const totalOver = (
  reach: Names,
  standing: Standing,
  own: TotalScope,
  request: RowsRequest,
  check: Check,
): Checked | Problem | null => {
  // A cell counts those of the rows around its item that have its values.
  const isOfCell = request.scope === null && own.of !== undefined;
  const around = own.of ?? own;
  const named = request.scope === null ? around : namedScope(reach, standing, around, request);
  if (!named) return problem('unknown-scope', {}, { name: request.scope! });
  const name = request.kind as keyof typeof TOTALS;
  // With the name of a set its rows are counted, whatever fields the others have.
  const isNamed = request.scope !== null && request.scope !== 'report';
  const { sets: _, ...inOne } = standing;
  const counting = countedRows(reach, named, isNamed ? inOne : standing, check);
  if (!counting || 'code' in counting) return counting;
  const { formula, counted } = counting;
  const scope: TotalScope = isOfCell ? { ...counting.scope, kind: 'cell', of: counting.scope } : counting.scope;
  if (standing.decides && scope.kind === 'row' && counted === scope.level) return problem('total-in-query');
  const isOwn = sameScope(scope, own) || (scope.kind === own.kind && (standing.sets?.includes(scope.level) ?? false));
  const behind = !standing.ahead && isOwn && !(scope.kind === 'row' && scope.level.tree);
  const isBehind = scope.kind === 'page' || scope.kind === 'others' || scope.kind === 'cell' || behind;
  const when = isBehind ? 'behind' : 'ahead';
  const { gives } = TOTALS[name];
  const type = gives === 'same' ? formula.type : gives;
  const format = isCount(name) ? undefined : formula.format;
  const slot = slotFor(reach.context, { name, formula, counted, scope, when });
  return { kind: 'total', slot, name, type, ...(format ? { format } : {}) };
};

/**
 * Checks a total's formula and finds the innermost drawer whose fields it reads: its rows are counted. `scope`: the given
 * one, or outside of all sets the one of those that has the fields.
 */
export const countedRows = (
  reach: Names,
  given: TotalScope,
  standing: Standing,
  check: Check,
): { formula: Checked; counted: Level; scope: TotalScope } | Problem | null => {
  const { sets } = standing;
  // Rows of one set know nothing of the row of another one that is current where they are counted.
  const isAround = standing.current?.outermost === given.level.outermost;
  const current = isAround || sets?.includes(given.level) ? standing.current : null;
  const candidates = candidatesIn(given, { current, ...(sets ? { sets } : {}) });
  const used = new Map<Level, string>();
  const base = reach.at({ current, scope: null, ahead: false, ...(sets ? { sets } : {}) });
  const formula = check({
    ...base,
    name(parts, at) {
      for (const level of candidates) {
        if (parts.length === 1 && parts[0] === level.drawer.name) {
          used.set(level, parts[0]!);
          reach.means(at, 0, { kind: 'drawer', drawer: level.drawer.id });
          return { kind: 'rows', level: level.index, type: 'any' };
        }
        const found = reach.lookUp(level, parts, at);
        if (found === 'hidden') continue;
        if (found && !('code' in found)) used.set(level, parts.join('.'));
        if (found) return found;
      }
      return base.name(parts, at);
    },
    rows: (inner) => problem(isOrdered(inner) ? 'order-in-total' : 'total-in-total', {}, { name: inner.kind }),
  });
  if (!formula) return null;
  const [first] = used.keys();
  const scope = first && sets?.includes(given.level) ? { ...given, level: first.outermost } : given;
  let counted = scope.level;
  for (const level of used.keys()) if (level.isWithin(counted)) counted = level;
  if ([...used.keys()].some((level) => !counted.isWithin(level))) {
    return problem('total-fields-apart', {}, { names: [...used.values()].join(', ') });
  }
  return { formula, counted, scope };
};

const runningOver = (
  reach: Names,
  standing: Standing,
  own: TotalScope,
  request: RowsRequest,
  check: Check,
): Checked | Problem | null => {
  const isRank = request.kind === 'RANK';
  let formula: Checked | null;
  let counted: Level;
  let around = own;
  if (own.kind === 'row' && standing.current) {
    counted = standing.current;
    // Each row's own total may run: RUNNING(SUM(amount)).
    formula = check(reach.at({ current: counted, scope: own, ahead: true }));
    if (!formula) return null;
  } else {
    if (isRank) return problem('rank-without-row');
    const counting = countedRows(reach, own, standing, check);
    if (!counting || 'code' in counting) return counting;
    ({ formula, counted, scope: around } = counting);
  }
  const set: TotalScope = { level: counted, kind: 'set', group: 0 };
  const scope =
    request.scope !== null ? namedRun(reach, standing, own, request) : own.kind === 'row' ? set : runOf(around);
  if (!scope) return problem('unknown-scope', {}, { name: request.scope! });
  const name = isRank ? 'RANK' : 'SUM';
  const slot = slotFor(reach.context, { name, formula, counted, scope, when: isRank ? 'ahead' : 'running' });
  const rankedHere = sameScope(scope, set) || scope.kind === 'group' || scope.level === counted.parent;
  if (isRank && reach.context.totals[slot]!.column === 0 && !rankedHere) return problem('rank-too-wide');
  const format = request.kind === 'RUNNING' ? formula.format : undefined;
  return { kind: 'total', slot, name, type: 'number', ...(format ? { format } : {}) };
};

/** Where a running total in a header or footer starts anew by itself: with each set of rows, not with each group. */
const runOf = (own: TotalScope): TotalScope =>
  own.kind === 'group' ? { level: own.level, kind: 'set', group: 0 } : own;

/** For a running total the drawer's own name means all its rows under one parent row. */
const namedRun = (reach: Names, standing: Standing, own: TotalScope, request: RowsRequest): TotalScope | null => {
  const named = namedScope(reach, standing, own, request);
  return request.scope === own.level.drawer.name ? { level: own.level, kind: 'set', group: 0 } : named;
};

/** One slot serves every place that asks for the same total. */
export const slotFor = (context: ReachContext, plan: Omit<TotalPlan, 'slot' | 'column'>): number => {
  const { totals, slots } = context;
  const { name, counted, scope, when, formula } = plan;
  const key = JSON.stringify(
    [name, counted.index, scope.level.index, scope.kind, scope.group, scope.of?.kind, when, formula],
    (_, v) => (typeof v === 'bigint' ? String(v) : v),
  );
  const found = slots.get(key);
  if (found !== undefined) return found;
  slots.set(key, totals.length);
  const total: TotalPlan = { ...plan, slot: totals.length, column: 0 };
  totals.push(total);
  if (total.when === 'ahead' && isPushed(context, total)) {
    const type = stateType(total.name, total.formula);
    total.column = carrierOf(total).column({ kind: 'total', total, type });
  }
  return total.slot;
};

/** Totals that put values in order. */
const ORDERS: ReadonlySet<string> = new Set(['MIN', 'MAX', 'RANK']);

/** Whether the database can work the total out. */
const isPushed = (context: ReachContext, total: TotalPlan): boolean => {
  const { name, formula, scope, counted } = total;
  if (!context.canPush(formula, ORDERS.has(name))) return false;
  if (carrierOf(total).sharedWith || counted.sharedWith) return false;
  if (name !== 'RANK')
    return TOTAL_STATES[name] !== undefined && formula.kind !== 'total' && rowsAreInDatabase(scope, counted);
  const whole: TotalScope = scope.kind === 'row' ? scope : { ...scope, kind: 'set' };
  return rowsAreInDatabase(whole, counted) && totalsIn(formula, context.totals).every((t) => t.column > 0);
};
