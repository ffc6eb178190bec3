import { isDeepStrictEqual } from 'node:util';
import { type Page, type Problem, type Report, type RunState, readDefinition } from '@gaveta/core/internal';
import { ApiError } from '../base/api-error.ts';
import { withText } from '../base/problem-text.ts';
import type { Run } from '../runs/runs.ts';
import type { Revision, Store, StoredReport } from '../store/store.ts';
import type { Caller, Calls } from './call.ts';
import { bodyOf, callerOf, followed, type JoinedReport, type RenderOptions } from './render.ts';
import { type RunService, stateOf } from './runs.ts';
import { definitionOf, storedReport } from './stored-reports.ts';

/** Stored reports, for code of the host's own, which may do what it likes with them. Throws ApiError, as the API answers. */
export interface ReportsInCode {
  /** All of them, by name. */
  list(): Promise<StoredReport[]>;
  /** Null when there is none. */
  get(id: string): Promise<(StoredReport & { definition: Report }) | null>;
  /** Every save of one, newest first. */
  revisions(id: string): Promise<Revision[]>;
  /**
   * Stores a definition under an id, as a new report or a new revision; one that is stored as it is already stays. `author` is
   * “code” when left out.
   */
  put(id: string, definition: object, options?: { author?: string; note?: string }): Promise<StoredReport>;
  /** Takes a report away, with its revisions; false when there is none. */
  remove(id: string): Promise<boolean>;
  /** What is wrong with a definition, checked against the models; empty when nothing is. */
  validate(definition: object): Promise<Problem[]>;
}

export const reportsInCode = (store: Store, check: Calls<'POST /check'>['POST /check']): ReportsInCode => ({
  list: () => store.list(),
  get: async (id) => {
    const newest = await store.get(id);
    if (newest?.stored.kind !== 'report') return null;
    const { stored, report } = await storedReport(store, id);
    return { ...stored, definition: report };
  },
  revisions: (id) => store.revisions(id),
  put: async (id, definition, { author = 'code', note = '' } = {}) => {
    const report = definitionOf(definition);
    for (;;) {
      const found = await store.get(id);
      if (!found) return store.create(report, author, id);
      // The store keeps names in an order of its own.
      if (found.read.ok && isDeepStrictEqual(found.read.report, JSON.parse(JSON.stringify(report))))
        return found.stored;
      const saved = await store.save(id, report, found.stored.revision, author, note);
      if (saved.ok) return saved.stored;
      // Somebody else saved, or took it away, meanwhile: theirs is a revision before this one.
    }
  },
  remove: (id) => store.remove(id),
  validate: async (definition) => {
    const read = readDefinition(definition);
    if (!read.ok) return withText(read.problems);
    const answer = await check({
      caller: callerOf({}),
      params: {},
      query: undefined as never,
      body: { definition: definition as Record<string, unknown> },
      signal: new AbortController().signal,
    });
    return (answer as { problems: Problem[] }).problems;
  },
});

/** A run that code of the host's own follows. */
export interface RunInCode {
  /** Also that of the API. */
  readonly id: string;
  /** As it is at this moment. */
  readonly state: RunState;
  /** Resolves when it has ended, whichever way; rejects with what `onProgress` threw. */
  finished(): Promise<RunState>;
  /** A page, from 1, as soon as it is laid out; null when it is not, or there is none. */
  page(number: number): Promise<Page | null>;
  /** Ends it; what is laid out stays readable. */
  cancel(): Promise<void>;
  /** Lets go of it: it is kept as long as other runs from then on. */
  release(): void;
}

export type RunOptions = Pick<
  RenderOptions,
  'parameters' | 'claims' | 'user' | 'hostParameters' | 'data' | 'onProgress' | 'signal'
>;

/** Runs, for code of the host's own. */
export interface RunsInCode {
  /** Runs a stored report, by its id, or a definition; it is kept until it is let go of. */
  start(report: JoinedReport['report'], options?: RunOptions): Promise<RunInCode>;
}

export const runsInCode = (service: RunService): RunsInCode => ({
  start: async (report, options = {}) => {
    const { parameters, data, onProgress } = options;
    const signal = options.signal ?? new AbortController().signal;
    signal.throwIfAborted();
    const caller = callerOf(options);
    const run = await service.start(bodyOf({ report, ...(parameters ? { parameters } : {}) }), caller, signal, data);
    return inCode(run, { service, caller, onProgress, signal });
  },
});

interface Following {
  service: RunService;
  caller: Caller;
  onProgress: RunOptions['onProgress'];
  signal: AbortSignal;
}

const inCode = (run: Run, { service, caller, onProgress, signal }: Following): RunInCode => {
  const letGo = run.hold();
  const cancel = (): Promise<void> => service.cancel(run, caller);
  const given = (): void => void cancel().catch(() => {});
  let thrown: { error: unknown } | null = null;
  const unfollow = followed(run, onProgress, (error) => {
    thrown ??= { error };
    given();
  });
  signal.addEventListener('abort', given, { once: true });
  return {
    id: run.id,
    get state() {
      return stateOf(run);
    },
    finished: async () => {
      await run.finished();
      if (thrown) throw thrown.error;
      return stateOf(run);
    },
    page: async (number) => {
      if (!Number.isInteger(number) || number < 1) throw new ApiError('wrong-body', { detail: 'Pages count from 1.' });
      const bytes = await run.page(number);
      return bytes ? (JSON.parse(Buffer.from(bytes).toString()) as Page) : null;
    },
    cancel,
    release: () => {
      unfollow();
      signal.removeEventListener('abort', given);
      letGo();
    },
  };
};
