import {
  type GivenParameters,
  Moment,
  type PlanContext,
  planReport,
  type Report,
  readDefinition,
  readParameters,
} from '@gaveta/core/internal';
import { DEMO_TODAY, demoRecipes, demoReports, openDemoSources } from '@gaveta-examples/cumeeira';
import { Workbench } from '../staging/workbench.ts';
import { openRows } from './row-source.ts';

export const runAt = new Moment(DEMO_TODAY + 7.5 * 3_600_000);

/** The demo’s reports over its rows, as the office sees them. */
export const openDemo = async () => {
  const workbench = new Workbench();
  const sources = await openDemoSources('.data');
  const reports = new Map<string, Report>();
  for (const { id, definition } of await demoReports()) {
    const read = readDefinition(definition);
    if (read.ok) reports.set(id, read.report);
  }
  const prepared = (id: string, given: GivenParameters = {}) => {
    const report = reports.get(id)!;
    const context: PlanContext = {
      models: sources.models.map(({ model }) => model),
      report: (nested) => reports.get(nested) ?? null,
      recipe: (name) => demoRecipes.find((recipe) => recipe.id === name) ?? null,
      rowsFromDatabase: true,
    };
    const plan = planReport(report, context);
    const { values: parameters } = readParameters(report, given, { now: runAt.ms });
    const open = () =>
      openRows(plan, {
        models: new Map(sources.models.map((model) => [model.model.name, model])),
        connections: new Map(Object.entries(sources.connections)),
        claims: { role: 'office' },
        parameters,
        maxRows: 1e6,
        workbench: () => workbench,
      });
    return { report, plan, parameters, open };
  };
  return {
    reports: [...reports.keys()],
    prepared,
    close: async () => {
      await workbench.close();
      await sources.close();
    },
  };
};
