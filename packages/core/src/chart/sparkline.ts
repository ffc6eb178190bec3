import { area, line } from 'd3-shape';
import type { Mark } from '../page/page.ts';
import { stretchScale } from './along-scale.ts';
import type { Chart } from './chart.ts';
import { mix, PALETTE } from './colors.ts';
import { type Box, Drawing } from './drawing.ts';
import { thinnedPoints } from './lines.ts';
import { extentOf } from './series.ts';
import { around } from './symbols.ts';
import { valueScale } from './value-scale.ts';

export interface SparklineLook {
  type: 'line' | 'area' | 'column';
  color: string | null;
  marks: 'last' | 'ends' | 'extremes' | 'none';
}

interface SparkPoint {
  along: number;
  high: number;
  value: number;
  tip: string;
}

const DOT = 2.4;
const LOW = '#b3402e';

/** A chart of one series in the height of a line: nothing but its shape. */
export const drawSparkline = (chart: Chart, box: Box, { type, color, marks }: SparklineLook): Mark[] => {
  const out = new Drawing();
  const { places, panels, settings, saying } = chart;
  const cells = panels[0]?.cells[0] ?? [];
  const values = cells.map((cell) => cell?.values[0] ?? null);
  const extent = extentOf(values);
  if (!extent || box.width < 4 || box.height < 3) return [];
  const ink = color ?? settings.palette[0] ?? PALETTE[0]!;
  const edge = marks === 'none' ? 0.8 : DOT / 2 + 0.4;
  const inner = { x: box.x + edge, y: box.y + edge, width: box.width - 2 * edge, height: box.height - 2 * edge };
  // Columns begin at 0; a line shows how it moves.
  const ends = type === 'line' ? extent : (extentOf([0, ...extent]) ?? extent);
  const set = { ...settings.scales[0], from: settings.scales[0].from ?? ends[0], to: settings.scales[0].to ?? ends[1] };
  const scale = valueScale(ends, inner.height, set, '', 2, saying);
  const isStretched = type !== 'column' && places.every(({ at }) => at !== null) && places.length > 1;
  const band = inner.width / Math.max(1, places.length);
  const stretched = isStretched
    ? stretchScale(places, inner.width, { ...settings.along, kind: 'numbers', from: null, to: null }, 2, saying, null)
    : null;
  const stretches: SparkPoint[][] = [[]];
  for (const [i, { label }] of places.entries()) {
    const value = values[i] ?? null;
    if (value === null) {
      if (stretches.at(-1)!.length > 0) stretches.push([]);
      continue;
    }
    const along = stretched?.of(i) ?? (i + 0.5) * band;
    stretches.at(-1)!.push({ along, high: scale.within(value), value, tip: `${label}: ${cells[i]?.texts[0] ?? ''}` });
  }
  const all = stretches.flat();
  const bottom = inner.y + inner.height;
  const x = ({ along }: SparkPoint): number => inner.x + along;
  const y = ({ high }: SparkPoint): number => bottom - high;
  const base = scale.within(scale.base);
  if (type === 'column') {
    const width = Math.max(0.4, band * 0.78);
    for (const point of all) {
      const top = Math.max(point.high, base);
      const height = Math.max(0.3, Math.abs(point.high - base));
      const isLow = point.value < 0;
      out.rect(
        { x: x(point) - width / 2, y: bottom - top, width, height },
        { fill: isLow ? LOW : ink, tip: point.tip, opacity: marks === 'last' && point !== all.at(-1) ? 0.55 : 1 },
      );
    }
    return out.marks;
  }
  for (const stretch of stretches) {
    const points = thinnedPoints(stretch, inner.width);
    if (points.length < 2) continue;
    if (type === 'area')
      out.path((course) => area<SparkPoint>(x, bottom - base, y).context(around(course, 0, 0))(points), {
        fill: mix(ink, '#ffffff', 0.6),
      });
    out.path((course) => line<SparkPoint>(x, y).context(around(course, 0, 0))(points), { stroke: ink, thickness: 1 });
  }
  const dot = (point: SparkPoint | undefined, fill: string): void => {
    if (point) out.path((course) => course.arc(x(point), y(point), DOT / 2, 0, 2 * Math.PI), { fill, tip: point.tip });
  };
  const lowest = all.reduce((least, point) => (point.value < least.value ? point : least), all[0]!);
  const highest = all.reduce((most, point) => (point.value > most.value ? point : most), all[0]!);
  if (marks === 'ends') dot(all[0], ink);
  if (marks === 'extremes') {
    dot(lowest, LOW);
    dot(highest, ink);
  } else if (marks !== 'none' || all.length === 1) dot(all.at(-1), ink);
  return out.marks;
};
