import type { Source, Step } from '../definition/recipe.ts';
import type { Report } from '../definition/schema.ts';
import type { Settings } from './edit.ts';

const sourcesOf = (step: Step): Source[] => ('from' in step && step.from ? [step.from] : []);

/** The data models that a report takes rows from by name: its own, and those of its queries. */
export const modelsOf = (report: Report): string[] => {
  const names = new Set<string>(report.model === undefined ? [] : [report.model]);
  for (const step of (report.queries ?? []).flatMap((query) => query.steps ?? [])) {
    if (step.step === 'sql') names.add(step.model);
    for (const source of sourcesOf(step)) if ('model' in source) names.add(source.model);
  }
  return [...names];
};

/** Settings of the report with another data model in the place of one that is not there. */
export const repoint = (report: Report, from: string, to: string): Settings => {
  const inSource = (source: Source): Source =>
    'model' in source && source.model === from ? { ...source, model: to } : source;
  const inStep = (step: Step): Step => {
    if (step.step === 'sql') return step.model === from ? { ...step, model: to } : step;
    return 'from' in step && step.from ? ({ ...step, from: inSource(step.from) } as Step) : step;
  };
  return {
    ...(report.model === from ? { model: to } : {}),
    ...(report.queries
      ? { queries: report.queries.map((q) => (q.steps ? { ...q, steps: q.steps.map(inStep) } : q)) }
      : {}),
  };
};
