import type { Arrangement, PageForm, Report } from '@gaveta/core/internal';
import { useEffect, useRef, useState } from 'react';
import { api, type ParameterValues, type RunState } from '../api/client.ts';
import { isAsMade } from './arranging/arrangement.ts';
import type { Credentials } from './sign-in.tsx';
import type { Values } from './values/use-values.ts';

const NOBODY: Credentials = {};

export interface RunView {
  state: RunState | null;
  error: unknown;
}

/** Runs the report whenever its values, the way of its rows or `attempt` change, and follows the run until it ends. */
export const useRun = (
  report: string,
  /** Runs this instead of what is stored; undefined while it is being fetched, null when there is none. */
  definition: Report | null | undefined,
  { given, arrangement }: Pick<Values, 'given' | 'arrangement'>,
  attempt: number,
  form: PageForm,
  credentials: Credentials = NOBODY,
): RunView => {
  const [view, setView] = useState<RunView>({ state: null, error: null });
  const values = JSON.stringify([given, arrangement]);
  // Another form is laid out from the same rows.
  const formNow = useRef(form);
  formNow.current = form;
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new attempt runs the report again
  useEffect(() => {
    if (definition === undefined) return;
    const abort = new AbortController();
    setView({ state: null, error: null });
    const run = async (): Promise<void> => {
      const [asked, rows] = JSON.parse(values) as [ParameterValues, Arrangement];
      const started = await api.run(definition ? { definition } : { report }, asked, {
        credentials,
        form: formNow.current,
        ...(isAsMade(rows) ? {} : { arrangement: rows }),
      });
      if (abort.signal.aborted) return;
      setView({ state: started, error: null });
      await api.follow(started.id, (state) => setView({ state, error: null }), abort.signal);
    };
    run().catch((error: unknown) => {
      if (!abort.signal.aborted) setView({ state: null, error });
    });
    return () => abort.abort();
  }, [report, definition, values, attempt, credentials]);

  return view;
};
