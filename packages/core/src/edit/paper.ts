import { type Item, type PageSetup, paperSize, type Report } from '../definition/schema.ts';
import { allBands } from '../definition/walk.ts';
import { columnSets, fitColumns } from './columns.ts';
import { applyEdit, type Edit, type Place, rounded } from './edit.ts';

/** What happens to the layout when the room between the margins changes. */
export const PAPER_CHANGES = ['leave', 'scale', 'fit'] as const;
export type PaperChange = (typeof PAPER_CHANGES)[number];

/** Width between the margins, in millimetres. */
export const roomOf = (page: PageSetup): number =>
  rounded(paperSize(page).width - page.margins.left - page.margins.right);

/** How near to the right margin an item counts as standing there, in millimetres. */
const NEAR_EDGE = 6;

/**
 * Another paper, orientation or margins. `leave`: items stay where they are; `scale`: places, sizes and type grow or
 * shrink with the room; `fit`: columns fill the room, what spans the page still does, and what stands at the right margin
 * stays there.
 */
export const paperEdit = (report: Report, page: PageSetup, how: PaperChange): Edit => {
  const set: Edit = { do: 'report', settings: { page } };
  const before = roomOf(report.page);
  const after = roomOf(page);
  if (how === 'leave' || before === after || before <= 0 || after <= 0) return set;
  return {
    do: 'all',
    edits: [set, ...(how === 'scale' ? scaled(report, after / before) : fitted(report, before, after))],
  };
};

const scaled = (report: Report, by: number): Edit[] => {
  const places: Record<string, Partial<Place>> = {};
  const edits: Edit[] = [];
  for (const { band, address } of allBands(report)) {
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
  // Places come first, so that bands can get lower.
  return [{ do: 'place', places }, { do: 'report', settings: { styles } }, ...edits];
};

const fitted = (report: Report, before: number, after: number): Edit[] => {
  const places: Record<string, Partial<Place>> = {};
  for (const { band } of allBands(report)) {
    for (const item of band.items) {
      const place = item.column || item.share ? null : fitItem(item, before, after);
      if (place) places[item.id] = place;
    }
  }
  const edits: Edit[] = [{ do: 'place', places }];
  const sets = [...columnSets(report).values()];
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
export const overflows = (report: Report, page: PageSetup): boolean => {
  const room = roomOf(page);
  const turned = applyEdit(report, { do: 'report', settings: { page } });
  for (const { band, address } of allBands(turned)) {
    if (address.drawer === null && (address.band === 'pageBackground' || address.band === 'pageOverlay')) continue;
    if (band.items.some((item) => !item.share && item.x + item.width > room + 0.05)) return true;
  }
  return false;
};
