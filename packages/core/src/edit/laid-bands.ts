import type { Drawer, Item, PageSetup, Report } from '../definition/schema.ts';
import { type BandAt, bandKey, reportParts } from '../definition/walk.ts';
import type { LaidRegion } from '../page/regions.ts';
import { type BoardBand, placesIn } from './board.ts';
import type { Place } from './edit.ts';
import { pageOfBand, roomIn } from './paper.ts';

/** A band as it came on a page, once for each of its rows. Lengths in millimetres from the top left corner of the page. */
export interface LaidBand extends BoardBand {
  /** The rows behind it, as regions name them. */
  rows: string;
  laid: { places: Record<string, Place>; isPart: boolean };
}

/** Millimetres of a point. */
export const MILLIMETRES = 25.4 / 72;

type Box = Place;

const boxOf = ({ x, y, width, height }: LaidRegion): Box => ({
  x: x * MILLIMETRES,
  y: y * MILLIMETRES,
  width: width * MILLIMETRES,
  height: height * MILLIMETRES,
});

const around = (one: Box, other: Box): Box => {
  const [x, y] = [Math.min(one.x, other.x), Math.min(one.y, other.y)];
  return {
    x,
    y,
    width: Math.max(one.x + one.width, other.x + other.width) - x,
    height: Math.max(one.y + one.height, other.y + other.height) - y,
  };
};

/** A report's bands by their keys, each with its drawer, its width in millimetres and its paper. */
type Known = ReadonlyMap<string, { at: BandAt; drawer: Drawer | null; width: number; page: PageSetup }>;

const knownOf = new WeakMap<Report, Known>();

/** Made once for each report: every page in sight asks at each edit. */
const knownBands = (report: Report): Known => {
  const found = knownOf.get(report);
  if (found) return found;
  const known: Known = new Map(
    [...reportParts(report)].flatMap((part) => {
      if (part.kind !== 'band') return [];
      const { at, drawer } = part;
      const { address } = at;
      return [
        [bandKey(address), { at, drawer, width: roomIn(report, address), page: pageOfBand(report, address) }] as const,
      ];
    }),
  );
  knownOf.set(report, known);
  return known;
};

/**
 * The bands of a report on the page that these regions are of, in the order in which they were laid out. The page must have been laid out with places;
 * bands that the report no longer has are left out. Several parts of one instance are one band; what a subreport shows is the place
 * of its item.
 */
export const laidBands = (report: Report, regions: readonly LaidRegion[]): LaidBand[] => {
  const known = knownBands(report);
  const bands: LaidBand[] = [];
  const made = (key: string, rows: string, { x, y, height }: Box, isPart: boolean): LaidBand | null => {
    const found = known.get(key);
    if (!found) return null;
    const { at, drawer, width, page } = found;
    const { address, band } = at;
    const laid: LaidBand = {
      address,
      key,
      band,
      rows,
      top: y,
      left: x,
      height,
      width,
      isPart: false,
      side: 0,
      drawer,
      page,
      collapsed: false,
      laid: { places: {}, isPart },
    };
    bands.push(laid);
    return laid;
  };
  /** What lies inside an item: part of its band's last instance, or of one that began on a page before. */
  const inside = (id: string, box: Box): void => {
    const home = [...known.values()].find(({ at }) => at.band.items.some((item) => item.id === id))?.at;
    const item = home?.band.items.find((one) => one.id === id);
    if (!home || !item) return;
    const key = bandKey(home.address);
    const last = bands.findLast((band) => band.key === key);
    const of = last ?? made(key, '', { ...box, x: box.x - item.x, height: 0 }, true);
    if (!of) return;
    const { places } = of.laid;
    const own = { ...box, x: box.x - of.left, y: box.y - of.top };
    places[id] = places[id] ? around(places[id], own) : { ...own, x: item.x, width: Math.max(item.width, own.width) };
    of.height = Math.max(of.height, own.y + own.height);
  };
  for (const region of regions) {
    const box = boxOf(region);
    if (region.inside !== null) {
      inside(region.inside, box);
      continue;
    }
    const last = bands.at(-1);
    const goesOn =
      region.isPart && last?.laid.isPart && last.key === region.band && last.rows === region.rows && box.y >= last.top;
    const of = goesOn ? last : made(region.band, region.rows, box, region.isPart);
    if (!of) continue;
    of.height = Math.max(of.height, box.y + box.height - of.top);
    for (const [id, [x, y, width, height]] of Object.entries(region.items))
      of.laid.places[id] = {
        x: x * MILLIMETRES,
        y: box.y - of.top + y * MILLIMETRES,
        width: width * MILLIMETRES,
        height: height * MILLIMETRES,
      };
  }
  return bands;
};

/** How near to a line or a very low item counts as on it, in millimetres. */
const NEAR = 0.8;

/** The items at a place of a page, those in front first; each with the band that it stands in. */
export const laidItemsAt = (
  bands: readonly LaidBand[],
  { x, y }: { x: number; y: number },
): { item: Item; band: LaidBand }[] => {
  const found: { item: Item; band: LaidBand }[] = [];
  for (const band of bands)
    for (const [item, place] of placesIn(band)) {
      const [thinX, thinY] = [place.width < NEAR ? NEAR : 0, place.height < NEAR ? NEAR : 0];
      const isIn =
        x >= place.x - thinX &&
        x <= place.x + place.width + thinX &&
        y >= place.y - thinY &&
        y <= place.y + place.height + thinY;
      if (isIn) found.push({ item, band });
    }
  // Panels stand behind what they hold.
  const isPanel = ({ item }: { item: Item }): number => (item.kind === 'panel' ? 1 : 0);
  return found.reverse().sort((a, b) => isPanel(a) - isPanel(b));
};

/** The whole pages behind and over everything, which nothing is dropped upon by chance. */
const isSheet = ({ key }: BoardBand): boolean => key === 'pageBackground' || key === 'pageOverlay';

/** Bands that a hand can reach at a place: those of the flow before the sheets behind and over them. */
export const reachedBands = <B extends BoardBand>(bands: readonly B[]): B[] => bands.filter((band) => !isSheet(band));

/** One instance of each band, the nearest to `own`: what an item of that is moved among. */
export const nearestInstances = (bands: readonly LaidBand[], own: LaidBand): LaidBand[] => {
  const nearest = new Map<string, LaidBand>();
  const away = (band: LaidBand): number => Math.hypot(band.top - own.top, band.left - own.left);
  for (const band of bands) {
    const known = nearest.get(band.key);
    if (!known || away(band) < away(known)) nearest.set(band.key, band);
  }
  return [...nearest.values()];
};
