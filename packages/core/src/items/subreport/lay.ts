import { readParameters } from '../../data/parameters.ts';
import type { PlannedNested } from '../../data/planned.ts';
import { compileFormula } from '../../formula/compile.ts';
import type { Compiled } from '../../formula/functions/context.ts';
import type { Flow } from '../../layout/flow.ts';
import type { Filling, PreparedDrawer, PreparedReport } from '../../layout/prepared.ts';
import type { PrepareItem } from '../../layout/preparing.ts';
import { ReportRun } from '../../layout/report-run.ts';
import type { FlowHost } from '../../layout/run-shared.ts';
import type { HeldSet } from '../../shape/reader.ts';
import type { Value } from '../../value/value.ts';

export const prepareSubreport: PrepareItem<'subreport'> = ({ nested }, common, preparing) => {
  if (!nested) return preparing.broken(common);
  const { id, box, showIf } = common;
  const report = preparing.nested(nested.plan, box.width);
  const links = Object.entries(nested.link.values).map(([name, f]): [string, Compiled] => [name, compileFormula(f)]);
  const begin = (run: FlowHost): Filling => new NestedRuns(run, report, nested.link, links);
  return { id, box, showIf, least: leastHeight(report), begin };
};

/** The instances of a nested report in one run of the report around it: one after the other, their rows are one stream. */
class NestedRuns implements Filling {
  private run: ReportRun | null = null;
  private defaults: Record<string, Value> | null = null;

  constructor(
    private readonly around: FlowHost,
    private readonly report: PreparedReport,
    private readonly link: PlannedNested['link'],
    private readonly links: readonly [string, Compiled][],
  ) {}

  async fill(flow: Flow): Promise<void> {
    const { report, around, link } = this;
    const { context, ordinals } = around.rows;
    this.defaults ??= readParameters(report.report, {}, { host: around.shared.host }).values;
    const values = { ...this.defaults };
    for (const [name, evaluate] of this.links) {
      const linked = evaluate(context);
      // An error goes on into whatever reads the parameter: without it the report would show everything.
      if (linked !== null) values[name] = linked;
    }
    this.run ??= new ReportRun(report, values, around.shared);
    const { run } = this;
    run.context.parameters = values;
    run.rows.outerPath = around.rows.rowPath();
    const { outer } = link;
    const ordinal = outer ? (ordinals[outer.index] ?? 0) : 1;
    const row = outer && link.rows === 'current' ? context.rows[outer.index] : null;
    await run.all(flow, ordinal, row ? await sharedRow(run, row, ordinal) : null);
  }

  close(): void {
    this.run?.close();
  }
}

/** The outer report's current row as the only row of a nested one. */
const sharedRow = async (run: ReportRun, row: readonly Value[], ordinal: number): Promise<HeldSet> => {
  const level = run.prepared.roots[0]?.level;
  if (!level) return { rows: [], others: [] };
  return { rows: [{ row, ordinal, inner: await run.rows.reader.holdInner(level, ordinal) }], others: [] };
};

/** Height, before any text grows, of what a nested report starts with and does not part from. */
const leastHeight = ({ bands, roots: [first] }: PreparedReport): number =>
  (bands.header?.height ?? 0) + (first ? leastOfDrawer(first) : 0);

const leastOfDrawer = ({ bands, groups, drawers }: PreparedDrawer): number => {
  const headers = groups.reduce((sum, { header }) => sum + (header?.height ?? 0), bands.header?.height ?? 0);
  return headers + (bands.detail?.height ?? 0) + (drawers[0] ? leastOfDrawer(drawers[0]) : 0);
};
