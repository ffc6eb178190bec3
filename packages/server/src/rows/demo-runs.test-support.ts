import {
  type GivenParameters,
  Moment,
  type PlanContext,
  planReport,
  type ReadParameters,
  type Report,
  type ReportPlan,
  readDefinition,
  readParameters,
} from '@gaveta/core/internal';
import { DEMO_TODAY, demoRecipes, demoReports, openDemoSources } from '@gaveta-examples/cumeeira';
import { openBench } from '../staging/bench.test-support.ts';
import { openRows } from './row-source.ts';

export const runAt = new Moment(DEMO_TODAY + 7.5 * 3_600_000);

/** Values with which reports of hundreds of like pages show one hut: all of them with `GAVETA_LONGER=2 npm test`. */
export const FEW_PAGES: Readonly<Record<string, GivenParameters>> =
  Number(process.env.GAVETA_LONGER ?? 1) > 1
    ? {}
    : { 'season-ledger': { huts: ['Alminhas'] }, 'stay-folio': { hut_name: 'Alminhas' } };

let opened: ReturnType<typeof openReports> | null = null;

/** The demo’s reports over its rows, as the office sees them: opened once for all files that run one after another. */
export const openDemo = (): ReturnType<typeof openReports> => {
  opened ??= openReports();
  return opened;
};

const openReports = async () => {
  const workbench = openBench();
  const sources = await openDemoSources('.data');
  const reports = new Map<string, Report>();
  for (const { id, definition } of await demoReports()) {
    const read = readDefinition(definition);
    if (read.ok) reports.set(id, read.report);
  }
  const prepared = (id: string, given: GivenParameters = {}) => planned(reports.get(id)!, given);
  const planned = (report: Report, given: GivenParameters = {}, rowKeys = false) => {
    const plan = planReport(report, contextWith(rowKeys));
    const { values: parameters } = readParameters(report, given, { now: runAt.ms });
    const open = () => openOf(plan, parameters);
    return { report, plan, parameters, open };
  };
  const contextWith = (rowKeys: boolean): PlanContext => ({
    models: sources.models.map(({ model }) => model),
    report: (nested) => reports.get(nested) ?? null,
    recipe: (name) => demoRecipes.find((recipe) => recipe.id === name) ?? null,
    rowsFromDatabase: true,
    rowKeys,
  });
  const openOf = (plan: ReportPlan, parameters: ReadParameters['values']) =>
    openRows(plan, {
      models: new Map(sources.models.map((model) => [model.model.name, model])),
      connections: new Map(Object.entries(sources.connections)),
      claims: { role: 'office' },
      parameters,
      maxRows: 1e6,
      workbench: () => workbench,
    });
  return {
    reports: [...reports.keys()],
    prepared,
    planned,
    contextWith,
    openOf,
    definition: (id: string) => reports.get(id)!,
  };
};
