import { type PageSetup, paperSize, type Report, widthBetween } from '../definition/schema.ts';
import { pageOfSet, setOf } from '../definition/sets.ts';
import {
  bandKey,
  DRAWER_BANDS,
  type DrawerBand,
  isPageBand,
  REPORT_BANDS,
  type ReportBand,
} from '../definition/walk.ts';
import { phrase } from '../problems/phrases.ts';
import { problem } from '../problems/problem.ts';
import { planChoices } from '../recipe/choices.ts';
import { translationOf } from '../translation/translate.ts';
import { isTimeZone } from '../value/date.ts';
import type { Level } from './level.ts';
import { planFold } from './plan-fold.ts';
import { planBand } from './plan-items.ts';
import { type LevelTree, levelTree, planRows } from './plan-rows.ts';
import type { PlanContext, PlannedBand, PlannedDrawer, PlannedGroup, ReportPlan } from './planned.ts';
import { Planner } from './planner.ts';
import { recipeContext } from './report-model.ts';
import type { Standing } from './standing.ts';
import { otherLanguages, overRowsOf } from './voices.ts';

export const planReport = (report: Report, context: PlanContext): ReportPlan => {
  const plan = planWith(new Planner(report, context, planWith, [report.name], null));
  const orders = plan.report.language;
  const voices = otherLanguages(report, [...plansOf(plan)]).map((language) => {
    // Names that mean something are told of by the first plan.
    const own = { ...context, language, orders, onName: undefined };
    const voice = planWith(new Planner(report, own, planWith, [report.name], null));
    return { language, plan: overRowsOf(voice, plan) };
  });
  return voices.length === 0 ? plan : { ...plan, voices };
};

/** Every plan of the report and the reports nested in it, outer ones first. */
export function* plansOf(plan: ReportPlan): Iterable<ReportPlan> {
  yield plan;
  for (const band of bandsOf(plan)) {
    for (const { nested } of band.items) if (nested) yield* plansOf(nested.plan);
  }
}

export function* bandsOf(plan: ReportPlan): Iterable<PlannedBand> {
  const ofDrawer = function* (drawer: PlannedDrawer): Iterable<PlannedBand> {
    for (const band of Object.values(drawer.bands)) if (band) yield band;
    for (const { header, footer } of drawer.groups) {
      if (header) yield header;
      if (footer) yield footer;
    }
    for (const inner of drawer.drawers) yield* ofDrawer(inner);
  };
  for (const name of REPORT_BANDS) {
    const band = plan.bands[name];
    if (band) yield band;
  }
  for (const root of plan.roots) yield* ofDrawer(root);
}

/** Whether something in a report, or in one nested in it, can be opened and closed. */
export const hasFolds = (plan: ReportPlan): boolean => {
  const ofDrawer = ({ fold, groups, drawers }: PlannedDrawer): boolean =>
    fold !== null || groups.some((group) => group.fold !== null) || drawers.some(ofDrawer);
  return [...plansOf(plan)].some(
    (one) =>
      one.roots.some(ofDrawer) ||
      [...bandsOf(one)].some(({ items }) => items.some(({ crosstab }) => crosstab?.folds.some(Boolean))),
  );
};

/** Whether the legend of a chart in a report, or in one nested in it, may switch something off. */
export const hasSwitches = (plan: ReportPlan): boolean =>
  [...plansOf(plan)].some((one) =>
    [...bandsOf(one)].some(({ items }) =>
      items.some(
        ({ item, figure }) =>
          figure !== null &&
          item.kind === 'chart' &&
          item.legend !== 'none' &&
          (item.split !== undefined || item.measures.length > 1 || item.type === 'pie' || item.type === 'ring'),
      ),
    ),
  );

/** Plans one report, itself perhaps nested in another. */
const planWith = (planner: Planner): ReportPlan => {
  const { report } = planner;
  if (report.model && !planner.context.models.some((m) => m.name === report.model))
    planner.found(problem('unknown-model', { path: 'model' }, { name: report.model }));
  if (!isTimeZone(report.timeZone)) {
    planner.malformed({ path: 'timeZone' }, phrase('not-a-time-zone', { zone: report.timeZone }), phrase('time-zone'));
  }
  checkStyles(planner);
  checkPage(planner, report.page, 'page');
  for (const [i, { page }] of report.body.entries()) if (page) checkPage(planner, page, `body/${i}/page`);
  checkChoices(planner);
  const trees = report.body.flatMap((drawer, i) => levelTree(planner, drawer, null, `body/${i}`) ?? []);
  for (const tree of trees) planRows(planner, tree);
  const sets = trees.map(({ level }) => level);
  const roots = trees.map((tree) => planDrawer(planner, tree, widthBetween(setPage(report, tree.level))));
  const bands: ReportPlan['bands'] = {};
  for (const name of REPORT_BANDS) {
    const band = report[name];
    if (band)
      bands[name] = planBand(planner, band, {
        path: name,
        key: name,
        standing: reportStanding(name, sets),
        isPage: isPageBand(name),
        width:
          name === 'pageBackground' || name === 'pageOverlay' ? paperSize(report.page).width : bandWidth(report, name),
      });
  }
  const { model, queries, levels, totals, link, problems } = planner;
  const { functions } = planner.context;
  const isMirrored = translationOf(report, report.language)?.mirrored ?? false;
  checkLanguageFrom(planner);
  return { report, isMirrored, voices: [], model, queries, levels, roots, bands, totals, functions, link, problems };
};

/** The page's bands see the row that is current where the page starts or ends, and count what lands on the page. */
const reportStanding = (name: ReportBand, sets: readonly Level[]): Standing => {
  const [level] = sets;
  if (!level) return { current: null, scope: null, ahead: false };
  if (isPageBand(name)) return { current: level, scope: { level, kind: 'page', group: 0 }, ahead: false, sets };
  return { current: null, scope: { level, kind: 'set', group: 0 }, ahead: name === 'header', sets };
};

/** The paper that the set stands on whose level this is. */
const setPage = (report: Report, { drawer }: Level): PageSetup => pageOfSet(report, setOf(report, drawer.id));

/** The footer of the report stands where its last set ends, everything else on the report's own paper. */
const bandWidth = (report: Report, name: ReportBand): number =>
  widthBetween(name === 'footer' ? pageOfSet(report, report.body.length - 1) : report.page);

const checkPage = (planner: Planner, page: PageSetup, path: string): void => {
  const paper = paperSize(page);
  const { left, right, top, bottom } = page.margins;
  if (left + right >= paper.width - 5 || top + bottom >= paper.height - 5)
    planner.found(problem('no-columns-left', { path: `${path}/margins` }));
};

/** Choices out of rows, of the report's own parameters: those of nested ones are never asked for. */
const checkChoices = (planner: Planner): void => {
  const { report, chain, context } = planner;
  if (chain.length > 1) return;
  for (const [i, parameter] of report.parameters.entries()) {
    if (!parameter.choicesFrom) continue;
    for (const { part, problem: wrong } of planChoices(report, parameter, recipeContext(report, context)).problems)
      planner.found({ ...wrong, place: { path: `parameters/${i}/choicesFrom/${part}` } });
  }
};

/** A parameter that decides on the language must be there; a nested report has the language of the one around it. */
const checkLanguageFrom = (planner: Planner): void => {
  const { languageFrom, parameters } = planner.report;
  if (typeof languageFrom !== 'object' || planner.chain.length > 1) return;
  const { parameter: name } = languageFrom;
  if (!parameters.some((one) => one.name === name))
    planner.found(problem('unknown-parameter', { path: 'languageFrom' }, { name, hint: '' }, 'warning'));
};

const checkStyles = (planner: Planner): void => {
  const { styles } = planner.report;
  for (const [name, { basedOn }] of Object.entries(styles)) {
    const place = { path: `styles/${name}` };
    if (basedOn !== undefined && !styles[basedOn])
      planner.found(problem('unknown-style', place, { name: basedOn }, 'warning'));
    const seen = new Set([name]);
    for (let at = basedOn; at !== undefined; at = styles[at]?.basedOn) {
      if (seen.has(at)) {
        planner.found(problem('style-in-circle', place, { name }, 'warning'));
        break;
      }
      seen.add(at);
    }
  }
};

/** `around`: width of what it stands in; `sign`: the band of the row around that can have the sign of its fold. */
const planDrawer = (
  planner: Planner,
  { level, inner }: LevelTree,
  around: number,
  sign: Standing | null = null,
): PlannedDrawer => {
  const { drawer, path, parent } = level;
  const width = drawer.beside?.width ?? around;
  const { columns } = drawer;
  const rowWidth = columns ? (width - columns.gap * (columns.count - 1)) / columns.count : width;
  const set = { level, kind: 'set', group: 0 } as const;
  const row = { level, kind: 'row', group: 0 } as const;
  const others = { level, kind: 'others', group: 0 } as const;
  const standings: Record<DrawerBand, Standing> = {
    header: { current: parent, scope: set, ahead: true },
    detail: { current: level, scope: row, ahead: true },
    detailFooter: { current: level, scope: row, ahead: false },
    others: { current: parent, scope: others, ahead: false },
    footer: { current: parent, scope: set, ahead: false },
    empty: { current: parent, scope: null, ahead: false },
    pageHeader: { current: level, scope: { level, kind: 'page', group: 0 }, ahead: false },
    pageFooter: { current: level, scope: { level, kind: 'page', group: 0 }, ahead: false },
  };
  const bands: PlannedDrawer['bands'] = {};
  for (const name of DRAWER_BANDS) {
    const band = drawer[name];
    if (!band) continue;
    const isRow = name === 'detail' || name === 'detailFooter';
    const key = bandKey({ drawer: drawer.id, band: name });
    const standing = standings[name];
    bands[name] = planBand(planner, band, {
      path: `${path}/${name}`,
      key,
      standing,
      isPage: isPageBand(name),
      width: isPageBand(name) ? around : isRow ? rowWidth : width,
    });
  }
  const groups = level.groups.map(({ group }, i): PlannedGroup => {
    const place = `${path}/groups/${drawer.groups!.indexOf(group)}`;
    const one = (name: 'header' | 'footer'): PlannedBand | null => {
      const band = group[name];
      const standing: Standing = {
        current: level,
        scope: { level, kind: 'group', group: i },
        ahead: name === 'header',
      };
      const key = bandKey({ drawer: drawer.id, group: group.name, band: name });
      return band ? planBand(planner, band, { path: `${place}/${name}`, key, standing, isPage: false, width }) : null;
    };
    const standing: Standing = { current: level, scope: { level, kind: 'group', group: i }, ahead: true };
    const at = { path: `${place}/fold`, drawer: drawer.id };
    const fold = planFold(planner, group.fold, group.header ? standing : null, at, group.name);
    return { header: one('header'), footer: one('footer'), fold };
  });
  const language = planner.text(drawer.language, standings.detail, {
    path: `${path}/language`,
    drawer: drawer.id,
  });
  const at = { path: `${path}/fold`, drawer: drawer.id };
  const fold = planFold(planner, drawer.fold, drawer.header ? standings.header : sign, at, drawer.name);
  // One sign is all that a row has room for.
  const bearer = inner.find((tree) => tree.level.drawer.fold && !tree.level.drawer.header);
  const ofRow = drawer.detail ? standings.detail : null;
  const drawers = inner.map((tree) => planDrawer(planner, tree, rowWidth, tree === bearer ? ofRow : null));
  return {
    level,
    drawer,
    bands,
    groups,
    fold: fold && { ...fold, at: drawer.header ? 'header' : 'around' },
    language,
    drawers,
  };
};
