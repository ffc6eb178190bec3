import type { Report } from '../definition/schema.ts';
import type { BandAddress } from '../definition/walk.ts';
import type { CheckedType } from '../formula/checked.ts';
import {
  FUNCTIONS,
  type FunctionTable,
  ROW_FUNCTIONS,
  SPECIAL_FORMS,
  signatureOf,
  TOTALS,
} from '../formula/functions/index.ts';
import { writtenName } from '../formula/tokens.ts';
import { findEntity } from '../model/model.ts';
import { parameterType } from '../model/parameter-types.ts';
import type { Level } from './level.ts';
import { planReport } from './plan.ts';
import type { PlanContext } from './planned.ts';
import { PAGE_VALUES } from './reach.ts';

/** Something that may be written in a formula at a place. */
export interface Completion {
  kind: 'field' | 'group' | 'parameter' | 'page' | 'total' | 'function' | 'scope';
  /** What to write. Of a function: its name, without brackets. */
  insert: string;
  label: string;
  type: CheckedType | null;
  /** What it is: a function's signature and help, a field's drawer. */
  detail: string;
}

/** How many `one` relations fields are offered along. */
const FARTHEST = 2;

/**
 * What an editor offers for a formula in a band: fields whose row is current there, bare in their own drawer and by the
 * drawer's name further in; groups and drawers around as scopes; fields of inner drawers for totals; parameters, page
 * values and functions. Offered in that order.
 */
export const completionsFor = (report: Report, address: BandAddress, context: PlanContext): Completion[] => {
  const { levels, model } = planReport(report, context);
  const own = levels.find((l) => l.drawer.id === address.drawer) ?? null;
  const inGroup = address.drawer !== null && address.group !== undefined;
  const sees = own && (inGroup || address.band === 'detail' || address.band === 'detailFooter');
  const current = own && (sees ? own : own.parent);
  const around: Level[] = [];
  for (let level = current; level; level = level.parent) around.push(level);
  const below = levels.filter((l) => !around.includes(l) && (own === null || l.isWithin(own)));
  const fieldsOf = (level: Level, bare: boolean): Completion[] => {
    const found: Completion[] = [];
    const { name } = level.drawer;
    const offer = (path: string[], label: string, type: CheckedType): void => {
      const insert = (bare ? path : [name, ...path]).map(writtenName).join('.');
      found.push({ kind: 'field', insert, label, type, detail: name });
    };
    for (const c of level.drawer.calculated ?? []) offer([c.name], c.label ?? c.name, 'any');
    const walk = (entityName: string, path: string[], depth: number): void => {
      const entity = model && findEntity(model, entityName);
      if (!entity) return;
      for (const field of entity.fields) if (!field.hidden) offer([...path, field.name], field.label, field.type);
      if (depth >= FARTHEST) return;
      for (const relation of entity.relations) {
        if (relation.kind === 'one') walk(relation.to, [...path, relation.name], depth + 1);
      }
    };
    walk(level.entity.name, [], 0);
    return found;
  };
  const scopes = (own ? [own, ...around] : around).filter((level, i, all) => all.indexOf(level) === i);
  return [
    ...around.flatMap((level, i) => fieldsOf(level, i === 0)),
    ...scopes.flatMap((level) =>
      level.groups.map(
        ({ group, key }): Completion => ({
          kind: 'group',
          insert: writtenName(group.name),
          label: group.name,
          type: key.type,
          detail: level.drawer.name,
        }),
      ),
    ),
    ...below.flatMap((level) => fieldsOf(level, false)),
    ...scopes.map((level): Completion => scope(level.drawer.name)),
    scope('report'),
    ...parametersOf(report),
    ...PAGE_VALUES.map((name): Completion => ({ kind: 'page', insert: name, label: name, type: null, detail: '' })),
    ...functions(context.functions),
  ];
};

const parametersOf = (report: Report): Completion[] =>
  report.parameters.map(
    (p): Completion => ({
      kind: 'parameter',
      insert: writtenName(p.name),
      label: p.label,
      type: parameterType(p),
      detail: p.help ?? '',
    }),
  );

/** What may be written anywhere: parameters and functions. */
export const offeredEverywhere = (report: Report, added?: FunctionTable): Completion[] => [
  ...parametersOf(report),
  ...functions(added),
];

const scope = (name: string): Completion => ({
  kind: 'scope',
  insert: writtenName(name),
  label: name,
  type: null,
  detail: '',
});

/** `added`: besides Gaveta’s own. */
const functions = (added: FunctionTable = {}): Completion[] => [
  ...Object.entries(TOTALS).map(
    ([name, { help }]): Completion => ({
      kind: 'total',
      insert: name,
      label: `${name}(formula; scope?)`,
      type: null,
      detail: help,
    }),
  ),
  ...Object.entries({ ...SPECIAL_FORMS, ...ROW_FUNCTIONS }).map(
    ([name, { signature, help }]): Completion => ({
      kind: 'function',
      insert: name,
      label: signature,
      type: null,
      detail: help,
    }),
  ),
  ...Object.entries({ ...FUNCTIONS, ...added })
    .filter(([, { isHidden }]) => !isHidden)
    .map(
      ([name, definition]): Completion => ({
        kind: 'function',
        insert: name,
        label: signatureOf(name, definition),
        type: definition.gives === 'common' ? null : definition.gives,
        detail: definition.help,
      }),
    ),
];
