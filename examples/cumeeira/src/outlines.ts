import { seededRandom } from './random.ts';

type Point = [lon: number, lat: number];

/** The invented land in an empty sea: three regions of one island that meet at its summit, and a fourth on an island of its own. */
const LAND = { lon: -21.2, lat: 44.4, wide: 1.05, high: 0.7 };
const ISLE = { lon: -19.45, lat: 44.72, wide: 0.36, high: 0.3 };
/** Where the borders between the three regions reach the coast, in radians from the east against the clock. */
const BORDERS = [0.35, 2.5, 4.45];

const rounded = ([lon, lat]: Point): Point => [Math.round(lon * 1e4) / 1e4, Math.round(lat * 1e4) / 1e4];

/** A coast: how far it lies from the middle, by the direction, as a share of the usual. */
const coastOf = (seed: number): ((angle: number) => number) => {
  const random = seededRandom(seed);
  const waves = Array.from({ length: 9 }, (_, i) => ({
    times: i + 2,
    high: (random.unit() - 0.5) * (0.34 / (i + 1.6)),
    from: random.unit() * Math.PI * 2,
  }));
  return (angle) => waves.reduce((sum, { times, high, from }) => sum + high * Math.sin(times * angle + from), 1);
};

const landCoast = coastOf(411);
const isleCoast = coastOf(97);

const at = (around: typeof LAND, angle: number, share: number): Point =>
  rounded([around.lon + Math.cos(angle) * around.wide * share, around.lat + Math.sin(angle) * around.high * share]);

/** A border from the summit to the coast, the same for the two regions that it parts. */
const borderOf = (place: number): Point[] => {
  const random = seededRandom(500 + place);
  const angle = BORDERS[place]!;
  const steps = 9;
  return Array.from({ length: steps + 1 }, (_, i) => {
    const share = (i / steps) * landCoast(angle);
    const sway = i === 0 || i === steps ? 0 : (random.unit() - 0.5) * 0.22 * (1 - i / steps / 2);
    return at(LAND, angle + sway, share);
  });
};

const coast = (from: number, to: number, around: typeof LAND, reach: (angle: number) => number): Point[] => {
  const steps = Math.ceil(Math.abs(to - from) / 0.06);
  return Array.from({ length: steps + 1 }, (_, i) => {
    const angle = from + ((to - from) * i) / steps;
    return at(around, angle, reach(angle));
  });
};

const sector = (place: number): Point[] => {
  const [from, to] = [BORDERS[place]!, BORDERS[(place + 1) % 3]! + (place === 2 ? Math.PI * 2 : 0)];
  const ring = [...borderOf(place), ...coast(from, to, LAND, landCoast), ...borderOf((place + 1) % 3).reverse()];
  return [...ring, ring[0]!];
};

const isle = (): Point[] => {
  const ring = coast(0, Math.PI * 2, ISLE, isleCoast);
  return [...ring.slice(0, -1), ring[0]!];
};

/** Which part of the land each region is: the third one is the island. */
const SECTORS = [0, 2, null, 1];

/** The outline of a region, 0-based, as GeoJSON. */
export const outlineOf = (region: number): string => {
  const place = SECTORS[region]!;
  if (place !== null) return JSON.stringify({ type: 'Polygon', coordinates: [sector(place)] });
  const skerry = coast(0, Math.PI * 2, { lon: -19.02, lat: 44.98, wide: 0.07, high: 0.05 }, isleCoast);
  return JSON.stringify({ type: 'MultiPolygon', coordinates: [[isle()], [[...skerry.slice(0, -1), skerry[0]!]]] });
};

/** Where a hut stands in its region, both 0-based: on the slopes, never at the coast. */
export const placeOf = (region: number, hut: number): Point => {
  const random = seededRandom(7_000 + hut);
  const place = SECTORS[region]!;
  if (place === null) return at(ISLE, random.unit() * Math.PI * 2, 0.15 + random.unit() * 0.55);
  const [from, to] = [BORDERS[place]!, BORDERS[(place + 1) % 3]! + (place === 2 ? Math.PI * 2 : 0)];
  const angle = from + (to - from) * (0.18 + random.unit() * 0.64);
  return at(LAND, angle, 0.25 + random.unit() * 0.5);
};
