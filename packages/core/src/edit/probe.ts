import type { Band, Item, Report } from '../definition/schema.ts';
import { allBands, type BandAddress } from '../definition/walk.ts';
import type { Mark, Page } from '../page/page.ts';
import type { Problem } from '../problems/problem.ts';
import { applyEdit } from './edit.ts';

/** A formula whose values are asked for where a band stands. */
export interface Probe {
  formula: string;
  format?: string | undefined;
}

/** Stands before each value, so that blank ones are seen too. */
const START = '|';
const PREFIX = 'probe';

/**
 * The report with nothing in its bands but the asked formulas in one of them. Laid out, it gives their values for each
 * time that the band comes, worked out by the very code that makes pages.
 */
export const probeReport = (report: Report, address: BandAddress, probes: readonly Probe[]): Report => {
  const bare = { ...report, styles: {} };
  const emptied = [...allBands(report)].reduce<Report>(
    (all, { band, address: at }) => replaceBand(all, at, { height: band.height, items: [] }),
    bare,
  );
  const items = probes.map(
    ({ formula, format }, i): Item => ({
      kind: 'text',
      id: `${PREFIX}${i}`,
      x: 0,
      y: i,
      width: 5000,
      height: 1,
      grow: false,
      content: [START, { formula, ...(format ? { format } : {}) }],
    }),
  );
  return replaceBand(emptied, address, { height: probes.length, items });
};

const replaceBand = (report: Report, address: BandAddress, band: Band): Report =>
  applyEdit(applyEdit(report, { do: 'removeBand', band: address }), { do: 'addBand', band: address, as: band });

/** What is wrong with the asked formulas, and with nothing else of the report. */
export const probeProblems = (problems: readonly Problem[]): Problem[] =>
  problems.filter((p) => p.severity === 'error' && p.place.item?.startsWith(PREFIX));

/** The values that a laid-out {@link probeReport} shows, for each formula in the order of its pages. */
export const probeValues = (
  pages: readonly Page[],
  late: Iterable<{ page: number; marks: Mark[] }>,
  count: number,
): string[][] => {
  const values: string[][] = Array.from({ length: count }, () => []);
  const take = (mark: Mark): void => {
    if (mark.kind !== 'text' || !mark.item?.startsWith(PREFIX)) return;
    const list = values[Number(mark.item.slice(PREFIX.length))];
    if (!list) return;
    if (mark.text.startsWith(START)) list.push(mark.text.slice(START.length));
    else if (list.length > 0) list[list.length - 1] += mark.text;
  };
  const filled = new Map<number, Mark[]>();
  for (const { page, marks } of late) filled.set(page, [...(filled.get(page) ?? []), ...marks]);
  for (const { number, marks } of pages) {
    marks.forEach(take);
    filled.get(number)?.forEach(take);
  }
  return values;
};
