import { median } from 'd3-array';
import { area, type CurveFactory, curveLinear, curveMonotoneX, curveStep, curveStepAfter, line } from 'd3-shape';
import type { ChartSettings } from './chart.ts';
import type { Plot } from './plot.ts';
import { colorOf, partOf, type Series, textAt, valueAt } from './series.ts';
import { stacked } from './stack.ts';
import { around, dashAt, drawSymbol } from './symbols.ts';

/** Points of a line with a value, in points of the plot. */
interface LinePoint {
  place: number;
  along: number;
  low: number;
  high: number;
  /** Where the last value of steps ends: no place by itself. */
  isEnd?: true;
}

const curveOf = ({ curve }: ChartSettings, isBands: boolean): CurveFactory =>
  curve === 'smooth' ? curveMonotoneX : curve === 'steps' ? (isBands ? curveStep : curveStepAfter) : curveLinear;

/** A line is broken where its next point is further away than so many of its usual steps. */
const FARTHEST_STEP = 3;

/** Most points that a line has for each point of its length: four draw all that can be seen of its shape. */
const MOST_IN_POINT = 4;

/** The stretches of a series between which there is nothing. */
const stretchesOf = (
  plot: Plot,
  series: Series,
  heights: (place: number) => readonly [number, number] | null,
): LinePoint[][] => {
  const { missing, along, curve } = plot.chart.settings;
  const scale = plot.scale(series.isSecond);
  const stretches: LinePoint[][] = [];
  let open: LinePoint[] | null = null;
  const { places } = plot.chart;
  const order = places.map((_, i) => i);
  if (plot.along.at) order.sort((a, b) => (places[a]!.at ?? 0) - (places[b]!.at ?? 0));
  for (const place of order) {
    const at = plot.place(place);
    if (at === null) continue;
    const height = heights(place);
    if (!height) {
      if (missing === 'gap') open = null;
      continue;
    }
    if (!open) {
      open = [];
      stretches.push(open);
    }
    open.push({ place, along: at, low: scale.within(height[0]), high: scale.within(height[1]) });
  }
  const isTime = along.kind === 'time' || along.kind === 'days';
  const parts = missing === 'gap' && isTime && plot.along.at ? stretches.flatMap(parted) : stretches;
  return curve === 'steps' && plot.along.at ? parts.map((part) => withLastStep(part, plot)) : parts;
};

/** The last value holds as long as the shortest step between two of them, as the others hold until the next one. */
const withLastStep = (stretch: readonly LinePoint[], { along: { band }, alongLength }: Plot): LinePoint[] => {
  const last = stretch.at(-1)!;
  const end = Math.min(alongLength, last.along + band);
  return end > last.along && band < alongLength ? [...stretch, { ...last, along: end, isEnd: true }] : [...stretch];
};

/** Parts of a stretch between which nothing was read for long. */
const parted = (stretch: readonly LinePoint[]): LinePoint[][] => {
  const steps = stretch.slice(1).map((point, i) => point.along - stretch[i]!.along);
  const usual = median(steps) ?? 0;
  if (usual <= 0) return [[...stretch]];
  const parts: LinePoint[][] = [[]];
  for (const [i, point] of stretch.entries()) {
    if (i > 0 && steps[i - 1]! > usual * FARTHEST_STEP) parts.push([]);
    parts.at(-1)!.push(point);
  }
  return parts;
};

/**
 * Fewer points with the same shape: of all that fall into one point of the length, the first, the lowest, the highest and the
 * last are kept, in their order.
 */
export const thinnedPoints = <P extends { along: number; high: number }>(points: readonly P[], length: number): P[] => {
  if (points.length <= length * MOST_IN_POINT) return [...points];
  const kept: P[] = [];
  for (let start = 0; start < points.length; ) {
    const column = Math.floor(points[start]!.along);
    let end = start;
    let [low, high] = [start, start];
    for (; end < points.length && Math.floor(points[end]!.along) === column; end++) {
      if (points[end]!.high < points[low]!.high) low = end;
      if (points[end]!.high > points[high]!.high) high = end;
    }
    for (const i of [...new Set([start, Math.min(low, high), Math.max(low, high), end - 1])]) kept.push(points[i]!);
    start = end;
  }
  return kept;
};

/** From so many places on, points have no symbols unless the chart says so. */
const MOST_SYMBOLS = 40;
/** Most places where a pointer is shown a value for each. */
const MOST_TIPS = 400;
const SYMBOL_SIZE = 5;
const LINE_WIDTH = 1.6;

/** Draws series as lines, or as areas down to the base of the scale or the series below. */
export const drawLines = (plot: Plot, series: readonly Series[], as: 'line' | 'area'): void => {
  const { chart, panel, out, along } = plot;
  const { settings, places } = chart;
  const { stack, patterns, missing } = settings;
  const sums = stack === 'beside' ? null : stacked(panel, series, places.length, stack === 'full');
  const isBands = along.at === null;
  const curve = curveOf(settings, isBands);
  const withSymbols =
    settings.symbols ?? (as === 'line' && places.length <= MOST_SYMBOLS && (series.length > 1 || places.length <= 24));
  const drawn = series.map((one, i) => {
    const { base } = plot.scale(one.isSecond);
    const heights = (place: number): readonly [number, number] | null => {
      if (sums) return sums[i]![place]!;
      const value = valueAt(panel, one, place) ?? (missing === 'zero' ? 0 : null);
      return value === null ? null : [base, value];
    };
    return { one, stretches: stretchesOf(plot, one, heights) };
  });
  const x = ({ along: at }: LinePoint): number => plot.point(at, 0)[0];
  const y = (value: number): number => plot.point(0, value)[1];
  if (as === 'area')
    for (const { one, stretches } of drawn)
      for (const stretch of stretches) {
        const points = thinnedPoints(stretch, plot.alongLength);
        const hatch = patterns ? one.sign : 0;
        const polygon = [
          ...points.map((point) => [x(point), y(point.high)] as const),
          ...[...points].reverse().map((point) => [x(point), y(point.low)] as const),
        ];
        out.path(
          (course) =>
            area<LinePoint>(
              x,
              (point) => y(point.low),
              (point) => y(point.high),
            )
              .curve(curve)
              .context(around(course, 0, 0))(points),
          { fill: one.color, opacity: sums ? 0.9 : 0.45 },
        );
        if (hatch) out.hatch(polygon, hatch, one.color);
      }
  for (const { one, stretches } of drawn) {
    const dash = patterns ? dashAt(one.sign) : undefined;
    for (const stretch of stretches) {
      const points = thinnedPoints(stretch, plot.alongLength);
      if (points.length > 1)
        out.path(
          (course) =>
            line<LinePoint>(x, (point) => y(point.high))
              .curve(curve)
              .context(around(course, 0, 0))(points),
          { stroke: one.color, thickness: as === 'area' && sums ? 0.8 : LINE_WIDTH, dash },
        );
      // A point without neighbours has no line to be seen by.
      const own = points.filter(({ isEnd }) => !isEnd);
      const marked = withSymbols || points.length === 1 ? own : [];
      for (const point of marked)
        drawSymbol(out, one.sign, x(point), y(point.high), SYMBOL_SIZE, {
          fill: colorOf(panel, one, point.place),
          ...partOf(chart, panel, one, point.place),
        });
      if (!withSymbols && points.length > 1 && points.length * series.length <= MOST_TIPS) tips(plot, one, own);
    }
  }
  if (settings.labels !== 'none')
    for (const { one, stretches } of drawn)
      for (const point of stretches.flat()) {
        if (point.isEnd) continue;
        const [px, py] = plot.point(point.along, point.high);
        plot.labels.put(textAt(panel, one, point.place), [
          [px, py - 7],
          [px, py + 7],
        ]);
      }
};

/** Places where a pointer is shown the values of a line without symbols. */
const tips = (plot: Plot, series: Series, points: readonly LinePoint[]): void => {
  const { chart, panel, out } = plot;
  for (const point of points) {
    const [x, y] = plot.point(point.along, point.high);
    const width = Math.max(2, Math.min(8, plot.along.band));
    // As good as nothing is drawn, so that a pointer finds it.
    out.rect(
      { x: x - width / 2, y: y - 4, width, height: 8 },
      { fill: '#ffffff', opacity: 0, ...partOf(chart, panel, series, point.place) },
    );
  }
};
