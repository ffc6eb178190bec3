import type { Drawer, PageSetup, Report } from './schema.ts';

/** 0-based place of the outermost drawer that is, or holds, the one of that id; -1 when there is none. */
export const setOf = ({ body }: Pick<Report, 'body'>, id: string): number => {
  const holds = (drawer: Drawer): boolean => drawer.id === id || (drawer.drawers?.some(holds) ?? false);
  return body.findIndex(holds);
};

/** Whether the set at a place begins on a new page; one that stands beside the one before it cannot. */
export const startsPages = ({ body }: Pick<Report, 'body'>, place: number): boolean => {
  const set = body[place];
  if (!set || (set.beside && body[place - 1]?.beside)) return false;
  return set.page !== undefined || set.pageHeader !== undefined || set.pageFooter !== undefined;
};

/** 0-based place of the set with which the pages of the one at `place` began; -1: with the report. */
export const pagesFrom = (report: Pick<Report, 'body'>, place: number): number => {
  let at = place;
  while (at >= 0 && !startsPages(report, at)) at--;
  return at;
};

/** The paper that the set at a place stands on: its own, or that of the set before it on whose pages it goes on. */
export const pageOfSet = (report: Pick<Report, 'body' | 'page'>, place: number): PageSetup =>
  report.body[pagesFrom(report, place)]?.page ?? report.page;
