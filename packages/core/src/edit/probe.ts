import type { Band, Drawer, Item, Report } from '../definition/schema.ts';
import { type BandAddress, bandKey, DRAWER_BANDS, REPORT_BANDS } from '../definition/walk.ts';
import { type LateFill, withLate } from '../layout/late-fill.ts';
import type { Mark, Page } from '../page/page.ts';
import type { Problem } from '../problems/problem.ts';

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
  const asked: Band = { height: probes.length, items };
  const wanted = bandKey(address);
  /** Every band of something that has bands, emptied; and the asked one. */
  const bare = <T extends object>(
    holder: T,
    names: readonly (keyof T & string)[],
    keyOf: (name: string) => string,
  ): T => {
    const next = { ...holder };
    for (const name of names) {
      const band = holder[name] as Band | undefined;
      if (keyOf(name) === wanted) next[name] = asked as T[typeof name];
      else if (band) next[name] = { height: band.height, items: [] } as unknown as T[typeof name];
    }
    return next;
  };
  const ofDrawer = (drawer: Drawer): Drawer => ({
    ...bare(drawer, DRAWER_BANDS, (name) => `${drawer.id}/${name}`),
    ...(drawer.groups
      ? { groups: drawer.groups.map((g) => bare(g, ['header', 'footer'], (name) => `${drawer.id}/${g.name}/${name}`)) }
      : {}),
    ...(drawer.drawers ? { drawers: drawer.drawers.map(ofDrawer) } : {}),
  });
  const bared = bare({ ...report, styles: {} }, REPORT_BANDS, (name) => name);
  return { ...bared, body: report.body.map(ofDrawer) };
};

/** What is wrong with the asked formulas, and with nothing else of the report. */
export const probeProblems = (problems: readonly Problem[]): Problem[] =>
  problems.filter((p) => p.severity === 'error' && p.place.item?.startsWith(PREFIX));

/** The values that a laid-out {@link probeReport} shows, for each formula in the order of its pages. */
export const probeValues = (pages: readonly Page[], late: Iterable<LateFill>, count: number): string[][] => {
  const values: string[][] = Array.from({ length: count }, () => []);
  const take = (mark: Mark): void => {
    if (mark.kind !== 'text' || !mark.item?.startsWith(PREFIX)) return;
    const list = values[Number(mark.item.slice(PREFIX.length))];
    if (!list) return;
    if (mark.text.startsWith(START)) list.push(mark.text.slice(START.length));
    else if (list.length > 0) list[list.length - 1] += mark.text;
  };
  for (const { marks } of withLate(pages, late)) marks.forEach(take);
  return values;
};
