import type { Band, Drawer, Item, Report } from './schema.ts';

export const DRAWER_BANDS = ['header', 'detail', 'detailFooter', 'footer', 'empty'] as const;
export const REPORT_BANDS = ['pageHeader', 'header', 'footer', 'pageFooter'] as const;
export type DrawerBand = (typeof DRAWER_BANDS)[number];
export type ReportBand = (typeof REPORT_BANDS)[number];

/** Names a band: of a drawer by its id, or of the report itself. */
export type BandAddress = { drawer: string; band: DrawerBand } | { drawer: null; band: ReportBand };

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
  if (report.body) yield* walk(report.body, null, 0, 'body');
}

/** Every band that is there, in the order in which the board shows them. */
export function* allBands(report: Report): Iterable<BandAt> {
  function* ofReport(names: ReportBand[]): Iterable<BandAt> {
    for (const name of names) {
      const band = report[name];
      if (band) yield { band, address: { drawer: null, band: name }, path: name };
    }
  }
  function* ofDrawer(drawer: Drawer, path: string): Iterable<BandAt> {
    const one = function* (name: DrawerBand): Iterable<BandAt> {
      const band = drawer[name];
      if (band) yield { band, address: { drawer: drawer.id, band: name }, path: `${path}/${name}` };
    };
    yield* one('header');
    yield* one('detail');
    for (const [i, inner] of (drawer.drawers ?? []).entries()) yield* ofDrawer(inner, `${path}/drawers/${i}`);
    yield* one('detailFooter');
    yield* one('footer');
    yield* one('empty');
  }
  yield* ofReport(['pageHeader', 'header']);
  if (report.body) yield* ofDrawer(report.body, 'body');
  yield* ofReport(['footer', 'pageFooter']);
}

export const sameBand = (a: BandAddress, b: BandAddress): boolean => a.drawer === b.drawer && a.band === b.band;

export const findBand = (report: Report, address: BandAddress): Band | null => {
  for (const at of allBands(report)) if (sameBand(at.address, address)) return at.band;
  return null;
};

export const findItem = (report: Report, id: string): { item: Item; at: BandAt } | null => {
  for (const at of allBands(report)) {
    const item = at.band.items.find((i) => i.id === id);
    if (item) return { item, at };
  }
  return null;
};
