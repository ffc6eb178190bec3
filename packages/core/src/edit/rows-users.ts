import type { Report } from '../definition/schema.ts';
import { allBands, drawersOf } from '../definition/walk.ts';

/** Where a report takes rows from one of its queries: paths into its definition of drawers, items, parameters and queries. */
export const rowsUsers = (report: Report, query: string): string[] => {
  const paths: string[] = [];
  for (const { drawer, path } of drawersOf(report))
    if ('entity' in drawer.rows && drawer.rows.entity === query) paths.push(path);
  for (const { band, path } of allBands(report)) {
    for (const [i, item] of band.items.entries()) {
      const rows = 'rows' in item ? item.rows : undefined;
      if (typeof rows === 'object' && 'entity' in rows && rows.entity === query) paths.push(`${path}/items/${i}`);
    }
  }
  for (const [i, { choicesFrom }] of report.parameters.entries())
    if (choicesFrom?.rows === query) paths.push(`parameters/${i}`);
  for (const [i, { steps }] of (report.queries ?? []).entries()) {
    const takes = (steps ?? []).some(
      (step) => 'from' in step && step.from && 'query' in step.from && step.from.query === query,
    );
    if (takes) paths.push(`queries/${i}`);
  }
  return paths;
};
