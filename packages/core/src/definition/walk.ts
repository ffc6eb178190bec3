import type { Band, Drawer, Item, Report } from './schema.ts';

/** Bands on every page that a set of rows begins, in the place of the report's own. */
export const SET_PAGE_BANDS = ['pageHeader', 'pageFooter'] as const;
export const ROW_BANDS = ['header', 'detail', 'detailFooter', 'others', 'footer', 'empty'] as const;
export const DRAWER_BANDS = [...ROW_BANDS, ...SET_PAGE_BANDS] as const;
const ABOVE_BODY = ['pageBackground', 'firstPageHeader', 'evenPageHeader', 'pageHeader', 'header'] as const;
const BELOW_BODY = ['footer', 'pageFooter', 'evenPageFooter', 'firstPageFooter', 'pageOverlay'] as const;
export const REPORT_BANDS = [...ABOVE_BODY, ...BELOW_BODY] as const;
export type DrawerBand = (typeof DRAWER_BANDS)[number];
export type ReportBand = (typeof REPORT_BANDS)[number];

const IN_FLOW: ReadonlySet<string> = new Set(ROW_BANDS);

/** Bands of the report, or of a set of rows, that stand once on each page, outside the flow of rows. */
export const isPageBand = (name: ReportBand | DrawerBand): boolean => !IN_FLOW.has(name);

/** Names a band: of a drawer by its id, of one of its groups by the group's name too, or of the report itself. */
export type BandAddress = { drawer: string; band: DrawerBand; group?: string } | { drawer: null; band: ReportBand };

/** A name for the band that no other has: `pageHeader`, `huts/detail`, `stays/month/header`. */
export const bandKey = (address: BandAddress): string =>
  address.drawer === null
    ? address.band
    : [address.drawer, ...(address.group === undefined ? [] : [address.group]), address.band].join('/');

export interface DrawerAt {
  drawer: Drawer;
  parent: Drawer | null;
  depth: number;
  path: string;
}

export interface BandAt {
  band: Band;
  address: BandAddress;
  path: string;
}

/** Every drawer, parents before children, in the order of the page. */
export function* drawersOf(report: Report): Iterable<DrawerAt> {
  function* walk(drawer: Drawer, parent: Drawer | null, depth: number, path: string): Iterable<DrawerAt> {
    yield { drawer, parent, depth, path };
    for (const [i, inner] of (drawer.drawers ?? []).entries())
      yield* walk(inner, drawer, depth + 1, `${path}/drawers/${i}`);
  }
  for (const [i, drawer] of report.body.entries()) yield* walk(drawer, null, 0, `body/${i}`);
}

/** The band or drawer that a path into the definition leads to or into; null outside all of them. */
export const partAtPath = (
  report: Report,
  path: string,
): { kind: 'band'; band: BandAddress } | { kind: 'drawer'; drawer: string } | null => {
  const isIn = (outer: string): boolean => path === outer || path.startsWith(`${outer}/`);
  for (const { address, path: own } of allBands(report)) if (isIn(own)) return { kind: 'band', band: address };
  const holding = [...drawersOf(report)].filter((d) => isIn(d.path)).at(-1);
  return holding ? { kind: 'drawer', drawer: holding.drawer.id } : null;
};

/** A drawer's start or end, or a band. */
export type ReportPart =
  | { kind: 'open' | 'close'; drawer: Drawer; depth: number }
  | { kind: 'band'; at: BandAt; drawer: Drawer | null };

/** Drawers and the bands that are there, in the order in which the board shows them. */
export function* reportParts(report: Report): Iterable<ReportPart> {
  function* ofReport(names: readonly ReportBand[]): Iterable<ReportPart> {
    for (const name of names) {
      const band = report[name];
      if (band) yield { kind: 'band', at: { band, address: { drawer: null, band: name }, path: name }, drawer: null };
    }
  }
  function* ofDrawer(drawer: Drawer, path: string, depth: number): Iterable<ReportPart> {
    const one = function* (name: DrawerBand): Iterable<ReportPart> {
      const band = drawer[name];
      const address: BandAddress = { drawer: drawer.id, band: name };
      if (band) yield { kind: 'band', at: { band, address, path: `${path}/${name}` }, drawer };
    };
    const groups = [...(drawer.groups ?? []).entries()];
    const ofGroups = function* (list: typeof groups, name: 'header' | 'footer'): Iterable<ReportPart> {
      for (const [i, group] of list) {
        const band = group[name];
        const address: BandAddress = { drawer: drawer.id, band: name, group: group.name };
        if (band) yield { kind: 'band', at: { band, address, path: `${path}/groups/${i}/${name}` }, drawer };
      }
    };
    yield { kind: 'open', drawer, depth };
    yield* one('pageHeader');
    yield* one('header');
    yield* ofGroups(groups, 'header');
    yield* one('detail');
    for (const [i, inner] of (drawer.drawers ?? []).entries())
      yield* ofDrawer(inner, `${path}/drawers/${i}`, depth + 1);
    yield* one('detailFooter');
    yield* ofGroups([...groups].reverse(), 'footer');
    yield* one('others');
    yield* one('footer');
    yield* one('empty');
    yield* one('pageFooter');
    yield { kind: 'close', drawer, depth };
  }
  yield* ofReport(ABOVE_BODY);
  for (const [i, drawer] of report.body.entries()) yield* ofDrawer(drawer, `body/${i}`, 0);
  yield* ofReport(BELOW_BODY);
}

/** Every band that is there, in the order in which the board shows them. */
export function* allBands(report: Report): Iterable<BandAt> {
  for (const part of reportParts(report)) if (part.kind === 'band') yield part.at;
}

export const sameBand = (a: BandAddress, b: BandAddress): boolean => bandKey(a) === bandKey(b);

export const findBand = (report: Report, address: BandAddress): Band | null => {
  for (const at of allBands(report)) if (sameBand(at.address, address)) return at.band;
  return null;
};

export const findDrawer = (report: Report, id: string): DrawerAt | null => {
  for (const at of drawersOf(report)) if (at.drawer.id === id) return at;
  return null;
};

export const findItem = (report: Report, id: string): { item: Item; at: BandAt } | null => {
  for (const at of allBands(report)) {
    const item = at.band.items.find((i) => i.id === id);
    if (item) return { item, at };
  }
  return null;
};
