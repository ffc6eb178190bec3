import { geoArea } from 'd3-geo';

/** The geometries that maps draw (RFC 7946): lines are drawn, and not filled. */
export type Geometry =
  | { type: 'Point'; coordinates: [number, number] }
  | { type: 'MultiPoint'; coordinates: [number, number][] }
  | { type: 'LineString'; coordinates: [number, number][] }
  | { type: 'MultiLineString'; coordinates: [number, number][][] }
  | { type: 'Polygon'; coordinates: [number, number][][] }
  | { type: 'MultiPolygon'; coordinates: [number, number][][][] }
  | { type: 'GeometryCollection'; geometries: Geometry[] };

/** Longest text of one shape, in characters; most points of one; deepest collections in collections. */
const LONGEST = 4_000_000;
const MOST_POINTS = 200_000;
const DEEPEST = 8;

class NotGeoJson extends Error {}

class Reader {
  private points = 0;

  private position(value: unknown): [number, number] {
    if (!Array.isArray(value) || value.length < 2) throw new NotGeoJson();
    const [lon, lat] = value as unknown[];
    if (typeof lon !== 'number' || typeof lat !== 'number') throw new NotGeoJson();
    if (!(Math.abs(lon) <= 360 && Math.abs(lat) <= 90)) throw new NotGeoJson();
    if (++this.points > MOST_POINTS) throw new NotGeoJson();
    return [lon, lat];
  }

  private list<T>(value: unknown, each: (one: unknown) => T): T[] {
    if (!Array.isArray(value)) throw new NotGeoJson();
    return value.map(each);
  }

  private line = (value: unknown): [number, number][] => coarser(this.list(value, (one) => this.position(one)));
  private ring = (value: unknown): [number, number][] => {
    const ring = this.line(value);
    if (ring.length < 4) throw new NotGeoJson();
    return ring;
  };
  private polygon = (value: unknown): [number, number][][] => inward(this.list(value, this.ring));

  geometry(value: unknown, depth = 0): Geometry {
    if (typeof value !== 'object' || value === null || depth > DEEPEST) throw new NotGeoJson();
    const { type, coordinates, geometries, geometry, features } = value as Record<string, unknown>;
    switch (type) {
      case 'Point':
        return { type, coordinates: this.position(coordinates) };
      case 'MultiPoint':
      case 'LineString':
        return { type, coordinates: this.line(coordinates) };
      case 'MultiLineString':
        return { type, coordinates: this.list(coordinates, this.line) };
      case 'Polygon':
        return { type, coordinates: this.polygon(coordinates) };
      case 'MultiPolygon':
        return { type, coordinates: this.list(coordinates, this.polygon) };
      case 'GeometryCollection':
        return { type, geometries: this.list(geometries, (one) => this.geometry(one, depth + 1)) };
      case 'Feature':
        return this.geometry(geometry, depth + 1);
      case 'FeatureCollection':
        return { type: 'GeometryCollection', geometries: this.list(features, (one) => this.geometry(one, depth + 1)) };
      default:
        throw new NotGeoJson();
    }
  }
}

/** From so many points on, those of a line that cannot be seen on a page are left out. */
const MANY_POINTS = 2_000;
/** Steps that cannot: this share of how far the line reaches, a seventh of a point where it fills a page. */
const UNSEEN = 1 / 4_000;

/** A line without points that are nearer to the one before than anybody sees; its ends stay. */
const coarser = (line: [number, number][]): [number, number][] => {
  if (line.length < MANY_POINTS) return line;
  let [west, east, south, north] = [Infinity, -Infinity, Infinity, -Infinity];
  for (const [lon, lat] of line) {
    [west, east] = [Math.min(west, lon), Math.max(east, lon)];
    [south, north] = [Math.min(south, lat), Math.max(north, lat)];
  }
  const step = Math.max(east - west, north - south) * UNSEEN;
  let last = line[0]!;
  return line.filter((point, i) => {
    const isSeen = Math.abs(point[0] - last[0]) >= step || Math.abs(point[1] - last[1]) >= step;
    if (!isSeen && i > 0 && i < line.length - 1) return false;
    last = point;
    return true;
  });
};

/** Rings the way round in which the sphere’s geometry has them: what a polygon covers is its smaller side. */
const inward = (rings: [number, number][][]): [number, number][][] =>
  rings.map((ring, i) => {
    const covers = geoArea({ type: 'Polygon', coordinates: [ring] });
    const isLarge = covers > 2 * Math.PI;
    // The first is the outline, the others are holes in it, which go round the other way.
    return (i === 0) === isLarge ? [...ring].reverse() : ring;
  });

/** Reads a text as GeoJSON; null when it is none, or too large to be drawn. */
export const readGeoJson = (text: string): Geometry | null => {
  if (text.length > LONGEST) return null;
  try {
    return new Reader().geometry(JSON.parse(text));
  } catch {
    return null;
  }
};
