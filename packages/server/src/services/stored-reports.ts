import { type Report, readDefinition } from '@gaveta/core/internal';
import { ApiError } from '../base/api-error.ts';
import { withText } from '../base/problem-text.ts';
import type { Store } from '../store/store.ts';

/** A definition as somebody sent it. Throws with what is wrong. */
export const definitionOf = (json: unknown): Report => {
  const read = readDefinition(json);
  if (!read.ok) throw new ApiError('wrong-definition', {}, { problems: withText(read.problems) });
  return read.report;
};

/** Throws when it is not there, or cannot be read any more. */
export const storedReport = async (store: Store, id: string) => {
  const found = await store.get(id);
  if (!found) throw new ApiError('unknown-report', { id });
  if (!found.read.ok) throw new ApiError('wrong-definition', {}, { problems: withText(found.read.problems) });
  return { stored: found.stored, report: found.read.report };
};

/** Finds the reports that reports nest. Definitions stay as they are, so that each is gone through once. */
export class NestedReports {
  /** Ids by definition. */
  private readonly known = new WeakMap<Report, string[]>();

  /** Every stored report that this one nests, at any depth, by id; as far as `find` gives them. */
  async of(report: Report, find: (id: string) => Promise<Report | null>): Promise<Map<string, Report>> {
    const found = new Map<string, Report>();
    const missing = new Set<string>();
    const queue = [report];
    for (let next = queue.pop(); next; next = queue.pop()) {
      for (const id of this.ids(next)) {
        if (found.has(id) || missing.has(id)) continue;
        const inner = await find(id);
        if (inner) {
          found.set(id, inner);
          queue.push(inner);
        } else missing.add(id);
      }
    }
    return found;
  }

  private ids(report: Report): string[] {
    const found = this.known.get(report) ?? [...nestedIn(report)];
    this.known.set(report, found);
    return found;
  }
}

/** A report by its id and name. */
type Named = Pick<ReportUser, 'id' | 'name'>;

/** The reports from one down to itself, through those that it nests at any depth; null where it does not stand in itself. */
export const pathToItself = async (store: Store, report: Report, id: string): Promise<Named[] | null> => {
  const self = { id, name: report.name };
  const seen = new Set<string>();
  const queue: { report: Report; path: Named[] }[] = [{ report, path: [self] }];
  for (let next = queue.shift(); next; next = queue.shift()) {
    for (const inner of nestedIn(next.report)) {
      if (inner === id) return [...next.path, self];
      if (seen.has(inner)) continue;
      seen.add(inner);
      const found = await store.get(inner);
      if (found?.read.ok) queue.push({ report: found.read.report, path: [...next.path, found.stored] });
    }
  }
  return null;
};

/** How a report uses another one: it nests it, it links to it, or it nests one that does nest it. */
export interface ReportUser {
  id: string;
  name: string;
  how: 'nests' | 'links' | 'around';
}

/** The reports that use a report, those that nest it first. */
export const usersOfReport = async (store: Store, id: string): Promise<ReportUser[]> => {
  const nesting: ReportUser[] = [];
  const linking: ReportUser[] = [];
  const seen = new Set([id]);
  const queue = [id];
  for (let inner = queue.shift(); inner !== undefined; inner = queue.shift()) {
    for (const { stored, read } of await store.mentioning({ kind: 'report', value: inner })) {
      if (!read.ok || seen.has(stored.id)) continue;
      const nests = [...nestedIn(read.report)].includes(inner);
      if (!nests && inner !== id) continue;
      seen.add(stored.id);
      const user = { id: stored.id, name: stored.name };
      if (nests) {
        nesting.push({ ...user, how: inner === id ? 'nests' : 'around' });
        queue.push(stored.id);
      } else linking.push({ ...user, how: 'links' });
    }
  }
  return [...nesting, ...linking];
};

/** Ids of the stored reports that a definition nests, as often as it does. */
export function* nestedIn(part: unknown): Iterable<string> {
  if (typeof part !== 'object' || part === null) return;
  if ('kind' in part && part.kind === 'subreport' && 'report' in part) yield String(part.report);
  for (const inner of Object.values(part)) yield* nestedIn(inner);
}

/** What a reader needs of a definition: its name, paper and parameters, without what they are made of. */
export const shownDefinition = ({
  gaveta,
  name,
  description,
  language,
  translations,
  languageFrom,
  timeZone,
  readers,
  page,
  parameters,
}: Report): Report =>
  ({
    gaveta,
    name,
    ...(description === undefined ? {} : { description }),
    language,
    // Which languages there are is known; what they say comes with the one that is asked for.
    ...(translations ? { translations: translations.map((one) => ({ language: one.language, texts: {} })) } : {}),
    ...(languageFrom ? { languageFrom } : {}),
    timeZone,
    ...(readers === undefined ? {} : { readers }),
    page,
    parameters: parameters
      .filter((p) => !p.fromHost)
      .map(({ defaultFormula: _, defaultUntil: __, sample: ___, asOf: ____, choicesFrom, windows, ...shown }) => ({
        ...shown,
        // That there are choices out of rows is known; where they come from is not.
        ...(choicesFrom ? { choicesFrom: { rows: 'rows', value: '' } } : {}),
        ...(windows ? { windows: windows.map(({ value, label }) => ({ value, label, from: '' })) } : {}),
      })),
  }) as unknown as Report;
