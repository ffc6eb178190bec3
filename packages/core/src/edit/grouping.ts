import type { Band, Drawer, Group, Item, Report } from '../definition/schema.ts';
import { writtenName } from '../formula/tokens.ts';
import type { DataType } from '../value/value.ts';
import type { Edit } from './edit.ts';
import { freeName, idMaker } from './ids.ts';
import { roomIn } from './paper.ts';
import { dressed } from './themes.ts';

export type Per = NonNullable<Group['per']>;

/** What fields of a type can be grouped by: their values, or stretches and ranges of them. */
export const periodsFor = (type: DataType | undefined): readonly Per[] => {
  switch (type) {
    case 'date':
      return ['value', 'day', 'week', 'month', 'quarter', 'year'];
    case 'datetime':
      return ['value', 'hour', 'day', 'week', 'month', 'quarter', 'year'];
    case 'number':
      return ['value', 'range'];
    case 'text':
      return ['value', 'letter'];
    case 'boolean':
    case 'picture':
    case undefined:
      return ['value'];
    default:
      return type satisfies never;
  }
};

const FORMATS: Partial<Record<Per, string>> = {
  year: 'yyyy',
  month: 'mmmm yyyy',
  day: 'd mmm yyyy',
  week: 'd mmm yyyy',
  hour: 'd mmm yyyy hh:mm',
};

/** How a group's value is shown: a formula, and the format that suits the stretch. */
export const groupValue = (name: string, per: Per | undefined): { formula: string; format?: string } => {
  const formula = writtenName(name);
  if (per === 'quarter')
    return { formula: `IF(ISBLANK(${formula}); ${formula}; "Q" & QUARTER(${formula}) & " " & YEAR(${formula}))` };
  const format = per && FORMATS[per];
  return format ? { formula, format } : { formula };
};

/** Stretches from the longest to the shortest. */
const FINER: readonly Per[] = ['year', 'quarter', 'month', 'week', 'day', 'hour'];

/** Dates are grouped by month at first; inside groups of the same date, by the next shorter stretch. */
const firstPer = (drawer: Drawer, field: GroupField): Per | undefined => {
  const possible = FINER.filter((per) => periodsFor(field.type).includes(per));
  if (possible.length === 0) return undefined;
  const used = (drawer.groups ?? []).filter((g) => g.by === field.name).map((g) => FINER.indexOf(g.per ?? 'value'));
  if (used.length === 0) return 'month';
  return possible.find((per) => FINER.indexOf(per) > Math.max(...used)) ?? possible.at(-1);
};

/** What rows are grouped by. `name`: a field of theirs, a path such as `hut.name`, or any other formula. */
export interface GroupField {
  name: string;
  type?: DataType | undefined;
}

/** A group inside those that there are, with a heading that shows its value and a footer for totals. */
export const newGroup = (report: Report, drawer: Drawer, field: GroupField): Edit => {
  const plain = field.name.replace(/[^\p{L}\p{N}_]+/gu, '_').slice(0, 60);
  const name = freeName(`by_${plain}`, new Set((drawer.groups ?? []).map((g) => g.name)));
  const per = firstPer(drawer, field);
  const header: Band = {
    height: 8,
    keepWith: 1,
    items: [
      {
        kind: 'field',
        id: idMaker(report)('field'),
        x: 0,
        y: 1.5,
        width: roomIn(report, { drawer: drawer.id, band: 'header' }),
        height: 6,
        ...groupValue(name, per),
        ...dressed(report, 'heading'),
      },
    ],
  };
  const group: Group = { name, by: field.name, ...(per ? { per } : {}), header, footer: { height: 6, items: [] } };
  return { do: 'drawer', drawer: drawer.id, settings: { groups: [...(drawer.groups ?? []), group] } };
};

type Shown = { formula: string; format?: string | undefined };

/** A band in which what shows a group's value in the old way shows it in the new one. */
const reshown = (band: Band | undefined, old: Shown, next: Shown): Band | undefined => {
  const shown = <T extends Shown>(value: T): T => {
    if (value.formula !== old.formula || (value.format ?? '') !== (old.format ?? '')) return value;
    const { format: _, ...rest } = value;
    return { ...rest, ...next } as T;
  };
  const inItem = (item: Item): Item => {
    if (item.kind === 'field') return shown(item);
    if (item.kind !== 'text') return item;
    return { ...item, content: item.content.map((p) => (typeof p === 'object' && 'formula' in p ? shown(p) : p)) };
  };
  return band && { ...band, items: band.items.map(inItem) };
};

const withBands = (group: Group, change: (band: Band | undefined) => Band | undefined): Group => {
  const { header, footer, ...rest } = group;
  const bands = { header: change(header), footer: change(footer) };
  return {
    ...rest,
    ...(bands.header ? { header: bands.header } : {}),
    ...(bands.footer ? { footer: bands.footer } : {}),
  };
};

/** A group with another stretch. What shows its value as it was suits the new stretch as well. */
export const withPeriod = (group: Group, per: Per): Group => {
  const { per: was, width, ...rest } = group;
  const [old, next] = [groupValue(group.name, was), groupValue(group.name, per)];
  return {
    ...withBands(rest, (band) => reshown(band, old, next)),
    ...(per === 'value' ? {} : { per }),
    ...(per === 'range' ? { width: width ?? 10 } : {}),
  };
};

/** A copy of a group right inside it, with a name and items of its own that show its own value. */
export const copyGroup = (report: Report, drawer: Drawer, group: Group): Edit => {
  const groups = drawer.groups ?? [];
  const idFor = idMaker(report);
  const name = freeName(group.name, new Set(groups.map((g) => g.name)));
  const [old, next] = [groupValue(group.name, group.per), groupValue(name, group.per)];
  const copy = withBands({ ...group, name }, (band) => {
    const shown = reshown(band, old, next);
    return shown && { ...shown, items: shown.items.map((item) => ({ ...item, id: idFor(item.kind) })) };
  });
  const at = groups.indexOf(group) + 1;
  return { do: 'drawer', drawer: drawer.id, settings: { groups: [...groups.slice(0, at), copy, ...groups.slice(at)] } };
};
