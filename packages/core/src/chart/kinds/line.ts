import { type AxesKind, drawAxes } from '../axes.ts';
import type { ChartKind } from '../kind.ts';
import { drawLines } from '../lines.ts';
import { seriesOf } from '../series.ts';
import { bySecond, seriesExtent, seriesLegend, shareFormat } from './common.ts';

/** Lines or areas, on one scale or two. */
export const linesKind = (as: 'line' | 'area'): ChartKind => {
  const axes: AxesKind = {
    along: ({ settings }) =>
      settings.along.kind === 'categories' ? 'bands' : settings.curve === 'steps' ? 'after' : 'stretch',
    format: shareFormat,
    extents: (chart, panel) => {
      const [first, second] = bySecond(seriesOf(chart));
      const fromZero = as === 'area';
      return [seriesExtent(chart, panel, first, fromZero), seriesExtent(chart, panel, second, fromZero)];
    },
    draw: (plot) => {
      for (const set of bySecond(seriesOf(plot.chart))) if (set.length > 0) drawLines(plot, set, as);
    },
  };
  return {
    roles: ['value'],
    takes: { along: true, split: true },
    isStretched: true,
    legend: (chart) => seriesLegend(chart, as),
    draw: (chart, box, writer, out) => drawAxes(axes, chart, box, writer, out),
  };
};

export const lineKind = linesKind('line');
