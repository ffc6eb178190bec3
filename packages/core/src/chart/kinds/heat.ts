import { type AxesKind, drawAxes } from '../axes.ts';
import type { Chart } from '../chart.ts';
import { inkOn, mix } from '../colors.ts';
import type { ChartKind } from '../kind.ts';
import { layRamp } from '../legend.ts';
import type { Plot } from '../plot.ts';
import { cellAt, type Extent, extentOf } from '../series.ts';

/** Colours of a legend, from the least to the greatest value. */
const STEPS = 9;

const extentIn = ({ panels, splits, places }: Chart): Extent | null =>
  extentOf(
    panels.flatMap((panel) =>
      splits.flatMap((_, split) => places.map((__, place) => cellAt(panel, split, place)?.values[0] ?? null)),
    ),
  );

/** Where a value lies between the least and the greatest, from 0 to 1. */
const shareOf = (value: number, [low, high]: Extent): number =>
  high > low ? value / (high - low) - low / (high - low) : 1;

const draw = (plot: Plot): void => {
  const { chart, panel, out, along, box, writer, labels } = plot;
  const { splits, places, settings } = chart;
  const extent = extentIn(chart);
  if (!extent) return;
  const high = box.height / Math.max(1, splits.length);
  const gap = Math.min(1, along.band * 0.1, high * 0.1);
  for (const [s, split] of splits.entries())
    for (const [p, place] of places.entries()) {
      const cell = cellAt(panel, s, p);
      const value = cell?.values[0] ?? null;
      const middle = plot.place(p);
      if (value === null || middle === null) continue;
      const fill = cell?.colors?.[0] ?? mix(...settings.ramp, shareOf(value, extent));
      const area = {
        x: box.x + middle - along.band / 2,
        y: box.y + s * high,
        width: along.band - gap,
        height: high - gap,
      };
      const head = [panel.title, split.label, place.label].filter((part) => part !== '').join(', ');
      const text = cell?.texts[0] ?? '';
      out.rect(area, { fill, tip: `${head}: ${text}`, to: cell?.link });
      if (settings.labels === 'none' || writer.width(text) + 2 > area.width || writer.lineHeight > area.height)
        continue;
      labels.put(text, [[area.x + area.width / 2, area.y + area.height / 2]], { color: inkOn(fill), over: true });
    }
};

const axes: AxesKind = {
  along: () => 'bands',
  extents: () => [[0, 1], null],
  rows: ({ splits }) => splits.map(({ label }) => label),
  draw,
};

/** A grid of colours: places along, splits one below the other. */
export const heatKind: ChartKind = {
  roles: ['color'],
  takes: { along: true, split: true },
  legend: () => [],
  ramp: (chart, side, box, writer) => {
    const extent = extentIn(chart);
    if (!extent) return { rest: box, draw: () => {} };
    const said = (value: number): string => chart.saying.number(value, chart.measures[0]?.format ?? '');
    const colors = Array.from({ length: STEPS }, (_, i) => mix(...chart.settings.ramp, i / (STEPS - 1)));
    return layRamp({ colors, from: said(extent[0]), to: said(extent[1]) }, side, box, writer);
  },
  draw: (chart, box, writer, out) => {
    // Lines and zones have no scale to stand on.
    const settings = { ...chart.settings, lines: [], zones: [] };
    drawAxes(axes, { ...chart, settings }, box, writer, out);
  },
};
