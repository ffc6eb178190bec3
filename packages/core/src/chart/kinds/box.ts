import { type AxesKind, drawAxes } from '../axes.ts';
import type { ChartCell } from '../chart.ts';
import { mix } from '../colors.ts';
import type { ChartKind } from '../kind.ts';
import type { Plot } from '../plot.ts';
import { cellAt, extentOf, type Series, seriesOf } from '../series.ts';
import { drawSymbol } from '../symbols.ts';
import { seriesLegend } from './common.ts';

type Spread = NonNullable<ChartCell['spread']>;

/** How the values of a place are spread. */
export interface FiveNumbers {
  low: number;
  lower: number;
  median: number;
  upper: number;
  high: number;
  /** Values further from the box than one and a half times its length. */
  outliers: number[];
  count: number;
}

/** Most outliers that are drawn of one box. */
const MOST_OUTLIERS = 200;

/** The value at a share of all, between two neighbours in proportion, as spreadsheets’ QUARTILE has it. */
const quantile = (spread: Spread, count: number, share: number): number => {
  const place = (count - 1) * share;
  const [below, part] = [Math.floor(place), place % 1];
  let passed = 0;
  for (const [i, [value, times]] of spread.entries()) {
    passed += times;
    if (passed <= below) continue;
    if (part === 0 || passed > below + 1) return value;
    const next = spread[i + 1]?.[0] ?? value;
    return value + (next - value) * part;
  }
  return spread.at(-1)?.[0] ?? 0;
};

/** The numbers of a box; null when there are no values. `spread` in ascending order. */
export const fiveNumbers = (spread: Spread): FiveNumbers | null => {
  const count = spread.reduce((sum, [, times]) => sum + times, 0);
  if (count === 0) return null;
  const [lower, middle, upper] = [0.25, 0.5, 0.75].map((share) => quantile(spread, count, share)) as [
    number,
    number,
    number,
  ];
  const reach = 1.5 * (upper - lower);
  const inside = spread.filter(([value]) => value >= lower - reach && value <= upper + reach);
  const outliers = spread.filter(([value]) => value < lower - reach || value > upper + reach).map(([value]) => value);
  return {
    // Between two values in proportion, an end of the box may lie past all that are inside.
    low: Math.min(inside[0]?.[0] ?? lower, lower),
    lower,
    median: middle,
    upper,
    high: Math.max(inside.at(-1)?.[0] ?? upper, upper),
    outliers,
    count,
  };
};

const boxesOf = (chart: Parameters<typeof seriesOf>[0]): Series[] => seriesOf(chart, 1);

const draw = (plot: Plot): void => {
  const { chart, panel, out, along } = plot;
  const { saying, measures, places, settings } = chart;
  const series = boxesOf(chart);
  const scale = plot.scale(false);
  const group = Math.min(48 * series.length, along.band * 0.7);
  const width = group / Math.max(1, series.length);
  const said = (value: number): string => saying.number(value, measures[0]?.format ?? '');
  for (let place = 0; place < places.length; place++) {
    const middle = plot.place(place);
    if (middle === null) continue;
    for (const [s, one] of series.entries()) {
      const five = fiveNumbers(cellAt(panel, one.split, place)?.spread ?? []);
      if (!five) continue;
      const at = middle + (s - (series.length - 1) / 2) * width;
      const half = (width * 0.82) / 2;
      const [low, lower, mid, upper, high] = [five.low, five.lower, five.median, five.upper, five.high].map(
        scale.within,
      ) as [number, number, number, number, number];
      const ink = { stroke: mix(one.color, '#1f2a2e', 0.35), thickness: 0.9 };
      const stroke = (a: readonly [number, number], b: readonly [number, number], thickness = 0.9): void =>
        out.line(a[0], a[1], b[0], b[1], { ...ink, thickness });
      stroke(plot.point(at, low), plot.point(at, lower));
      stroke(plot.point(at, upper), plot.point(at, high));
      for (const end of [low, high]) stroke(plot.point(at - half / 2, end), plot.point(at + half / 2, end));
      const head = [places[place]!.label, chart.splits.length > 1 ? one.name : '']
        .filter((part) => part !== '')
        .join(', ');
      const numbers = [five.low, five.lower, five.median, five.upper, five.high].map(said).join(' · ');
      out.rect(plot.bar(at, half * 2, lower, Math.max(upper, lower + 0.6)), {
        fill: mix(one.color, '#ffffff', 0.45),
        ...ink,
        tip: `${head}${head === '' ? '' : ': '}${numbers} (${five.count})`,
        to: cellAt(panel, one.split, place)?.link,
        hatch: settings.patterns ? one.sign : 0,
      });
      stroke(plot.point(at - half, mid), plot.point(at + half, mid), 1.6);
      for (const value of five.outliers.slice(0, MOST_OUTLIERS)) {
        const length = scale.of(value);
        if (length < 0 || length > (plot.isFlipped ? plot.box.width : plot.box.height)) continue;
        const [x, y] = plot.point(at, length);
        drawSymbol(out, 0, x, y, 3, { stroke: ink.stroke, thickness: 0.7, tip: said(value) });
      }
    }
  }
};

const axes: AxesKind = {
  along: () => 'bands',
  extents: ({ splits, places }, panel) => [
    extentOf(
      splits.flatMap((_, split) =>
        places.flatMap((__, place) => (cellAt(panel, split, place)?.spread ?? []).map(([value]) => value)),
      ),
    ),
    null,
  ],
  draw,
};

/** Where the middle half of the values lies, and how far the others reach. */
export const boxKind: ChartKind = {
  roles: ['spread'],
  takes: { along: true, split: true },
  isSpread: true,
  legend: (chart) => seriesLegend(chart, 'area', boxesOf(chart)),
  draw: (chart, box, writer, out) => drawAxes(axes, chart, box, writer, out),
};
