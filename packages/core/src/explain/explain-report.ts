import type { Level, TotalPlan } from '../data/level.ts';
import type { ReportPlan } from '../data/planned.ts';
import { totalsIn } from '../data/total.ts';
import { type Checked, nodes } from '../formula/checked.ts';
import { compileFormula } from '../formula/compile.ts';
import type { EvaluationContext } from '../formula/functions/context.ts';
import type { AskedBand, BandWatch } from '../layout/run-shared.ts';
import type { PieceFormula } from '../listing/piece-formulas.ts';
import type { OpenedRows } from '../run/opened-rows.ts';
import { type RunOptions, runReport } from '../run/run-report.ts';
import type { ReportRows } from '../shape/report-rows.ts';
import type { GroupNode } from '../shape/summary.ts';
import { formatValue } from '../text/format.ts';
import { encodeValue, FormulaError, identityOf, type Value } from '../value/value.ts';
import { AskedCell } from './asked-cell.ts';
import { cutsOf, parametersOf } from './cuts.ts';
import type { AskedValue, ExplainedField, ExplainedTotal, Explanation } from './explanation.ts';
import { formulaWords } from './formula-words.ts';
import { ExplainedNames, nameOf } from './names.ts';
import { ownLevels, summaryOf, type Target, targetsOf } from './targets.ts';
import { collectedIn, type Twin, twinOf } from './twins.ts';

export type ExplainOptions<R extends OpenedRows> = Omit<
  RunOptions<R>,
  'onPage' | 'onPicture' | 'onPrepared' | 'tracing' | 'regions' | 'watch' | 'form' | 'maxPages'
>;

/**
 * Says where a value of a report comes from: runs it once more from the same plan, with something that stands beside each total
 * of the value and counts the same rows at the same moments. Null when no page has that value. Throws as runs do.
 */
export const explainReport = async <R extends OpenedRows>(
  { plan, ...options }: ExplainOptions<R>,
  asked: AskedValue,
): Promise<Explanation | null> => {
  const targets = targetsOf(plan, asked);
  const known = targets.filter(({ formulas }) => formulas.length > 0);
  const [first] = targets;
  if (!first) return null;
  if (known.length === 0) return { ...SAYS_ITSELF, report: first.plan.report.name };
  for (const { planned } of known) for (const level of ownLevels(planned)) level.isFetched = true;
  let cell: AskedCell | null = null;
  // Which rows belong to a cell is known only where it stands, and they may have come before.
  if (asked.cell !== null) {
    const watch = new Watch(known, asked, null);
    await watched({ plan, ...options }, watch);
    cell = watch.cell;
    if (!cell) return null;
  }
  const watch = new Watch(known, asked, cell);
  watch.collect();
  await watched({ plan, ...options }, watch);
  return watch.explanation();
};

/** Of words of the report’s own, which come from nowhere else. */
const SAYS_ITSELF: Omit<Explanation, 'report'> = {
  formulas: [],
  totals: [],
  around: [],
  groups: [],
  cuts: [],
  drawers: [],
  parameters: [],
};

/** Everything that was asked for is there. */
class Found extends Error {}

const watched = async <R extends OpenedRows>(options: ExplainOptions<R>, watch: Watch): Promise<void> => {
  const breathe = options.breathe ?? (async () => {});
  try {
    await runReport({
      ...options,
      regions: true,
      watch,
      onPage: () => {},
      breathe: async (progress) => {
        if (watch.isComplete) throw new Found();
        await breathe(progress);
      },
    });
    watch.ended();
  } catch (error) {
    if (!(error instanceof Found)) throw error;
  }
};

class Watch implements BandWatch {
  readonly isOfPages: boolean;
  private readonly looksForCell: boolean;
  cell: AskedCell | null;
  private twins: Twin[] = [];
  private hit: {
    target: Target;
    rows: ReportRows;
    values: Value[];
    fields: ExplainedField[][];
    totals: Value[];
    around: Explanation['around'];
  } | null = null;
  private readonly names = new Map<ReportPlan, ExplainedNames>();

  constructor(
    private readonly targets: readonly Target[],
    private readonly asked: AskedValue,
    cell: AskedCell | null,
  ) {
    this.cell = cell;
    this.looksForCell = asked.cell !== null && cell === null;
    this.isOfPages = asked.band === null;
  }

  private namesOf(plan: ReportPlan): ExplainedNames {
    let names = this.names.get(plan);
    if (!names) {
      names = new ExplainedNames(plan);
      this.names.set(plan, names);
    }
    return names;
  }

  /** Puts a collector beside each total. */
  collect(): void {
    for (const { plan, planned, formulas } of this.targets) {
      for (const total of new Set(formulas.flatMap(({ formula }) => totalsIn(formula, plan.totals)))) {
        if (this.twins.some((twin) => twin.total === total)) continue;
        this.twins.push(twinOf(plan, planned, total, this.namesOf(plan), this.cell));
      }
    }
  }

  begins(plan: ReportPlan, rows: ReportRows): void {
    for (const { total, collector } of this.twins)
      if (collector && plan.totals[total.slot] === total) collector.rows = rows;
  }

  readonly asks = (item: string, cell: number, down: GroupNode, across: GroupNode): void => {
    if (item === this.asked.item && cell === this.asked.cell) this.cell ??= new AskedCell(down, across);
  };

  private targetAt({ plan, key, rows, page }: AskedBand): Target | null {
    const target = this.targets.find((one) => one.plan === plan && one.band.key === key);
    if (!target) return null;
    // The foot of a page is laid out when it begins, and again when all of it is there.
    if (this.isOfPages) return page === this.asked.page ? target : null;
    if (this.hit) return null;
    return rows.rowPath() === this.asked.rows ? target : null;
  }

  isAsked(band: AskedBand): boolean {
    return this.targetAt(band) !== null;
  }

  async reads(band: AskedBand): Promise<void> {
    const target = this.targetAt(band);
    if (!target) return;
    const { rows } = band;
    const { context } = rows;
    for (const { total, collector } of this.twins) {
      const { counted } = total;
      if (!collector || counted.item !== target.planned.item.id) continue;
      const argument = compileFormula(target.plan.totals.find(({ into }) => into === collector)!.formula);
      collector.reset();
      for (const held of (await rows.ofItem(counted)).rows) {
        context.rows[counted.index] = held.row;
        collector.add(argument(context));
      }
      context.rows[counted.index] = null;
    }
  }

  has(band: AskedBand): void {
    const target = this.targetAt(band);
    if (!target) return;
    const { rows } = band;
    const { context } = rows;
    const isCell = this.cell !== null;
    const values = isCell ? [] : target.formulas.map(({ formula }) => compileFormula(formula)(context));
    const own = this.twins.filter(({ total }) => target.plan.totals[total.slot] === total);
    const totals = own.map(({ total }) => (total.scope.kind === 'cell' ? null : context.totals.value(total.slot)));
    const fields = target.formulas.map(({ formula }) => this.fieldsOf(formula, target.plan, context));
    this.hit = { target, rows, values, fields, totals, around: this.aroundOf(target.plan, rows) };
    for (const { total, collector, list } of own) {
      if (list !== null) this.lists.set(list, context.totals.value(list));
      collector?.want(total.when === 'running' || total.counted.item === target.planned.item.id);
    }
    this.twins = own;
  }

  private readonly lists = new Map<number, Value>();

  /** The rows that are current, outermost first. */
  private aroundOf(plan: ReportPlan, { context, ordinals }: ReportRows): Explanation['around'] {
    const names = this.namesOf(plan);
    return plan.levels.flatMap((level) => {
      const row = context.rows[level.index];
      if (!row || ordinals[level.index] === undefined || level.item !== null) return [];
      const first = names.shown(level).find(({ formula }) => formula.type === 'text') ?? names.shown(level)[0];
      const value = first ? compileFormula(first.formula)(context) : (row[level.keyColumn] ?? null);
      return [{ drawer: level.entity.label, name: this.text(context, value, first?.format ?? '') }];
    });
  }

  private text({ report }: EvaluationContext, value: Value, format: string): string {
    return formatValue(value, format, report);
  }

  /** Whether nothing more is to come. */
  get isComplete(): boolean {
    if (this.looksForCell) return this.cell !== null;
    return this.hit !== null && this.twins.every(({ collector }) => collector === null || collector.found !== null);
  }

  /** No more rows come. */
  ended(): void {
    for (const { collector } of this.twins) collector?.complete();
  }

  explanation(): Explanation | null {
    const { hit } = this;
    if (!hit) return null;
    const { target, rows, around } = hit;
    const { plan, formulas } = target;
    const { context } = rows;
    const totals = this.twins.map((twin, i) => this.totalOf(twin, hit.totals[i] ?? null, target, context));
    const parameters = new Set<string>();
    const counted = this.twins.map(({ total }) => total.counted);
    const chain = new Set([...counted.flatMap(withOuter), ...levelsIn(formulas, plan).flatMap(withOuter)]);
    for (const { formula } of formulas) parametersOf(plan, formula, [...chain], parameters);
    return {
      formulas: formulas.map(({ formula, source, format }, i) => {
        const value = this.cell ? this.cell.value(plan, target.planned, formula, context) : hit.values[i]!;
        const used = totalsIn(formula, plan.totals);
        return {
          source: source.trim(),
          text: this.text(context, value, format),
          type: formula.type,
          value: encodeValue(value),
          totals: [...new Set(used.map((total) => this.twins.findIndex((twin) => twin.total === total)))],
          fields: hit.fields[i]!,
        };
      }),
      totals,
      around,
      groups: this.groupsOf(target, context),
      cuts: cutsOf(plan, [...chain]),
      report: plan.report.name,
      drawers: [...chain].map((level) => level.drawer.name),
      parameters: [...parameters],
    };
  }

  private totalOf(
    { total, collector, list, columns }: Twin,
    shown: Value,
    target: Target,
    context: EvaluationContext,
  ): ExplainedTotal {
    const names = this.namesOf(target.plan);
    const { scope, counted, formula } = total;
    const around = scope.of ?? scope;
    const found =
      collector?.found ??
      (list === null ? null : collectedIn(total, this.lists.get(list) ?? null, target.plan.report.language));
    const said = saidAs(total, target.formulas);
    const listed = found?.value ?? null;
    const real = scope.kind === 'cell' ? (this.cell?.counted(target.planned, total) ?? null) : { value: shown };
    return {
      name: nameOf(total),
      of: formulaWords(formula, names),
      drawer: counted.entity.plural,
      scope: {
        kind: around.kind,
        drawer: around.level.entity.label,
        outer: around.level.parent?.entity.label ?? null,
        group: around.kind === 'group' ? (around.level.groups[around.group]?.group.name ?? '') : '',
      },
      text: this.text(context, real ? real.value : listed, said),
      listText: this.text(context, listed, said),
      isSame: !found || !real || isSameValue(real.value, listed),
      count: found?.count ?? 0,
      filled: found?.filled ?? 0,
      columns: columns.map(({ label, formula: { type } }) => ({ label, isNumber: type === 'number' })),
      list: (found?.list ?? []).map((row) => ({
        texts: row.shown.map((value, i) => this.text(context, value, columns[i]?.format ?? '')),
        rows: row.rows,
      })),
    };
  }

  private groupsOf({ plan, planned }: Target, context: EvaluationContext): Explanation['groups'] {
    const keys = summaryOf(planned)?.keys ?? [];
    return (this.cell?.groups(planned) ?? []).flatMap(({ key: at, value }) => {
      const key = keys[at];
      if (!key || value === null) return [];
      return [{ label: this.namesOf(plan).key(key), text: this.text(context, value, key.format) }];
    });
  }

  private fieldsOf(formula: Checked, plan: ReportPlan, context: EvaluationContext): ExplainedField[] {
    if (this.cell) return [];
    const names = this.namesOf(plan);
    const seen = new Set<string>();
    return [...nodes(formula)].flatMap((node) => {
      if (node.kind !== 'field') return [];
      const key = `${node.level} ${node.column}`;
      const level = plan.levels[node.level];
      if (seen.has(key) || !level || level.item !== null) return [];
      seen.add(key);
      const value = compileFormula(node)(context);
      if (value instanceof FormulaError || node.type === 'picture') return [];
      const text = this.text(context, value, node.format ?? '');
      return [{ label: names.field(node.level, node.column), drawer: level.entity.label, text }];
    });
  }
}

const withOuter = (level: Level): Level[] => (level.parent ? [...withOuter(level.parent), level] : [level]);

const levelsIn = (formulas: readonly PieceFormula[], plan: ReportPlan): Level[] =>
  formulas.flatMap(({ formula }) =>
    [...nodes(formula)].flatMap((node) => {
      const level = node.kind === 'field' ? plan.levels[node.level] : undefined;
      return level && level.item === null ? [level] : [];
    }),
  );

/** The number format of a total: as the report shows it by itself, or that of what it adds up. */
const saidAs = ({ slot, name, formula }: TotalPlan, formulas: readonly PieceFormula[]): string => {
  const own = formulas.find((one) => one.formula.kind === 'total' && one.formula.slot === slot);
  if (own) return own.format;
  const isNumberOf = name === 'COUNT' || name === 'COUNTA' || name === 'COUNTDISTINCT';
  return isNumberOf ? '' : ([...nodes(formula)].find((node) => node.format !== undefined)?.format ?? '');
};

/** Numbers by their value to the last digit, texts and lists by what they say. */
const isSameValue = (a: Value, b: Value): boolean => identityOf(a) === identityOf(b);
