import { area, curveLinear, curveMonotoneX, line } from 'd3-shape';
import { type AxesKind, drawAxes } from '../axes.ts';
import type { Chart } from '../chart.ts';
import type { ChartKind } from '../kind.ts';
import { thinnedPoints } from '../lines.ts';
import type { Plot } from '../plot.ts';
import { cellAt, colorOf, extentOf, type Series, seriesOf } from '../series.ts';
import { around } from '../symbols.ts';
import { seriesLegend } from './common.ts';

interface RangePoint {
  place: number;
  along: number;
  low: number;
  high: number;
}

/** One series for each split: its band lies between its two measures. */
const bandsOf = (chart: Chart): Series[] => seriesOf(chart, 1).map((one) => ({ ...one, drawnAs: null }));

const tipAt = ({ chart, panel }: Plot, { split, name }: Series, place: number): string => {
  const texts = cellAt(panel, split, place)?.texts ?? [];
  const head = [panel.title, chart.places[place]?.label ?? '', chart.splits.length > 1 ? name : ''];
  return `${head.filter((part) => part !== '').join(', ')}: ${texts[0] ?? ''} – ${texts[1] ?? ''}`;
};

const drawBand = (plot: Plot, series: Series): void => {
  const { chart, panel, out } = plot;
  const scale = plot.scale(false);
  const curve = chart.settings.curve === 'smooth' ? curveMonotoneX : curveLinear;
  let open: RangePoint[] = [];
  const bands = [open];
  for (let place = 0; place < chart.places.length; place++) {
    const at = plot.place(place);
    if (at === null) continue;
    const [from, to] = cellAt(panel, series.split, place)?.values ?? [];
    if (from == null || to == null) {
      if (chart.settings.missing === 'gap' && open.length > 0) {
        open = [];
        bands.push(open);
      }
      continue;
    }
    const ends = [scale.within(from), scale.within(to)] as const;
    open.push({ place, along: at, low: Math.min(...ends), high: Math.max(...ends) });
  }
  const x = ({ along }: RangePoint): number => plot.point(along, 0)[0];
  const y = (value: number): number => plot.point(0, value)[1];
  const edge = { stroke: series.color, thickness: 0.8 };
  for (const band of bands) {
    const points = thinnedPoints(band, plot.alongLength);
    if (points.length === 1) {
      const [{ along, low, high }] = points as [RangePoint];
      out.rect(plot.bar(along, 6, low, Math.max(high, low + 1)), { fill: series.color, opacity: 0.5 });
    } else if (points.length > 1) {
      const [low, high] = [(point: RangePoint) => y(point.low), (point: RangePoint) => y(point.high)];
      out.path(
        (course) =>
          area<RangePoint>(x, low, high)
            .curve(curve)
            .context(around(course, 0, 0))(points),
        {
          fill: series.color,
          opacity: 0.35,
        },
      );
      for (const end of [low, high])
        out.path(
          (course) =>
            line<RangePoint>(x, end)
              .curve(curve)
              .context(around(course, 0, 0))(points),
          edge,
        );
    }
    if (points.length > 400) continue;
    for (const { place, along, low, high } of points)
      out.rect(plot.bar(along, Math.max(2, Math.min(8, plot.along.band)), low, Math.max(high, low + 2)), {
        fill: '#ffffff',
        opacity: 0,
        tip: tipAt(plot, series, place),
        to: cellAt(panel, series.split, place)?.link,
      });
  }
};

/** Bars that float between two values, where places are no sequence. */
const drawFloating = (plot: Plot, series: readonly Series[]): void => {
  const { chart, panel, out, along } = plot;
  const scale = plot.scale(false);
  const width = Math.min(40 * series.length, along.band * 0.7) / series.length;
  for (let place = 0; place < chart.places.length; place++) {
    const middle = plot.place(place);
    if (middle === null) continue;
    for (const [s, one] of series.entries()) {
      const [from, to] = cellAt(panel, one.split, place)?.values ?? [];
      if (from == null || to == null) continue;
      const at = middle + (s - (series.length - 1) / 2) * width;
      const ends = [scale.within(from), scale.within(to)] as const;
      const [low, high] = [Math.min(...ends), Math.max(...ends)];
      const fill = colorOf(panel, one, place);
      out.rect(plot.bar(at, width * 0.94, low, Math.max(high, low + 1)), {
        fill,
        tip: tipAt(plot, one, place),
        to: cellAt(panel, one.split, place)?.link,
        hatch: chart.settings.patterns ? one.sign : 0,
      });
    }
  }
};

const axes: AxesKind = {
  along: ({ settings }) => (settings.along.kind === 'categories' ? 'bands' : 'stretch'),
  extents: ({ splits, places }, panel) => [
    extentOf(
      splits.flatMap((_, split) =>
        places.flatMap((__, place) => (cellAt(panel, split, place)?.values ?? []).slice(0, 2)),
      ),
    ),
    null,
  ],
  draw: (plot) => {
    const series = bandsOf(plot.chart);
    if (plot.along.at || plot.along.isSequence) for (const one of series) drawBand(plot, one);
    else drawFloating(plot, series);
  },
};

/** A band from one measure to another. */
export const rangeKind: ChartKind = {
  roles: ['from', 'to'],
  takes: { along: true, split: true },
  isStretched: true,
  legend: (chart) => seriesLegend(chart, 'area', bandsOf(chart)),
  draw: (chart, box, writer, out) => drawAxes(axes, chart, box, writer, out),
};
