import type { Chart, ChartCell, ChartMeasure, ChartPlace, ChartSplit, ChartType } from '../chart/chart.ts';
import { CHART_KINDS } from '../chart/kinds.ts';
import type { ItemOf } from '../definition/schema.ts';
import { chartSettings } from '../items/chart/settings.ts';
import { numberOf, placeOf, sayingOf } from '../layout/figure.ts';
import type { Field } from '../model/model.ts';
import { fieldFormat } from '../text/currency.ts';
import { formatValue } from '../text/format.ts';
import { blankWord } from '../text/report-words.ts';
import { decodeValue, type Value, type WireValue } from '../value/value.ts';
import { shownFormat, totalOf } from './levels.ts';
import { groupsOf, isMeasured, type Sketch, type SketchColumn, type SketchGroup } from './schema.ts';

/** What the chart of a sketch shows, with nothing left to be told from its groups and columns. */
export interface ShownChart {
  type: ChartType;
  along: SketchGroup;
  split: SketchGroup | null;
  measures: readonly SketchColumn[];
}

/** Measures of a chart that nobody chose. */
const FIRST_MEASURES = 1;

/**
 * The chart of a sketch: dates along its axis as lines, other groups as columns, the group around in colours. Null where there is nothing to
 * put along an axis, or nothing to measure.
 */
export const chartOf = ({ chart = {}, columns, order, ...sketch }: Sketch): ShownChart | null => {
  const groups = groupsOf(sketch);
  const named = (name: string | null | undefined): SketchGroup | undefined => groups.find((g) => g.name === name);
  const inner = sketch.groups[1] ?? sketch.groups[0] ?? sketch.across;
  const along = named(chart.along) ?? groups.find(({ per }) => per !== undefined) ?? inner;
  const measured = columns.filter((column) => isMeasured(column) && !column.hidden);
  const chosen = chart.measures?.flatMap((name) => measured.find((column) => column.name === name) ?? []) ?? [];
  const sorted = measured.find(({ name }) => name === order[0]?.by);
  const usual = sorted ? [sorted] : measured.slice(0, FIRST_MEASURES);
  const measures = chosen.length > 0 ? chosen : usual;
  if (!along || measures.length === 0) return null;
  const others = groups.filter((group) => group !== along);
  const usualSplit =
    sketch.across && along !== sketch.across ? sketch.across : others.at(along === sketch.across ? -1 : 0);
  const split = chart.split === null ? null : (named(chart.split) ?? usualSplit ?? null);
  const type = chart.type ?? (along.per === undefined ? 'column' : 'line');
  const needed = CHART_KINDS[type].roles.length;
  return {
    type,
    along,
    split: split === along || !CHART_KINDS[type].takes.split ? null : split,
    // Kinds that need several take the next ones along.
    measures: [...measures, ...measured.filter((column) => !measures.includes(column))].slice(
      0,
      Math.max(needed, measures.length),
    ),
  };
};

/** The sketch whose rows the chart is drawn from: what was pressed in the chart leaves nothing out of it. */
export const chartRows = (sketch: Sketch): Sketch => ({
  ...sketch,
  only: sketch.only.filter((condition) => !condition.fromChart),
});

/** The sketch whose groups the chart is drawn from, over the rows of {@link chartRows}; null where there is none. */
export const chartSketch = (sketch: Sketch): Sketch | null => {
  const shown = chartOf(sketch);
  if (!shown) return null;
  const { along, split } = shown;
  const { first: _, chart: __, across: ___, ...rest } = sketch;
  return {
    ...rest,
    rows: false,
    groups: split ? [split, along] : [along],
    order: along.per === undefined ? sketch.order : [],
  };
};

/** One place of a chart as it is found again: the values of its groups. */
export interface ChartPoint {
  along: WireValue;
  split: WireValue;
}

/** The chart as item of a report, with all that a sketch says of it. */
export const chartItem = ({ type, split }: ShownChart): Pick<ItemOf<'chart'>, 'type' | 'stack' | 'legend'> => ({
  type,
  ...(split && type !== 'line' && type !== 'area' ? { stack: 'stacked' as const } : {}),
  legend: split ? 'right' : 'none',
});

/**
 * A chart drawn from the lines of {@link chartSketch}: `fields` and `lines` as they travel, all levels deep. Its cells link to `points` by
 * their places in that list.
 */
export const sketchChart = (
  sketch: Sketch,
  shown: ShownChart,
  { fields, lines }: { fields: readonly Field[]; lines: readonly (readonly WireValue[])[] },
  words: { empty: string },
): { chart: Chart; points: ChartPoint[] } => {
  const { along, split, measures } = shown;
  const { language, timeZone, order } = sketch;
  const settings = { language, timeZone };
  const placeAt = (name: string): number => fields.findIndex((field) => field.name === name);
  const [alongAt, splitAt] = [placeAt(along.name), split ? placeAt(split.name) : -1];
  const alongField = fields[alongAt];
  const text = (value: WireValue, at: number, format?: string): string => {
    const field = fields[at];
    if (value === null || value === '' || !field) return blankWord(language);
    const choice = field.choices?.find((one) => one.value === String(value));
    if (choice) return choice.label;
    return formatValue(
      decodeValue(value, field.type),
      format ?? fieldFormat(field, language, undefined) ?? '',
      settings,
    );
  };
  const keyOf = (value: WireValue): string => JSON.stringify(value);
  const distinct = (at: number): WireValue[] => {
    const found = new Map<string, WireValue>();
    for (const line of lines) found.set(keyOf(line[at] ?? null), line[at] ?? null);
    return [...found.values()];
  };
  const isStretched = CHART_KINDS[shown.type].isStretched ?? false;
  const kind =
    !isStretched || !alongField
      ? 'categories'
      : alongField.type === 'date'
        ? 'days'
        : alongField.type === 'datetime'
          ? 'time'
          : alongField.type === 'number'
            ? 'numbers'
            : 'categories';
  const alongs = distinct(alongAt);
  const decoded = (value: WireValue): Value => (alongField ? decodeValue(value, alongField.type) : null);
  if (along.per !== undefined || kind !== 'categories')
    alongs.sort((a, b) => (placeOf(decoded(a)) ?? 0) - (placeOf(decoded(b)) ?? 0));
  const splits = split ? distinct(splitAt) : [null];
  if (split) {
    const [first] = order;
    const by = first && measures.some(({ name }) => name === first.by) ? placeAt(first.by) : -1;
    const collator = new Intl.Collator(language);
    const sums = new Map<string, number>();
    for (const line of by < 0 ? [] : lines) {
      const key = keyOf(line[splitAt] ?? null);
      sums.set(key, (sums.get(key) ?? 0) + Number(line[by] ?? 0));
    }
    const sign = first?.descending ? -1 : 1;
    splits.sort((a, b) =>
      by < 0
        ? collator.compare(text(a, splitAt), text(b, splitAt))
        : sign * ((sums.get(keyOf(a)) ?? 0) - (sums.get(keyOf(b)) ?? 0)),
    );
  }
  if (split && along.per === undefined && kind === 'categories') {
    // Groups inside others stand together, as they do in the table.
    const around = new Map<string, Set<number>>();
    for (const line of lines) {
      const key = keyOf(line[alongAt] ?? null);
      around.set(
        key,
        (around.get(key) ?? new Set()).add(splits.findIndex((one) => keyOf(one) === keyOf(line[splitAt] ?? null))),
      );
    }
    if ([...around.values()].every(({ size }) => size === 1)) {
      const placeIn = (value: WireValue): number => [...around.get(keyOf(value))!][0]!;
      alongs.sort((a, b) => placeIn(a) - placeIn(b));
    }
  }
  const cellOf = new Map(
    lines.map((line) => [`${keyOf(line[alongAt] ?? null)} ${split ? keyOf(line[splitAt] ?? null) : ''}`, line]),
  );
  const points: ChartPoint[] = [];
  const measured = measures.map((column) => ({ column, at: placeAt(column.name) }));
  const formatOf = ({ column, at }: (typeof measured)[number]): string =>
    shownFormat(column, totalOf(column, false), fields[at]) ??
    (fields[at] ? (fieldFormat(fields[at], language, undefined) ?? '') : '');
  const cells = splits.map((splitValue) =>
    alongs.map((alongValue): ChartCell | null => {
      const line = cellOf.get(`${keyOf(alongValue)} ${split ? keyOf(splitValue) : ''}`);
      if (!line) return null;
      points.push({ along: alongValue, split: splitValue });
      const found = measured.map(({ at }) => decodeValue(line[at] ?? null, 'number'));
      return {
        values: found.map(numberOf),
        texts: measured.map((one) => text(line[one.at] ?? null, one.at, formatOf(one))),
        link: { cell: points.length - 1 },
      };
    }),
  );
  const item = { kind: 'chart', id: 'chart', measures: [], ...chartItem(shown) } as unknown as ItemOf<'chart'>;
  const chart: Chart = {
    settings: { ...chartSettings(item, kind, () => null), empty: words.empty },
    places: alongs.map((value): ChartPlace => ({ at: placeOf(decoded(value)), label: text(value, alongAt) })),
    splits: splits.map((value): ChartSplit => ({ label: split ? text(value, splitAt) : '', color: null })),
    measures: measured.map(
      (one): ChartMeasure => ({
        caption: one.column.label ?? fields[one.at]?.label ?? one.column.name,
        drawnAs: null,
        isSecond: false,
        color: null,
        format: formatOf(one),
      }),
    ),
    panels: [{ title: '', cells }],
    saying: sayingOf(settings, kind === 'days'),
  };
  return { chart, points };
};
