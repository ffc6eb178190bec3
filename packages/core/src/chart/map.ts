import { type GeoProjection, geoAzimuthalEqualArea, geoBounds, geoCentroid, geoEqualEarth, geoPath } from 'd3-geo';
import type { LinkTarget, Mark } from '../page/page.ts';
import { inkOn, mix } from './colors.ts';
import { type Box, Drawing } from './drawing.ts';
import type { Geometry } from './geo.ts';
import { Labels } from './labels.ts';
import { layLegend } from './legend.ts';
import { extentOf } from './series.ts';
import { simplified } from './symbols.ts';
import { type ChartWriter, labelOf } from './writer.ts';

/** One place on a map. */
export interface MapPlace {
  label: string;
  geometry: Geometry | null;
  value: number | null;
  /** The value as it is shown. */
  text: string;
  link?: LinkTarget | null;
}

export interface MapData {
  places: readonly MapPlace[];
  title: string;
  /** Values colour the shapes in steps, or are the size of dots. */
  shows: 'colors' | 'dots';
  steps: number;
  ramp: readonly [string, string];
  labels: 'none' | 'name' | 'value';
  legend: 'right' | 'left' | 'top' | 'bottom' | 'none';
  empty: string;
  /** What values without a number are called in the legend. */
  blank: string;
  number: (value: number) => string;
}

const LAND = '#efe9db';
const EDGE = '#ffffff';
const COAST = '#a9a08b';
const QUIET = '#6b7672';
/** Widest dot as a share of the shorter side, smallest one in points. */
const WIDEST = 0.14;
const SMALLEST = 3;
const POINT = 6;
/** Past so many degrees from side to side the whole earth is shown at once. */
const WIDE = 140;

/** A projection that keeps areas, with all places in the box. */
const projectionFor = (geometries: readonly Geometry[], box: Box, edge: number): GeoProjection => {
  const all: Geometry = { type: 'GeometryCollection', geometries: [...geometries] };
  const [[west, south], [east, north]] = geoBounds(all);
  const wide = east >= west ? east - west : east - west + 360;
  const [lon, lat] = geoCentroid(all);
  const middle = [Number.isFinite(lon) ? lon : 0, Number.isFinite(lat) ? lat : (south + north) / 2] as const;
  const projection =
    wide > WIDE || north - south > WIDE
      ? geoEqualEarth().rotate([-middle[0], 0])
      : geoAzimuthalEqualArea().rotate([-middle[0], -middle[1]]);
  const inner: [[number, number], [number, number]] = [
    [box.x + edge, box.y + edge],
    [box.x + Math.max(edge + 1, box.width - edge), box.y + Math.max(edge + 1, box.height - edge)],
  ];
  const isPoint = west === east && south === north;
  if (!isPoint) return projection.precision(0.3).fitExtent(inner, all);
  // A place alone stands in the middle.
  return projection.scale(2_000).translate([box.x + box.width / 2, box.y + box.height / 2]);
};

/** The ends of steps of equal width from the least to the greatest value. */
export const stepEnds = ([low, high]: readonly [number, number], steps: number): number[] =>
  low === high ? [low, high] : Array.from({ length: steps + 1 }, (_, i) => low + ((high - low) * i) / steps);

/** Which step a value is in; the last one has its upper end as well. */
export const stepOf = (ends: readonly number[], value: number): number => {
  const at = ends.findIndex((end, i) => i > 0 && value < end) - 1;
  return at < 0 ? ends.length - 2 : at;
};

const isArea = ({ type }: Geometry): boolean =>
  type === 'Polygon' || type === 'MultiPolygon' || type === 'GeometryCollection';

/** The marks of a map in a box, in points. */
export const drawMap = (map: MapData, box: Box, writer: ChartWriter): Mark[] => {
  const out = new Drawing();
  let rest = box;
  const title = labelOf(map.title);
  if (title !== '') {
    const large = writer.sized(writer.size * 1.2);
    const text = large.shortened(title, box.width, true);
    out.words(large, text, box.x, box.y + large.size, { bold: true, ...(text === title ? {} : { tip: title }) });
    const height = large.lineHeight + 4;
    rest = { ...rest, y: rest.y + height, height: rest.height - height };
  }
  const shown = map.places.filter((place): place is MapPlace & { geometry: Geometry } => place.geometry !== null);
  if (shown.length === 0 || rest.width < 8 || rest.height < 8) {
    const words = writer.shortened(labelOf(map.empty), rest.width);
    out.words(writer, words, rest.x + rest.width / 2, rest.y + rest.height / 2, { align: 'middle', color: QUIET });
    return out.marks;
  }
  const extent = extentOf(shown.map(({ value }) => value));
  const ends = extent ? stepEnds(extent, Math.max(1, map.steps)) : [0, 0];
  const colors = ends.slice(1).map((_, i) => mix(...map.ramp, ends.length > 2 ? i / (ends.length - 2) : 1));
  const isDots = map.shows === 'dots';
  if (map.legend !== 'none' && extent && !isDots) {
    const entries = colors.map((color, i) => ({
      name: ends.length > 2 ? `${map.number(ends[i]!)} – ${map.number(ends[i + 1]!)}` : map.number(ends[0]!),
      color,
      as: 'area' as const,
      symbol: null,
      pattern: 0,
    }));
    if (shown.some(({ value }) => value === null))
      entries.push({ name: map.blank, color: LAND, as: 'area', symbol: null, pattern: 0 });
    // The greatest first, as one reads a scale.
    const legend = layLegend(entries.reverse(), map.legend, rest, writer);
    legend.draw(out);
    rest = legend.rest;
  }
  const widest = Math.max(SMALLEST, Math.min(rest.width, rest.height) * WIDEST);
  const hasPoints = isDots || shown.some(({ geometry }) => !isArea(geometry));
  const projection = projectionFor(
    shown.map(({ geometry }) => geometry),
    rest,
    hasPoints ? widest / 2 + 1 : 1,
  );
  const greatest = Math.max(...shown.map(({ value }) => value ?? 0), 0);
  const labels = new Labels(rest, writer, out);
  const colorOf = ({ value }: MapPlace): string => (value === null || !extent ? LAND : colors[stepOf(ends, value)]!);
  const middles: { place: MapPlace; at: [number, number]; width: number; on: string | null }[] = [];
  for (const place of shown) {
    const { geometry, value, link } = place;
    const tip = `${labelOf(place.label)}${place.text === '' ? '' : `: ${place.text}`}`;
    const path = geoPath(projection);
    const [x, y] = path.centroid(geometry);
    const at: [number, number] = [x, y];
    if (!Number.isFinite(x) || !Number.isFinite(y)) continue;
    const fill = isDots ? LAND : colorOf(place);
    if (isArea(geometry)) {
      out.path(
        (course) => {
          geoPath(projection, simplified(course))(geometry);
        },
        { fill, stroke: isDots ? COAST : EDGE, thickness: 0.6, tip, to: link },
      );
      const [[x1], [x2]] = path.bounds(geometry);
      if (!isDots) middles.push({ place, at, width: x2 - x1, on: fill });
    }
    if (!isDots && isArea(geometry)) continue;
    const width = isDots
      ? value !== null && value > 0
        ? Math.max(SMALLEST, widest * Math.sqrt(value / greatest))
        : 0
      : POINT;
    if (geometry.type === 'LineString' || geometry.type === 'MultiLineString') {
      out.path(
        (course) => {
          geoPath(projection, simplified(course))(geometry);
        },
        { stroke: colorOf(place), thickness: 1.4, tip, to: link },
      );
      continue;
    }
    if (width === 0) continue;
    middles.push({ place, at, width, on: null });
  }
  // Great dots first, so that small ones are seen.
  const dots = middles.filter(({ on }) => on === null).sort((a, b) => b.width - a.width);
  for (const { place, at, width } of dots) {
    const tip = `${labelOf(place.label)}${place.text === '' ? '' : `: ${place.text}`}`;
    const fill = isDots ? map.ramp[1] : colorOf(place);
    out.path((course) => course.arc(at[0], at[1], width / 2, 0, 2 * Math.PI), {
      fill,
      stroke: EDGE,
      thickness: 0.5,
      opacity: isDots ? 0.75 : 1,
      tip,
      to: place.link,
    });
    labels.avoid({ x: at[0] - width / 2, y: at[1] - width / 2, width, height: width });
  }
  if (map.labels !== 'none')
    for (const { place, at, width, on } of middles) {
      const name = labelOf(map.labels === 'value' ? place.text : place.label);
      if (on !== null) {
        const text = writer.width(name) <= width * 1.1 ? name : writer.shortened(name, width);
        labels.put(text, [at], { color: inkOn(on), over: true });
        continue;
      }
      const off = width / 2 + writer.capHeight / 2 + 2;
      const beside = width / 2 + writer.width(name) / 2 + 2;
      labels.put(name, [
        [at[0] + beside, at[1]],
        [at[0] - beside, at[1]],
        [at[0], at[1] - off],
        [at[0], at[1] + off],
      ]);
    }
  return out.marks;
};
