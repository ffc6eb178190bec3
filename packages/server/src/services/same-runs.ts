import { createHash } from 'node:crypto';
import type { PageForm } from '@gaveta/core/internal';
import type { ReportJob } from '../threads/job.ts';

/** Tells which runs give the same pages. */
export class SameRuns {
  /** JSON of definitions that stay as they are, worked out once. */
  private readonly written = new WeakMap<object, string>();

  /** Equal for runs that give the same pages: the same definitions, values and rights. */
  keyOf({ report, language, nested, recipes, parameters, claims, host }: ReportJob, form: PageForm): string {
    const hash = createHash('sha256').update(this.textOf(report)).update(this.textOf(recipes));
    for (const [id, definition] of nested) hash.update(JSON.stringify(id)).update(this.textOf(definition));
    const how = [language, parameters, Object.entries(claims).sort(), host, form];
    return hash.update(JSON.stringify(how)).digest('base64');
  }

  private textOf(part: object): string {
    const text = this.written.get(part) ?? JSON.stringify(part);
    this.written.set(part, text);
    return text;
  }
}
