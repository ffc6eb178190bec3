import type { GivenParameters } from '../data/parameters.ts';
import type { PlannedItem, ReportPlan } from '../data/planned.ts';
import type { RowSource } from '../data/rows.ts';
import { compileFormula } from '../formula/compile.ts';
import { type Compiled, type EvaluationContext, NO_PAGE } from '../formula/functions/context.ts';
import { type Problem, problem } from '../problems/problem.ts';
import { Folds } from '../shape/folds.ts';
import { NestedInstances } from '../shape/nested.ts';
import type { HeldSet } from '../shape/reader.ts';
import { ReportRows } from '../shape/report-rows.ts';
import { filterProblem, RootWalks, rowsProblem } from '../shape/root-walks.ts';
import { type DrawerVisitor, type ReportShape, shapeOf } from '../shape/shape.ts';
import { CellTable } from '../shape/summary.ts';
import type { Moment } from '../value/date.ts';
import type { Value } from '../value/value.ts';
import type { ListedSet } from './listed.ts';
import type { ColumnSource, ItemSource, ReportSource, SetSource } from './listing.ts';

/** Is told of rows in order, those inside a row after it. What gives a promise is waited for. */
export interface RowListener {
  /** The rows of a set begin: of an outermost one, or of one inside the row told last of the set around it. */
  begins(set: ListedSet): Promise<void> | void;
  /** `values`: one for each column of the set. The array is used again for the next row. */
  row(set: ListedSet, values: readonly Value[]): Promise<void> | void;
  /** Everything inside the row told last of this set has been told. */
  rowEnds(set: ListedSet): Promise<void> | void;
  ends(set: ListedSet): Promise<void> | void;
}

export interface ListOptions {
  parameters: Record<string, Value>;
  source: RowSource;
  runAt: Moment;
  signal?: AbortSignal | undefined;
  /** Values of parameters that only the host sets, for nested reports. */
  host?: GivenParameters;
  /** Most bytes of rows that are read ahead at once. */
  maxAhead: number;
  maxSeconds?: number | undefined;
  /** Called every few dozen milliseconds of work, so that others get their turn. */
  breathe?: (rows: number) => Promise<void>;
}

export interface ListResult {
  rows: number;
  /** Problems met while running; those of the plan are not repeated. */
  problems: Problem[];
  /** False when a limit ended it early. */
  complete: boolean;
}

class LimitReached extends Error {}

/** Work done between two chances for others, in milliseconds. */
const BREATH = 40;

interface Shared extends ListOptions {
  listener: RowListener;
  folds: Folds;
  rows: number;
  problems: Problem[];
  pause: () => Promise<void>;
}

/** Goes through the rows that a report shows, with everything open, and tells `listener` of them. Throws the signal’s reason. */
export const listRows = async (
  plan: ReportPlan,
  report: ReportSource,
  listener: RowListener,
  options: ListOptions,
): Promise<ListResult> => {
  const { signal, maxSeconds, breathe } = options;
  const started = performance.now();
  let breath = started;
  const shared: Shared = {
    ...options,
    listener,
    folds: new Folds({ base: 'open', turned: [] }),
    rows: 0,
    problems: [],
    pause: async () => {
      signal?.throwIfAborted();
      if (maxSeconds && performance.now() - started > maxSeconds * 1000) throw new LimitReached();
      if (!breathe || performance.now() - breath < BREATH) return;
      await breathe(shared.rows);
      breath = performance.now();
      signal?.throwIfAborted();
    },
  };
  const run = new ListRun(plan, report, options.parameters, shared);
  let complete = true;
  try {
    await run.all(1, null);
  } catch (error) {
    if (!(error instanceof LimitReached)) throw error;
    complete = false;
    shared.problems.push(problem('too-long', {}, { limit: maxSeconds! }));
  } finally {
    run.close();
  }
  return { rows: shared.rows, problems: shared.problems, complete };
};

/** The rows of one report, or of all instances of a nested one. */
class ListRun {
  readonly rows: ReportRows;
  private readonly shape: ReportShape;
  private readonly header: ItemsLister;
  private readonly footer: ItemsLister;
  private readonly nested = new Map<SetSource['nested'][number], { run: ListRun; instances: NestedInstances }>();

  constructor(
    private readonly plan: ReportPlan,
    private readonly report: ReportSource,
    parameters: Record<string, Value>,
    readonly shared: Shared,
  ) {
    this.shape = shapeOf(plan);
    this.header = new ItemsLister(report.header);
    this.footer = new ItemsLister(report.footer);
    const { name, timeZone, language } = plan.report;
    const { source, signal, maxAhead, pause, runAt, folds } = shared;
    this.rows = new ReportRows(
      this.shape,
      {
        parameters,
        page: { ...NO_PAGE },
        report: { name, timeZone, language, runAt, currencies: plan.model?.currencies },
      },
      {
        source,
        signal,
        maxAhead,
        pause,
        deliver: pause,
        rowsVisited: (count) => {
          shared.rows += count;
        },
        rowsFailed: (level, failure) => this.found(rowsProblem(level, failure)),
        filterFailed: (level, error) => this.found(filterProblem(level, error)),
        folds,
      },
    );
  }

  private found(one: Problem): void {
    const { problems } = this.shared;
    const { plan } = this;
    const place = { ...(plan.link ? { report: plan.report.name } : {}), ...one.place };
    const isKnown = problems.some(
      ({ code, place: known }) => code === one.code && known.path === place.path && known.report === place.report,
    );
    if (!isKnown) problems.push({ ...one, place });
  }

  async all(parent: number, given: HeldSet | null): Promise<void> {
    const walks = new RootWalks(this.rows, this.shape, parent);
    await walks.begin(given);
    await this.header.tell(this);
    for (const [place, source] of this.report.roots.entries()) await walks.run(place, new SetLister(this, source));
    await this.footer.tell(this);
  }

  /** Goes through the instance of a nested report at the row that is current. */
  async enter(nested: SetSource['nested'][number]): Promise<void> {
    let found = this.nested.get(nested);
    if (!found) {
      const { plan, link } = nested.item.nested!;
      const instances = new NestedInstances(plan.report, link, this.shared.host ?? {});
      found = { instances, run: new ListRun(plan, nested.report, instances.values(this.rows), this.shared) };
      this.nested.set(nested, found);
    }
    const { ordinal, given } = await found.instances.enter(found.run.rows, this.rows);
    await found.run.all(ordinal, given);
  }

  close(): void {
    for (const { run } of this.nested.values()) run.close();
    this.rows.close();
  }
}

/** Whether a band or an item is seen for the rows that are current; null where it always is. */
const seenBy = ({
  showIf,
  highlights,
}: Pick<PlannedItem, 'showIf' | 'highlights'>): ((context: EvaluationContext) => boolean) | null => {
  const shown = showIf && compileFormula(showIf);
  const hidden = highlights.filter(({ hide }) => hide).map(({ when }) => compileFormula(when));
  if (!shown && hidden.length === 0) return null;
  return (context) => (!shown || shown(context) === true) && !hidden.some((when) => when(context) === true);
};

/** Conditions that all hold where an item and its band are seen. */
const conditionsOf = ({ item, band }: Pick<ColumnSource, 'item' | 'band'>): Compiled[] =>
  [seenBy(item), seenBy(band)].flatMap((seen) => seen ?? []);

/** A value, or nothing where the item that shows it, or its band, is hidden. */
const readerOf = (source: ColumnSource): Compiled => {
  const read = compileFormula(source.formula);
  const conditions = conditionsOf(source);
  if (conditions.length === 0) return read;
  return (context) => (conditions.every((seen) => seen(context)) ? read(context) : null);
};

/** Tells of the groups that items of a band show, where their row is current. */
class ItemsLister {
  private readonly items: (ItemSource & { conditions: Compiled[] })[];

  constructor(sources: readonly ItemSource[]) {
    this.items = sources.map((source) => ({ ...source, conditions: conditionsOf(source) }));
  }

  async tell({ rows, shared }: ListRun): Promise<void> {
    const { listener, pause } = shared;
    for (const { set, listing, conditions } of this.items) {
      const { context } = rows;
      if (!conditions.every((seen) => seen(context) === true)) continue;
      const table = await rows.cellsOf(listing.summary);
      await listener.begins(set);
      // What went wrong with its rows is told of by whoever reads them.
      if (table instanceof CellTable)
        for (const values of listing.rows(table, context)) {
          await listener.row(set, values);
          await listener.rowEnds(set);
          await pause();
        }
      await listener.ends(set);
    }
  }
}

/** Tells a listener of the rows that a walk goes through. */
class SetLister implements DrawerVisitor {
  private readonly values: Value[];
  private readonly readers: { at: number; group: number | null; read: Compiled }[];
  private readonly inside: SetLister[];
  private readonly nested: { nested: SetSource['nested'][number]; seen: Compiled[] }[];
  private readonly items: Record<keyof SetSource['items'], ItemsLister>;
  /** Whether a row that has nothing inside it is seen at all. */
  private readonly isSeen: ((context: EvaluationContext) => boolean) | null;

  constructor(
    private readonly run: ListRun,
    private readonly source: SetSource,
  ) {
    this.values = source.columns.map(() => null);
    this.readers = source.columns.map((column, at) => ({ at, group: column.group, read: readerOf(column) }));
    this.inside = source.inner.map((inner) => new SetLister(run, inner));
    this.nested = source.nested.map((nested) => ({ nested, seen: conditionsOf(nested) }));
    const { header, detail: inDetail, detailFooter, footer } = source.items;
    this.items = {
      header: new ItemsLister(header),
      detail: new ItemsLister(inDetail),
      detailFooter: new ItemsLister(detailFooter),
      footer: new ItemsLister(footer),
    };
    const { detail } = source.drawer.bands;
    this.isSeen = source.set.inner.length === 0 && detail ? seenBy(detail) : null;
  }

  private hasBegun = false;

  begin(): void {
    this.hasBegun = false;
  }

  async header(): Promise<void> {
    const { run, source } = this;
    this.hasBegun = true;
    await this.items.header.tell(run);
    await run.shared.listener.begins(source.set);
  }

  async groupBegins(group: number): Promise<void> {
    const { context } = this.run.rows;
    for (const one of this.readers) if (one.group === group) this.values[one.at] = one.read(context);
  }

  rowBegins(landing: (() => void) | null): void {
    landing?.();
  }

  hidden(landing: (() => void) | null): void {
    landing?.();
  }

  async detail(): Promise<void> {
    const { context } = this.run.rows;
    if (this.isSeen && !this.isSeen(context)) return;
    for (const one of this.readers) if (one.group === null) this.values[one.at] = one.read(context);
    const { listener } = this.run.shared;
    const told = listener.row(this.source.set, this.values);
    if (told) await told;
    if (this.source.items.detail.length > 0) await this.items.detail.tell(this.run);
    if (this.inside.length === 0) await this.rowIsWhole();
  }

  async inner(walk: (place: number, visitor: DrawerVisitor) => Promise<void>): Promise<void> {
    for (const [place, visitor] of this.inside.entries()) await walk(place, visitor);
    await this.rowIsWhole();
  }

  /** Of recursive rows, those below one are told as rows after it. */
  private async rowIsWhole(): Promise<void> {
    const { run, source, nested } = this;
    for (const { nested: one, seen } of nested)
      if (seen.every((condition) => condition(run.rows.context) === true)) await run.enter(one);
    if (source.items.detailFooter.length > 0) await this.items.detailFooter.tell(run);
    const told = run.shared.listener.rowEnds(source.set);
    if (told) await told;
  }

  async rowEnds(): Promise<void> {}
  rowPassed(): void {}
  rowsComplete(): void {}
  async groupEnds(): Promise<void> {}

  async end(): Promise<void> {
    const { run, source, hasBegun } = this;
    const { listener } = run.shared;
    if (!hasBegun) await listener.begins(source.set);
    await listener.ends(source.set);
    if (hasBegun) await this.items.footer.tell(run);
  }
}
