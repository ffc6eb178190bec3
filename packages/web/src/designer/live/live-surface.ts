import {
  isGrouping,
  type LaidBand,
  type LaidRegion,
  laidBands,
  laidItemsAt,
  MILLIMETRES,
  pageSize,
  type Report,
  reachedBands,
  readRegions,
  type SvgPage,
} from '@gaveta/core/internal';
import { holds, type PartOfItem, partDrawnAt, pointIn, type Surface } from '../design/surfaces.ts';

export const surfaceOf = (page: number): string => `live:${page}`;

/** The page that a surface is, from 1; null for the board. */
export const pageOfSurface = (surface: string | null): number | null =>
  surface?.startsWith('live:') ? Number(surface.slice('live:'.length)) : null;

/** What was read of a page: its regions once, the bands that they are for the report as it is. */
interface Read {
  regions: LaidRegion[];
  report: Report;
  bands: LaidBand[];
}

const known = new WeakMap<SvgPage, Read>();

/** The bands on a page, made once for each page and report. */
export const bandsOn = (report: Report, page: SvgPage): LaidBand[] => {
  const found = known.get(page);
  if (found?.report === report) return found.bands;
  const regions = found?.regions ?? readRegions(page);
  const bands = laidBands(report, regions);
  known.set(page, { regions, report, bands });
  return bands;
};

/** A point of a page that is shown. */
export interface LivePoint {
  /** From 1. */
  number: number;
  sheet: HTMLElement;
  bands: readonly LaidBand[];
  /** CSS pixels for a millimetre. */
  scale: number;
  /** In millimetres from the top left corner of the page. */
  x: number;
  y: number;
}

/** What the live page shows at the moment. */
export interface Shown {
  report: Report;
  pages: readonly SvgPage[];
}

/** A page that is shown, with its bands. */
export type LiveSheet = Pick<LivePoint, 'number' | 'sheet' | 'bands' | 'scale'>;

export const liveSheet = ({ report, pages }: Shown, sheet: HTMLElement): LiveSheet | null => {
  const number = Number(sheet.dataset.livePage);
  const page = pages[number - 1];
  if (!page) return null;
  const scale = sheet.getBoundingClientRect().width / (pageSize(page).width * MILLIMETRES);
  return { number, sheet, bands: bandsOn(report, page), scale };
};

/** The page under a point of the window, and the place on it; null beside the pages. */
export const livePointAt = (shown: Shown, clientX: number, clientY: number): LivePoint | null => {
  const element = document.elementFromPoint(clientX, clientY)?.closest('[data-live-page]');
  const of = element instanceof HTMLElement ? liveSheet(shown, element) : null;
  if (!of) return null;
  const { left, top } = of.sheet.getBoundingClientRect();
  return { ...of, x: (clientX - left) / of.scale, y: (clientY - top) / of.scale };
};

/** The live page as what takes drops. `words`: what is said of an item that takes fields. */
export const liveSurface = (outer: HTMLElement, shown: () => Shown, words: (item: string) => string): Surface => ({
  covers: (clientX, clientY) => holds(outer.getBoundingClientRect(), clientX, clientY),
  at: (clientX, clientY) => {
    const point = livePointAt(shown(), clientX, clientY);
    return point && pointIn(reachedBands(point.bands), point, surfaceOf(point.number));
  },
  part: (clientX, clientY): PartOfItem | null => {
    const drawn = partDrawnAt(clientX, clientY);
    if (drawn) return drawn;
    const point = livePointAt(shown(), clientX, clientY);
    const [first] = point ? laidItemsAt(point.bands, point) : [];
    return first && isGrouping(first.item) ? { item: first.item.id, part: null, words: words(first.item.id) } : null;
  },
});
