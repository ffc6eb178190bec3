import type { Arrangement, PageForm, Report } from '@gaveta/core/internal';
import { useCallback, useEffect, useRef, useState } from 'react';
import { api, type ParameterValues, type RunState } from '../api/client.ts';
import { isAsMade } from './arranging/arrangement.ts';
import type { Credentials } from './sign-in.tsx';
import type { Values } from './values/use-values.ts';

const NOBODY: Credentials = {};

export interface RunView {
  state: RunState | null;
  error: unknown;
}

interface RunAsked extends Pick<Values, 'given' | 'arrangement'> {
  report: string;
  /** Runs this instead of what is stored; undefined while it is being fetched, null when there is none. */
  definition: Report | null | undefined;
  /** Which revision of what is stored. */
  which: 'published' | 'newest';
  /** Another one runs the report again. */
  attempt: number;
  form: PageForm;
  /** Of its reader, the preferred one first. */
  languages: string[];
  credentials?: Credentials | undefined;
}

/** What was asked for last, as the API takes it. */
interface Started {
  what: { definition: Report } | { report: string; revision: 'published' | 'newest' };
  given: ParameterValues;
  arrangement: Arrangement;
  language: string[];
  credentials: Credentials;
}

const start = ({ what, given, arrangement, language, credentials }: Started, form: PageForm): Promise<RunState> =>
  api.run(what, given, { credentials, form, language, ...(isAsMade(arrangement) ? {} : { arrangement }) });

/** Runs the report whenever its values, the way of its rows or `attempt` change, and follows the run until it ends. */
export const useRun = (asked: RunAsked) => {
  const { report, definition, which, given, arrangement, attempt, form, languages, credentials = NOBODY } = asked;
  const [view, setView] = useState<RunView>({ state: null, error: null });
  const key = JSON.stringify([given, arrangement, languages]);
  // Another form is laid out from the same rows.
  const formNow = useRef(form);
  formNow.current = form;
  const started = useRef<Started | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new attempt runs the report again
  useEffect(() => {
    if (definition === undefined) return;
    const abort = new AbortController();
    setView({ state: null, error: null });
    const run = async (): Promise<void> => {
      const [values, rows, language] = JSON.parse(key) as [ParameterValues, Arrangement, string[]];
      const what = definition ? { definition } : { report, revision: which };
      started.current = { what, given: values, arrangement: rows, language, credentials };
      const begun = await start(started.current, formNow.current);
      if (abort.signal.aborted) return;
      setView({ state: begun, error: null });
      await api.follow(begun.id, (state) => setView({ state, error: null }), abort.signal);
    };
    run().catch((error: unknown) => {
      if (!abort.signal.aborted) setView({ state: null, error });
    });
    return () => {
      abort.abort();
      started.current = null;
    };
  }, [report, definition, which, key, attempt, credentials]);

  /**
   * Runs the same once more while the pages that are there stay: gives the new run once it is done, laid out as the one that is
   * shown, and what shows it. Rejects when it does not come to its end.
   */
  const again = useCallback(async (shown: RunState, signal: AbortSignal) => {
    const asked = started.current;
    if (!asked) throw new Error('nothing was run yet');
    const whole = async (begun: RunState): Promise<RunState> => {
      let state = begun;
      const told = (next: RunState): void => {
        state = next;
      };
      await api.follow(begun.id, told, signal);
      if (state.status !== 'done') throw new Error(state.detail ?? state.status);
      return state;
    };
    const run = await whole(await start(asked, shown.form));
    const isClosed = shown.folds.base !== 'start' || shown.folds.turned.length > 0;
    const laid = isClosed ? await whole(await api.layAnew(run.id, shown)) : run;
    const show = (): void => {
      // Values that were chosen in between are shown by a run of their own.
      if (started.current === asked && !signal.aborted) setView({ state: laid, error: null });
    };
    return { state: laid, show };
  }, []);
  return { ...view, again };
};
