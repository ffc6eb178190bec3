import {
  type FrameCalls,
  type GivenValue,
  type HostValues,
  joinChoices,
  type PlaceInRun,
  type Report,
} from '@gaveta/core/internal';
import { useEffect, useRef } from 'react';
import { ApiFailure, api, type ParameterValues, type RunState } from '../api/client.ts';
import { connection } from '../api/connection.ts';
import { joinHost, offerMethods, tellHost } from '../embed/frame.ts';
import { problemWords } from '../i18n/words.ts';
import { onPaper } from './use-laid.ts';

interface ViewerHost {
  report: string;
  definition: Pick<Report, 'name' | 'parameters' | 'language' | 'timeZone'> | undefined;
  state: RunState | null;
  /** What keeps it from being run. */
  error: unknown;
  page: number;
  values: ParameterValues;
  runAnew: () => void;
  print: (run: RunState) => Promise<void>;
  goTo: (place: PlaceInRun) => void;
  reach: (anchor: string) => Promise<boolean>;
  setParameters: (values: Readonly<Record<string, GivenValue>>) => void;
}

const plainValues = (values: ParameterValues): HostValues => JSON.parse(JSON.stringify(values)) as HostValues;

/** Lets the host’s page follow the viewer and ask it for things. */
export const useViewerHost = (viewer: ViewerHost): void => {
  const latest = useRef(viewer);
  latest.current = viewer;
  /** The run that is no longer meant, until the next one is there. */
  const past = useRef<string | null>(null);
  const waiting = useRef<((run: RunState | Error) => void)[]>([]);
  const { report, state, error, page, values, definition } = viewer;
  const status = state?.status ?? null;
  const run = state?.id ?? null;
  const isEnded = status === 'done' || status === 'failed' || status === 'cancelled';

  useEffect(() => tellHost({ kind: 'opened', report, screen: 'viewer' }), [report]);
  useEffect(() => {
    if (run !== null) tellHost({ kind: 'run-started', report, run });
  }, [run, report]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each run, when it ends
  useEffect(() => {
    if (!state || !isEnded) return;
    const { pages, rows, problems } = state;
    tellHost({
      kind: 'run-ended',
      report,
      run: state.id,
      status: state.status,
      pages,
      rows,
      problems: problems.length,
    });
    if (state.status === 'done') tellHost({ kind: 'page-count', report, pages });
    if (state.status === 'failed') tellHost({ kind: 'error', code: 'run-failed', detail: state.detail ?? '' });
    const done = state.status === 'done' ? state : new Error(state.detail ?? state.status);
    for (const go of waiting.current.splice(0)) go(done);
  }, [run, isEnded]);
  useEffect(() => {
    if (!error) return;
    const failure = error instanceof Error ? error : new Error(String(error));
    const code = error instanceof ApiFailure ? error.code : 'unexpected';
    tellHost({ kind: 'error', code, detail: failure.message });
    for (const go of waiting.current.splice(0)) go(failure);
  }, [error]);
  useEffect(() => {
    if (run !== null) tellHost({ kind: 'page-shown', report, page });
  }, [run, report, page]);
  const told = JSON.stringify(values);
  useEffect(
    () => tellHost({ kind: 'parameters-changed', report, values: JSON.parse(told) as HostValues }),
    [report, told],
  );
  useEffect(() => connection.follow((isOnline) => tellHost({ kind: 'connection', isOnline })), []);

  // Values from the host are taken once it is known which ones there are.
  const isKnown = definition !== undefined;
  useEffect(() => {
    if (!isKnown) return;
    return joinHost()?.onParameters((given) => {
      void refusedBy(latest.current.definition!, given).then((refused) => {
        if (refused) tellHost({ kind: 'error', ...refused });
      });
      const known = new Set(latest.current.definition!.parameters.map(({ name }) => name));
      const taken = Object.entries(given).filter(([name]) => known.has(name));
      if (taken.length > 0) latest.current.setParameters(Object.fromEntries(taken) as Record<string, GivenValue>);
    });
  }, [isKnown]);

  useEffect(() => {
    /** The run that is shown, once all its pages are there. */
    const whole = (): Promise<RunState> => {
      const { state: now } = latest.current;
      if (now?.status === 'done' && now.id !== past.current) return Promise.resolve(now);
      return new Promise((resolve, reject) => {
        waiting.current.push((ended) => (ended instanceof Error ? reject(ended) : resolve(ended)));
      });
    };
    const goTo = async (to: FrameCalls['goTo']['given']): Promise<boolean> => {
      const { pages } = await whole();
      if ('anchor' in to) return latest.current.reach(to.anchor);
      if (!Number.isInteger(to.page) || to.page < 1 || to.page > pages) return false;
      latest.current.goTo({ page: to.page, y: 0 });
      return true;
    };
    return offerMethods({
      run: async () => {
        past.current = latest.current.state?.id ?? null;
        latest.current.runAnew();
        return null;
      },
      print: async () => {
        await latest.current.print(await onPaper(await whole(), false));
        return null;
      },
      export: async ({ format, options, fileName }) => {
        const { id } = await onPaper(await whole(), false);
        const texts = Object.fromEntries(Object.entries(options).map(([name, value]) => [name, String(value)]));
        const file = await api.file(id, [{ output: format, options: texts }], fileName, new AbortController().signal);
        tellHost({ kind: 'exported', report, format, name: file.name });
        return file;
      },
      goTo,
      find: async ({ text }) => {
        const { id } = await whole();
        const { count, pages } = await api.found(id, text);
        const [first] = pages;
        if (first) await goTo({ page: first[0] });
        return { count, pages: pages.map(([page]) => page) };
      },
      setParameters: async ({ values: given }) => {
        const { definition: known, values: before, state: now } = latest.current;
        const refused = known && (await refusedBy(known, given));
        if (refused) throw new ApiFailure(400, refused.code, '', refused.detail, {});
        const changed = Object.entries(given).filter(([name, value]) => asText(value) !== asText(before[name]));
        if (changed.length > 0) past.current = now?.id ?? null;
        if (changed.length > 0) latest.current.setParameters(Object.fromEntries(changed) as Record<string, GivenValue>);
        return null;
      },
    });
  }, [report]);
};

/** A value as it stands in an address. */
const asText = (value: unknown): string =>
  value === null || value === undefined ? '' : Array.isArray(value) ? joinChoices(value.map(String)) : String(value);

/** What is wrong with values of the host’s, by the parameters of the report: a name that there is none of, or an unfit value. */
const refusedBy = async (
  definition: NonNullable<ViewerHost['definition']>,
  given: HostValues,
): Promise<{ code: string; detail: string } | null> => {
  // Where it cannot be fetched, the server says what is wrong.
  const reading = await import('../parameters/reading.ts').catch(() => null);
  const problems = reading?.readParameters(definition, given as Record<string, GivenValue>).problems ?? [];
  const wrong = problems.find(({ code }) => code === 'unknown-parameter' || code === 'wrong-parameter');
  return wrong ? { code: wrong.code, detail: problemWords(wrong) } : null;
};

/** A press on a button of the host’s own. */
export const pressAction = (id: string, { report, state, page, values }: ViewerHost): void =>
  tellHost({ kind: 'action', id, report, run: state?.id ?? null, page, values: plainValues(values) });
