import type { PlanItem } from '../../data/item-planning.ts';
import { allBands } from '../../definition/walk.ts';
import { problem } from '../../problems/problem.ts';

export const planContents: PlanItem<'contents'> = (_, { planner, place, band }) => {
  if (band.isPage) {
    planner.found(problem('contents-in-page-band', place));
    return {};
  }
  const isNested = planner.chain.length > 1;
  const hasSubreports = [...allBands(planner.report)].some((b) =>
    b.band.items.some(({ kind }) => kind === 'subreport'),
  );
  const hasOutline = [...allBands(planner.report)].some((b) =>
    b.band.items.some((item) => 'outline' in item && item.outline !== undefined),
  );
  if (!hasOutline && !hasSubreports && !isNested) planner.found(problem('contents-of-nothing', place, {}, 'warning'));
  return { readsOutline: true };
};
