import type { Report } from '../definition/schema.ts';
import { languagesOf } from '../translation/choose.ts';
import type { PlannedBand, PlannedDrawer, PlannedItem, ReportPlan } from './planned.ts';

/** The other languages that rows may be shown in: none where no row of a report, or of one nested in it, decides on its own. `plans`: of both. */
export const otherLanguages = (asWritten: Report, plans: readonly ReportPlan[]): string[] => {
  const [{ report }] = plans as [ReportPlan];
  const decides = ({ language, drawers }: PlannedDrawer): boolean => language !== null || drawers.some(decides);
  if (!plans.some(({ roots }) => roots.some(decides))) return [];
  const nested = plans.slice(1).flatMap((one) => languagesOf(one.report));
  return [...new Set([...languagesOf(asWritten), ...nested])].filter((language) => language !== report.language);
};

/**
 * A plan of a report in another language over the rows of the one in its first: the same levels, totals and groups of rows, shown
 * by items that say other texts. Both are of the same definition, so that their parts stand in the same places.
 */
export const overRowsOf = (voice: ReportPlan, base: ReportPlan): ReportPlan => {
  const { levels, totals, queries, link } = base;
  const bands: ReportPlan['bands'] = {};
  for (const name of Object.keys(voice.bands) as (keyof ReportPlan['bands'])[])
    bands[name] = bandOver(voice.bands[name]!, base.bands[name]!);
  const roots = voice.roots.map((root, i) => drawerOver(root, base.roots[i]!));
  return { ...voice, levels, totals, queries, link, bands, roots };
};

const drawerOver = (voice: PlannedDrawer, base: PlannedDrawer): PlannedDrawer => {
  const bands: PlannedDrawer['bands'] = {};
  for (const name of Object.keys(voice.bands) as (keyof PlannedDrawer['bands'])[])
    bands[name] = bandOver(voice.bands[name]!, base.bands[name]!);
  return {
    ...voice,
    level: base.level,
    bands,
    groups: voice.groups.map(({ header, footer, fold }, i) => ({
      header: header && bandOver(header, base.groups[i]!.header!),
      footer: footer && bandOver(footer, base.groups[i]!.footer!),
      fold,
    })),
    drawers: voice.drawers.map((drawer, i) => drawerOver(drawer, base.drawers[i]!)),
  };
};

const bandOver = (voice: PlannedBand, base: PlannedBand): PlannedBand => ({
  ...voice,
  items: voice.items.map((item, i) => itemOver(item, base.items[i]!)),
});

const itemOver = (voice: PlannedItem, base: PlannedItem): PlannedItem => ({
  ...voice,
  level: base.level,
  nested:
    voice.nested && base.nested
      ? { plan: overRowsOf(voice.nested.plan, base.nested.plan), link: base.nested.link }
      : base.nested,
  crosstab: voice.crosstab && base.crosstab ? { ...voice.crosstab, summary: base.crosstab.summary } : base.crosstab,
  figure: voice.figure && base.figure ? { ...voice.figure, summary: base.figure.summary } : base.figure,
});
