import { type Item, type PageSetup, paperSize, type Report, widthBetween } from '../definition/schema.ts';
import { pageOfSet, pagesFrom, setOf } from '../definition/sets.ts';
import { allBands, type BandAddress, type BandAt, findDrawer } from '../definition/walk.ts';
import { columnSets, fitColumns } from './columns.ts';
import { applyEdit, type Edit, type Place, rounded } from './edit.ts';

/** What happens to the layout when the room between the margins changes. */
export const PAPER_CHANGES = ['leave', 'scale', 'fit'] as const;
export type PaperChange = (typeof PAPER_CHANGES)[number];

/** Width between the margins, in millimetres. */
export const roomOf = (page: PageSetup): number => rounded(widthBetween(page));

/** How near to the right margin an item counts as standing there, in millimetres. */
const NEAR_EDGE = 6;

/** The paper that a band stands on. The report's footer stands where its last set of rows ends. */
export const pageOfBand = (report: Report, address: BandAddress): PageSetup =>
  pageOfSet(report, setWith(report, address));

/** Most that a band can be high, in millimetres: the room between the margins of its paper. */
export const mostBandHeight = (report: Report, address: BandAddress): number => {
  const page = pageOfBand(report, address);
  return Math.max(0, rounded(paperSize(page).height - page.margins.top - page.margins.bottom));
};

/** Width of the band, in millimetres: that of its paper, or of its drawer where that stands beside others. */
export const roomIn = (report: Report, address: BandAddress): number => {
  for (let at = address.drawer === null ? null : findDrawer(report, address.drawer); at; ) {
    if (at.drawer.beside) return at.drawer.beside.width;
    at = at.parent && findDrawer(report, at.parent.id);
  }
  return roomOf(pageOfBand(report, address));
};

const setWith = (report: Report, { drawer, band }: BandAddress): number => {
  if (drawer !== null) return setOf(report, drawer);
  return band === 'footer' ? report.body.length - 1 : -1;
};

/** The bands on the pages that begin with the set at a place; -1: with the report. */
function* bandsOnPages(report: Report, place: number): Iterable<BandAt> {
  for (const at of allBands(report)) if (pagesFrom(report, setWith(report, at.address)) === place) yield at;
}

/** The edit that gives the pages from a set on, or the report's, their paper. */
const setPage = ({ body }: Report, page: PageSetup, place: number): Edit => {
  const set = body[place];
  return set ? { do: 'drawer', drawer: set.id, settings: { page } } : { do: 'report', settings: { page } };
};

/**
 * Another paper, orientation or margins, of the report's pages or of those that begin with the set at `place`. `leave`: items stay where they are; `scale`: places, sizes and type grow or
 * shrink with the room; `fit`: columns fill the room, what spans the page still does, and what stands at the right margin
 * stays there.
 */
export const paperEdit = (report: Report, page: PageSetup, how: PaperChange, place = -1): Edit => {
  const set = setPage(report, page, place);
  const before = roomOf(pageOfSet(report, place));
  const after = roomOf(page);
  if (how === 'leave' || before === after || before <= 0 || after <= 0) return set;
  return {
    do: 'all',
    edits: [
      set,
      ...(how === 'scale'
        ? scaled(report, after / before, place)
        : fitBands(report, bandsOnPages(report, place), before, after)),
    ],
  };
};

const scaled = (report: Report, by: number, place: number): Edit[] => {
  const places: Record<string, Partial<Place>> = {};
  const edits: Edit[] = [];
  for (const { band, address } of bandsOnPages(report, place)) {
    for (const item of band.items) {
      if (item.share) continue;
      const { x, y, width, height } = item;
      places[item.id] = { x: x * by, y: y * by, width: width * by, height: height * by };
      const size = 'look' in item ? item.look?.size : undefined;
      if (size !== undefined)
        edits.push({ do: 'look', items: [item.id], look: { size: Math.max(1, rounded(size * by)) } });
    }
    edits.push({ do: 'band', band: address, settings: { height: rounded(band.height * by) } });
  }
  const styles = Object.fromEntries(
    Object.entries(report.styles).map(([name, style]) => [
      name,
      style.size === undefined ? style : { ...style, size: Math.max(1, rounded(style.size * by)) },
    ]),
  );
  // Styles are those of all pages. Places come first, so that bands can get lower.
  const all: Edit[] = place < 0 ? [{ do: 'report', settings: { styles } }] : [];
  return [{ do: 'place', places }, ...all, ...edits];
};

/** The edits that bring what stands in some bands from one width to another: columns fill it, what spans it still does. */
export const fitBands = (
  report: Report,
  bands: Iterable<Pick<BandAt, 'band'>>,
  before: number,
  after: number,
): Edit[] => {
  const places: Record<string, Partial<Place>> = {};
  const ids = new Set<string>();
  for (const { band } of bands) {
    for (const item of band.items) {
      ids.add(item.id);
      const fit = item.column || item.share ? null : fitItem(item, before, after);
      if (fit) places[item.id] = fit;
    }
  }
  const edits: Edit[] = [{ do: 'place', places }];
  const sets = [...columnSets(report).values()].filter(({ columns }) =>
    columns.some(({ items }) => items.some(({ id }) => ids.has(id))),
  );
  for (const set of sets) {
    const right = Math.max(...set.columns.map((c) => c.x + c.width));
    const keeps = before - right;
    edits.push(fitColumns(set, Math.max(10, after - (keeps >= 0 && keeps <= before / 3 ? keeps : 0))));
  }
  return edits;
};

const fitItem = ({ x, width }: Item, before: number, after: number): Partial<Place> | null => {
  const toRight = before - x - width;
  const isWide = width >= before * 0.6;
  if (toRight > NEAR_EDGE || toRight < -before / 2) return x + width > after ? { x: Math.max(0, after - width) } : null;
  return isWide ? { width: Math.max(1, width + after - before) } : { x: Math.max(0, x + after - before) };
};

/** Whether anything would stand past the new right margin. */
export const overflows = (report: Report, page: PageSetup, place = -1): boolean => {
  const room = roomOf(page);
  const turned = applyEdit(report, setPage(report, page, place));
  for (const { band, address } of bandsOnPages(turned, place)) {
    if (address.drawer === null && (address.band === 'pageBackground' || address.band === 'pageOverlay')) continue;
    if (band.items.some((item) => !item.share && item.x + item.width > room + 0.05)) return true;
  }
  return false;
};
