import type { PlannedNested } from '../../data/planned.ts';
import type { Flow } from '../../layout/flow.ts';
import type { Filling, PreparedDrawer, PreparedReport } from '../../layout/prepared.ts';
import type { PrepareItem } from '../../layout/preparing.ts';
import { ReportRun } from '../../layout/report-run.ts';
import type { FlowHost } from '../../layout/run-shared.ts';
import { NestedInstances } from '../../shape/nested.ts';

export const prepareSubreport: PrepareItem<'subreport'> = ({ nested }, common, preparing) => {
  if (!nested) return preparing.broken(common);
  const { id, box, showIf } = common;
  const report = preparing.nested(nested.plan, box.width);
  const begin = (run: FlowHost): Filling => new NestedRuns(run, report, nested.link, run.inItem ?? id);
  return { id, box, showIf, least: leastHeight(report), nested: report, begin };
};

/** The instances of a nested report in one run of the report around it: one after the other, their rows are one stream. */
class NestedRuns implements Filling {
  private run: ReportRun | null = null;
  private readonly instances: NestedInstances;

  constructor(
    private readonly around: FlowHost,
    private readonly report: PreparedReport,
    link: PlannedNested['link'],
    private readonly item: string,
  ) {
    this.instances = new NestedInstances(report.report, link, around.shared.host);
  }

  async fill(flow: Flow): Promise<void> {
    const { report, around, instances, item } = this;
    this.run ??= new ReportRun(report, instances.values(around.rows), around.shared, item);
    const { ordinal, given } = await instances.enter(this.run.rows, around.rows);
    await this.run.all(flow, ordinal, given);
  }

  close(): void {
    this.run?.close();
  }
}

/** Height, before any text grows, of what a nested report starts with and does not part from. */
const leastHeight = ({ bands, roots: [first] }: PreparedReport): number =>
  (bands.header?.height ?? 0) + (first ? leastOfDrawer(first) : 0);

const leastOfDrawer = ({ bands, groups, drawers }: PreparedDrawer): number => {
  const headers = groups.reduce((sum, { header }) => sum + (header?.height ?? 0), bands.header?.height ?? 0);
  return headers + (bands.detail?.height ?? 0) + (drawers[0] ? leastOfDrawer(drawers[0]) : 0);
};
