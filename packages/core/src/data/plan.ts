import { type Band, type Drawer, type Item, paperSize, type Report } from '../definition/schema.ts';
import { type DrawerBand, REPORT_BANDS, type ReportBand } from '../definition/walk.ts';
import { checkFormula } from '../formula/check.ts';
import type { Checked } from '../formula/checked.ts';
import { type Problem, type ProblemPlace, problem } from '../problems/problem.ts';
import { didYouMean } from '../problems/suggest.ts';
import { formatCodeProblem } from '../text/format.ts';
import { isTimeZone } from '../value/date.ts';
import { Level, type SubreportLink } from './level.ts';
import { findEntity, type Model } from './model.ts';
import { conjuncts, isPushable, joinConjuncts } from './pushable.ts';
import { reachOf, type Standing, type TotalPlan } from './reach.ts';

/** A formula of an item: checked, or the problem that is shown in its place. */
export type PlannedFormula = { formula: Checked; format: string } | { problem: Problem };

export type PlannedPiece = string | PlannedFormula;

export interface PlannedItem {
  item: Item;
  /** Text and field items: what they show, piece by piece. Picture items: the picture formula alone. */
  pieces: PlannedPiece[];
  subreport: { plan: ReportPlan; link: SubreportLink } | { problem: Problem } | null;
}

export interface PlannedBand {
  band: Band;
  /** `drawerId/detail`, `pageHeader`. */
  key: string;
  items: PlannedItem[];
}

export interface PlannedDrawer {
  level: Level;
  drawer: Drawer;
  bands: Partial<Record<DrawerBand, PlannedBand>>;
  drawers: PlannedDrawer[];
}

/** A definition with every name resolved: what must be fetched, and what each item shows. */
export interface ReportPlan {
  report: Report;
  /** Parents before children. */
  levels: Level[];
  root: PlannedDrawer | null;
  bands: Partial<Record<ReportBand, PlannedBand>>;
  totals: TotalPlan[];
  /** How this plan hangs on an outer one, when it is a subreport's. */
  link: SubreportLink | null;
  /** Everything found wrong, that of nested reports included. The rest of the report still runs. */
  problems: Problem[];
}

export interface PlanContext {
  models: readonly Model[];
  /** A stored report by its id; null when there is none that the caller may read. */
  report: (id: string) => Report | null;
}

export const planReport = (report: Report, context: PlanContext): ReportPlan =>
  new Planner(report, context, [report.name], null).plan();

/** Every plan of the report and the reports nested in it, outer ones first. */
export function* plansOf(plan: ReportPlan): Iterable<ReportPlan> {
  yield plan;
  for (const band of bandsOf(plan)) {
    for (const { subreport } of band.items) if (subreport && 'plan' in subreport) yield* plansOf(subreport.plan);
  }
}

export function* bandsOf(plan: ReportPlan): Iterable<PlannedBand> {
  const ofDrawer = function* (drawer: PlannedDrawer): Iterable<PlannedBand> {
    for (const band of Object.values(drawer.bands)) if (band) yield band;
    for (const inner of drawer.drawers) yield* ofDrawer(inner);
  };
  for (const name of REPORT_BANDS) {
    const band = plan.bands[name];
    if (band) yield band;
  }
  if (plan.root) yield* ofDrawer(plan.root);
}

class Planner {
  private readonly problems: Problem[] = [];
  private readonly levels: Level[] = [];
  private readonly totals: TotalPlan[] = [];
  private readonly model: Model | null;
  private rootLevel: Level | null = null;

  constructor(
    private readonly report: Report,
    private readonly context: PlanContext,
    /** Names of the reports around this one, itself last. */
    private readonly chain: string[],
    private readonly link: SubreportLink | null,
    private readonly ids: string[] = [],
  ) {
    this.model = context.models.find((m) => m.name === report.model) ?? null;
  }

  plan(): ReportPlan {
    const { report } = this;
    const place = { path: 'model' };
    if (report.model && !this.model) this.found(problem('unknown-model', place, { name: report.model }));
    if (!isTimeZone(report.timeZone)) {
      const data = { detail: `“${report.timeZone}” is not a time zone`, expected: 'a name such as Europe/Lisbon' };
      this.found(problem('definition-malformed', { path: 'timeZone' }, data));
    }
    const paper = paperSize(report.page);
    const { left, right, top, bottom } = report.page.margins;
    if (left + right >= paper.width - 5 || top + bottom >= paper.height - 5) {
      this.found(problem('no-columns-left', { path: 'page/margins' }));
    }
    const tree = report.body ? this.levelTree(report.body, null, 'body') : null;
    this.rootLevel = tree?.level ?? null;
    const root = tree && this.planDrawer(tree);
    const bands: ReportPlan['bands'] = {};
    for (const name of REPORT_BANDS) {
      const band = report[name];
      if (!band) continue;
      const total: Standing['total'] =
        name === 'pageHeader' || name === 'pageFooter'
          ? 'page'
          : this.rootLevel
            ? { scope: this.rootLevel, kind: 'set', ahead: name === 'header' }
            : 'none';
      // The page's bands see the row that is current where the page starts or ends.
      const current = total === 'page' ? this.rootLevel : null;
      bands[name] = this.planBand(band, name, name, { current, total });
    }
    const { levels, totals, link, problems } = this;
    return { report, levels, root, bands, totals, link, problems };
  }

  private found(p: Problem): void {
    const nested = this.chain.length > 1 ? { report: this.report.name } : {};
    this.problems.push({ ...p, place: { ...nested, ...p.place } });
  }

  private levelTree(drawer: Drawer, parent: Level | null, path: string): LevelTree | null {
    const { model, rows } = { model: this.model, rows: drawer.rows };
    if (!model) {
      if (!this.report.model) {
        this.found(problem('unknown-model', { path: `${path}/rows`, drawer: drawer.id }, { name: '(none)' }));
      }
      return null;
    }
    const place: ProblemPlace = { path: `${path}/rows`, drawer: drawer.id };
    let entityName: string;
    let relation = null;
    if ('relation' in rows) {
      relation = parent?.entity.relations.find((r) => r.name === rows.relation) ?? null;
      if (!parent || !relation) {
        const names = parent?.entity.relations.map((r) => r.name) ?? [];
        const hint = parent
          ? didYouMean(rows.relation, names, `It has ${names.join(', ') || 'none'}.`)
          : 'The outermost drawer takes an entity.';
        const data = { entity: parent?.entity.name ?? 'the report', name: rows.relation, hint };
        this.found(problem('unknown-relation', place, data));
        return null;
      }
      entityName = relation.to;
    } else {
      if (parent) {
        const data = { detail: 'An inner drawer takes its rows from a relation', expected: '{ "relation": … }' };
        this.found(problem('definition-malformed', place, data));
        return null;
      }
      entityName = rows.entity;
    }
    const entity = findEntity(model, entityName);
    if (!entity) {
      const names = model.entities.map((e) => e.name);
      const hint = didYouMean(entityName, names, `There is ${names.join(', ')}.`);
      this.found(problem('unknown-entity', place, { name: entityName, hint }));
      return null;
    }
    const level = new Level(this.levels.length, drawer, path, entity, parent, relation);
    this.levels.push(level);
    const inner: LevelTree[] = [];
    for (const [i, child] of (drawer.drawers ?? []).entries()) {
      const tree = this.levelTree(child, level, `${path}/drawers/${i}`);
      if (tree) inner.push(tree);
    }
    return { level, inner };
  }

  private planDrawer({ level, inner }: LevelTree): PlannedDrawer {
    const { drawer, path } = level;
    this.planRows(level);
    const bands: PlannedDrawer['bands'] = {};
    const parent = level.parent;
    const set = (ahead: boolean): Standing => ({ current: parent, total: { scope: level, kind: 'set', ahead } });
    const row = (ahead: boolean): Standing => ({ current: level, total: { scope: level, kind: 'row', ahead } });
    const standings: Record<DrawerBand, Standing> = {
      header: set(true),
      detail: row(true),
      detailFooter: row(false),
      footer: set(false),
      empty: { current: parent, total: 'none' },
    };
    for (const [name, standing] of Object.entries(standings) as [DrawerBand, Standing][]) {
      const band = drawer[name];
      if (band) bands[name] = this.planBand(band, `${path}/${name}`, `${drawer.id}/${name}`, standing);
    }
    return { level, drawer, bands, drawers: inner.map((tree) => this.planDrawer(tree)) };
  }

  private planRows(level: Level): void {
    const { drawer, path } = level;
    const standing: Standing = { current: level, total: 'query' };
    if (drawer.filter !== undefined && drawer.filter.trim() !== '') {
      const place = { path: `${path}/filter`, drawer: drawer.id };
      const filter = this.check(drawer.filter, standing, place);
      if (filter && filter.type !== 'boolean' && filter.type !== 'any') {
        const data = { where: 'A filter', expected: 'a condition (TRUE or FALSE)', given: `a ${filter.type}` };
        this.found(problem('wrong-type', place, data));
      } else if (filter) {
        const parts = conjuncts(filter);
        level.pushedFilter = joinConjuncts(parts.filter((part) => this.canPush(part)));
        level.localFilter = joinConjuncts(parts.filter((part) => !this.canPush(part)));
      }
    }
    for (const [i, sort] of (drawer.sort ?? []).entries()) {
      const place = { path: `${path}/sort/${i}`, drawer: drawer.id };
      const formula = this.check(sort.by, standing, place);
      if (!formula) continue;
      if (isPushable(formula)) level.sort.push({ formula, descending: sort.descending ?? false });
      else {
        const data = {
          where: 'A sort',
          expected: 'a field or simple arithmetic',
          given: 'a formula the database cannot run',
        };
        this.found(problem('wrong-type', place, data));
      }
    }
  }

  /** A parameter of a nested report runs in the database when the formula linked to it does. */
  private canPush(formula: Checked): boolean {
    if (!isPushable(formula)) return false;
    const { link } = this;
    if (!link?.outer) return true;
    const visit = (node: unknown): boolean => {
      if (typeof node !== 'object' || node === null) return true;
      if ('kind' in node && node.kind === 'parameter' && 'name' in node) {
        const linked = link.values[String(node.name)];
        return !linked || isPushable(linked);
      }
      return Object.values(node).every(visit);
    };
    return visit(formula);
  }

  private check(source: string, standing: Standing, place: ProblemPlace): Checked | null {
    const result = this.tryCheck(source, standing);
    if (result.ok) return result.formula;
    for (const p of result.problems) this.found({ ...p, place: { ...p.place, ...place } });
    return null;
  }

  private tryCheck(source: string, standing: Standing) {
    const { model, report, totals } = this;
    const scope = reachOf(
      { model, root: this.rootLevel ?? this.levels[0] ?? null, parameters: report.parameters, totals },
      standing,
    );
    return checkFormula(source, scope);
  }

  private planFormula(
    source: string,
    format: string | undefined,
    standing: Standing,
    place: ProblemPlace,
  ): PlannedFormula {
    const result = this.tryCheck(source, standing);
    if (result.ok) {
      const { formula } = result;
      const wrong = format ? formatCodeProblem(format) : null;
      if (wrong) {
        const data = { detail: `“${format}” is not a number format: ${wrong}`, expected: 'a code such as #,##0.00' };
        this.found(problem('definition-malformed', place, data));
      }
      return { formula, format: (wrong ? undefined : format) ?? formula.format ?? '' };
    }
    const problems = result.problems.map((p) => ({ ...p, place: { ...p.place, ...place } }));
    for (const p of problems) this.found(p);
    return { problem: problems[0]! };
  }

  private planBand(band: Band, path: string, key: string, standing: Standing): PlannedBand {
    const items = band.items.map((item, i) => this.planItem(item, `${path}/items/${i}`, standing));
    return { band, key, items };
  }

  private planItem(item: Item, path: string, standing: Standing): PlannedItem {
    const place: ProblemPlace = { path, item: item.id };
    const { page } = this.report;
    const bandWidth = paperSize(page).width - page.margins.left - page.margins.right;
    if (this.chain.length === 1 && item.x + item.width > bandWidth + 0.05) {
      this.found(problem('outside-page', place, {}, 'warning'));
    }
    if ('style' in item && item.style && !this.report.styles[item.style]) {
      this.found(problem('unknown-style', place, { name: item.style }, 'warning'));
    }
    const planned: PlannedItem = { item, pieces: [], subreport: null };
    switch (item.kind) {
      case 'field':
        planned.pieces = [this.planFormula(item.formula, item.format, standing, place)];
        break;
      case 'text':
        planned.pieces = item.content.map((piece) =>
          typeof piece === 'string' ? piece : this.planFormula(piece.formula, piece.format, standing, place),
        );
        break;
      case 'picture':
        if (item.formula) planned.pieces = [this.planFormula(item.formula, '', standing, place)];
        break;
      case 'subreport':
        planned.subreport = this.planSubreport(item, standing, place);
        break;
      case 'line':
      case 'rectangle':
        break;
      default:
        item satisfies never;
    }
    return planned;
  }

  private planSubreport(
    item: Item & { kind: 'subreport' },
    standing: Standing,
    place: ProblemPlace,
  ): PlannedItem['subreport'] {
    const refuse = (p: Problem): { problem: Problem } => {
      this.found(p);
      return { problem: p };
    };
    if (standing.total === 'page') return refuse(problem('subreport-in-page-band', place));
    const nested = this.context.report(item.report);
    if (!nested) return refuse(problem('unknown-subreport', place, { name: item.report }));
    if (this.ids.includes(item.report)) {
      return refuse(problem('subreport-cycle', place, { path: [...this.chain, nested.name].join(' → ') }));
    }
    const values: Record<string, Checked> = {};
    for (const [name, source] of Object.entries(item.links)) {
      if (!nested.parameters.some((p) => p.name === name)) {
        this.found(problem('unknown-link', place, { report: nested.name, name }, 'warning'));
        continue;
      }
      const formula = this.check(source, standing, { ...place, path: `${place.path}/links/${name}` });
      if (formula) values[name] = formula;
    }
    for (const p of nested.parameters) {
      if (p.required && p.default === undefined && !(p.name in item.links)) {
        this.found(problem('missing-link', place, { report: nested.name, name: p.name }));
      }
    }
    const link: SubreportLink = { item: item.id, outer: standing.current, values };
    const plan = new Planner(nested, this.context, [...this.chain, nested.name], link, [
      ...this.ids,
      item.report,
    ]).plan();
    this.problems.push(...plan.problems);
    return { plan, link };
  }
}

interface LevelTree {
  level: Level;
  inner: LevelTree[];
}
