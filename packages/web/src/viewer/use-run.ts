import type { PageForm, Report } from '@gaveta/core/internal';
import { useEffect, useRef, useState } from 'react';
import { api, type ParameterValues, type RunState } from '../api/client.ts';
import type { Credentials } from './sign-in.tsx';

const NOBODY: Credentials = {};

export interface RunView {
  state: RunState | null;
  error: unknown;
}

/** Runs the report whenever `parameters` or `attempt` change, and follows the run until it ends. */
export const useRun = (
  report: string,
  /** Runs this instead of what is stored; undefined while it is being fetched, null when there is none. */
  definition: Report | null | undefined,
  parameters: ParameterValues,
  attempt: number,
  form: PageForm,
  credentials: Credentials = NOBODY,
): RunView => {
  const [view, setView] = useState<RunView>({ state: null, error: null });
  const values = JSON.stringify(parameters);
  // Another form is laid out from the same rows.
  const formNow = useRef(form);
  formNow.current = form;
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new attempt runs the report again
  useEffect(() => {
    if (definition === undefined) return;
    const abort = new AbortController();
    setView({ state: null, error: null });
    const run = async (): Promise<void> => {
      const started = await api.run(definition ? { definition } : { report }, JSON.parse(values) as ParameterValues, {
        credentials,
        form: formNow.current,
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
