import type { ChartType } from '../chart/chart.ts';
import { CHART_KINDS } from '../chart/kinds.ts';
import type { ItemOf } from '../definition/schema.ts';
import type { DataType } from '../value/value.ts';
import type { FieldParts } from './field-parts.ts';
import { groupBy, type ReachedField, totalOf } from './item-fields.ts';

type Chart = ItemOf<'chart'>;
export type ChartGroupPart = 'along' | 'split' | 'panels';

const GROUP_PARTS: readonly ChartGroupPart[] = ['along', 'split', 'panels'];
const isGroupPart = (part: string): part is ChartGroupPart => (GROUP_PARTS as readonly string[]).includes(part);

/** A part of a chart that takes fields. */
export interface ChartPart {
  /** `along`, `split`, `panels`, `measures`, or `measures/1` for one that means something by itself. */
  part: string;
  /** Names the part among the messages. */
  says: 'along' | 'each' | 'split' | 'panels' | 'value' | 'x' | 'y' | 'size' | 'from' | 'to' | 'color' | 'spread';
}

/** The parts of a chart of a type, in the order in which they are filled. */
export const chartParts = (type: ChartType): ChartPart[] => {
  const { roles, takes } = CHART_KINDS[type];
  const isDots = roles[0] === 'x';
  return [
    ...roles.map((says, i): ChartPart => ({ part: says === 'value' ? 'measures' : `measures/${i}`, says })),
    ...(takes.along ? [{ part: 'along', says: isDots ? ('each' as const) : ('along' as const) }] : []),
    ...(takes.split ? [{ part: 'split', says: 'split' as const }] : []),
    { part: 'panels', says: 'panels' },
  ];
};

/** The part that suits a field by its type: numbers are measured; of everything else the first goes along, the next one splits. */
const partFor = (item: Chart, type: DataType): string => {
  const { roles, takes } = CHART_KINDS[item.type];
  if (type === 'number') {
    if (roles[0] === 'value') return 'measures';
    return `measures/${Math.min(item.measures.length, roles.length - 1)}`;
  }
  if (takes.along && !item.along) return 'along';
  return takes.split && !item.split ? 'split' : 'panels';
};

/** A chart with a field in a part; a number can be measured again, of a group there is one. */
const withField = (item: Chart, part: string, field: ReachedField): Partial<Chart> | null => {
  if (isGroupPart(part)) {
    const taken = new Set(GROUP_PARTS.flatMap((one) => (one !== part && item[one] ? [item[one].name] : [])));
    return { [part]: groupBy(field, taken) };
  }
  const { roles } = CHART_KINDS[item.type];
  const measure = totalOf(field);
  if (part === 'measures') return { measures: [...item.measures, measure] };
  const [, at] = /^measures\/(\d+)$/.exec(part) ?? [];
  if (at === undefined || Number(at) >= roles.length) return null;
  const measures = [...item.measures];
  // A part before it that is empty has nothing to say yet: the first of them takes the field.
  measures[Math.min(Number(at), measures.length)] = measure;
  return { measures };
};

export const chartFieldParts: FieldParts<'chart'> = {
  isEmpty: ({ along, split, panels, measures }) => !along && !split && !panels && measures.length === 0,
  partFor,
  withField,
};
