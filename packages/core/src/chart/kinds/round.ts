import { arc, pie } from 'd3-shape';
import type { LinkTarget } from '../../page/page.ts';
import type { Chart, ChartPanel } from '../chart.ts';
import { colorAt, inkOn, OTHERS_COLOR } from '../colors.ts';
import type { Box, Drawing } from '../drawing.ts';
import type { ChartKind } from '../kind.ts';
import { Labels } from '../labels.ts';
import type { LegendEntry } from '../legend.ts';
import { panelGrid } from '../panels.ts';
import { cellAt, seriesOf } from '../series.ts';
import { around } from '../symbols.ts';
import { type ChartWriter, labelOf } from '../writer.ts';

/** One slice of one pie. */
export interface Slice {
  name: string;
  color: string;
  sign: number;
  value: number;
  text: string;
  link?: LinkTarget | null | undefined;
}

interface Pie {
  title: string;
  slices: Slice[];
}

/** Whether places are the slices; otherwise the series are. */
export const byPlaces = ({ places }: Chart): boolean => places.length > 1 || (places[0]?.label ?? '') !== '';

const placeColor = ({ settings, places }: Chart, place: number): string =>
  places[place]!.isOthers ? OTHERS_COLOR : colorAt(settings.palette, place);

/** The pies of a panel: one, or one for each split when places are the slices. Only what is more than nothing has a slice. */
const piesOf = (chart: Chart, panel: ChartPanel): Pie[] => {
  const { places, splits } = chart;
  const known = (value: number | null): value is number => value !== null && value > 0;
  if (!byPlaces(chart)) {
    const slices = seriesOf(chart).flatMap(({ name, color, sign, split, measure }): Slice[] => {
      const cell = cellAt(panel, split, 0);
      const value = cell?.values[measure] ?? null;
      return known(value)
        ? [
            {
              name,
              color: cell?.colors?.[measure] ?? color,
              sign,
              value,
              text: cell?.texts[measure] ?? '',
              link: cell?.link,
            },
          ]
        : [];
    });
    return [{ title: panel.title, slices }];
  }
  return splits.map(({ label }, split) => ({
    title: [panel.title, label].filter((part) => part !== '').join(', '),
    slices: places.flatMap(({ label: name }, place): Slice[] => {
      const cell = cellAt(panel, split, place);
      const value = cell?.values[0] ?? null;
      const color = cell?.colors?.[0] ?? placeColor(chart, place);
      return known(value) ? [{ name, color, sign: place, value, text: cell?.texts[0] ?? '', link: cell?.link }] : [];
    }),
  }));
};

/** Angles of the slices, clockwise from the top in radians; they add up to a whole turn. */
export const anglesOf = (slices: readonly Slice[]): { start: number; end: number }[] => {
  // Shares of the greatest: sums of huge values are still numbers.
  const greatest = Math.max(...slices.map(({ value }) => value));
  return pie<Slice>()
    .sort(null)
    .value(({ value }) => value / greatest)([...slices])
    .map(({ startAngle, endAngle }) => ({ start: startAngle, end: endAngle }));
};

const FLAT = Math.PI / 60;

const drawPie = (chart: Chart, { slices }: Pie, box: Box, hole: number, writer: ChartWriter, out: Drawing): void => {
  const { settings, saying } = chart;
  const { labels: shown, patterns } = settings;
  const isLabelled = shown !== 'none';
  const radius = Math.max(
    2,
    Math.min(box.width - (isLabelled ? 6 * writer.size : 0), box.height - (isLabelled ? 2.6 * writer.size : 0)) / 2,
  );
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  if (slices.length === 0) {
    out.path((course) => course.arc(x, y, radius, 0, 2 * Math.PI), { stroke: '#d8d0bd', thickness: 0.8 });
    return;
  }
  const whole = slices.reduce((sum, { value }) => sum + value, 0);
  const angles = anglesOf(slices);
  const inner = radius * hole;
  const shares = slices.map(({ value }) => saying.number(Number.isFinite(whole) ? value / whole : 0, '0%'));
  for (const [i, slice] of slices.entries()) {
    const { start, end } = angles[i]!;
    const shape = { innerRadius: inner, outerRadius: radius, startAngle: start, endAngle: end };
    out.path(
      (course) => {
        arc().context(around(course, x, y))(shape);
      },
      {
        fill: slice.color,
        ...(slices.length > 1 ? { stroke: '#ffffff', thickness: Math.min(1, radius * 0.02) } : {}),
        tip: `${labelOf(slice.name)}: ${slice.text} (${shares[i]})`,
        to: slice.link,
      },
    );
    if (!patterns) continue;
    const corners: [number, number][] = [];
    const steps = Math.max(2, Math.ceil((end - start) / FLAT));
    for (let s = 0; s <= steps; s++) corners.push(onCircle(x, y, radius, start + ((end - start) * s) / steps));
    for (let s = steps; s >= 0; s--) corners.push(onCircle(x, y, inner, start + ((end - start) * s) / steps));
    out.hatch(corners, slice.sign, slice.color);
  }
  if (!isLabelled) return;
  const labels = new Labels(box, writer, out);
  for (const [i, { name, text, color }] of slices.entries()) {
    const { start, end } = angles[i]!;
    const middle = (start + end) / 2;
    const words = shown === 'name' ? labelOf(name) : shown === 'share' ? shares[i]! : text;
    const width = writer.width(words);
    // Inside where the slice is wide enough there, and past its edge otherwise.
    const at = inner > 0 ? (inner + radius) / 2 : radius * 0.66;
    const room = inner > 0 ? Math.min(radius - inner, (end - start) * at) : (end - start) * at;
    if (room > width + 4 && room > writer.lineHeight) {
      labels.put(words, [onCircle(x, y, at, middle)], { color: inkOn(color), over: true });
      continue;
    }
    const [ox, oy] = onCircle(x, y, radius + 4, middle);
    const [dx, dy] = [Math.sin(middle), -Math.cos(middle)];
    labels.put(words, [[ox + (dx * (width + 2)) / 2, oy + (dy * writer.capHeight) / 2 + dy * 2]]);
  }
};

/** A point so far around a circle, clockwise from its top. */
const onCircle = (x: number, y: number, radius: number, angle: number): [number, number] => [
  x + radius * Math.sin(angle),
  y - radius * Math.cos(angle),
];

/** Pies, with a hole of a share of their radius. */
export const roundKind = (hole: number): ChartKind => ({
  roles: ['value'],
  takes: { along: true, split: true },
  legend: (chart) => {
    const { settings, places } = chart;
    const pattern = (sign: number): number => (settings.patterns ? sign : 0);
    if (!byPlaces(chart))
      return seriesOf(chart).map(
        ({ name, color, sign }): LegendEntry => ({ name, color, as: 'area', symbol: null, pattern: pattern(sign) }),
      );
    return places.map(
      ({ label }, place): LegendEntry => ({
        name: label,
        color: placeColor(chart, place),
        as: 'area',
        symbol: null,
        pattern: pattern(place),
      }),
    );
  },
  draw: (chart, box, writer, out) => {
    const pies = chart.panels.flatMap((panel) => piesOf(chart, panel));
    const grid = panelGrid(pies.length, box, chart.settings.panelColumns, writer);
    const width = (box.width - grid.gap * (grid.columns - 1)) / grid.columns;
    const height = (box.height - grid.gap * (grid.rows - 1)) / grid.rows;
    for (const [i, one] of pies.entries()) {
      const area = {
        x: box.x + (i % grid.columns) * (width + grid.gap),
        y: box.y + Math.floor(i / grid.columns) * (height + grid.gap) + grid.heading,
        width,
        height: height - grid.heading,
      };
      if (!(area.width > 4 && area.height > 4)) continue;
      if (grid.heading > 0) {
        const words = labelOf(one.title);
        const text = writer.shortened(words, width, true);
        const put = { align: 'middle' as const, bold: true, ...(text === words ? {} : { tip: words }) };
        out.words(writer, text, area.x + width / 2, area.y - writer.size * 0.35, put);
      }
      drawPie(chart, one, area, hole, writer, out);
    }
  },
});
