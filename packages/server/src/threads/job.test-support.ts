import type { Report } from '@gaveta/core/internal';
import type { ReportJob } from './job.ts';

/** A run of a report by somebody without claims. */
export const jobOf = (report: Report, more: Partial<ReportJob> = {}): ReportJob => ({
  report,
  language: report.language,
  nested: new Map(),
  recipes: [],
  parameters: {},
  use: 'run',
  host: {},
  claims: {},
  now: Date.now(),
  maxRows: 2_000_000,
  maxStaged: 2_000_000,
  seconds: 60,
  ...more,
});
