import {
  AS_STARTED,
  type BandAddress,
  type FoldState,
  type Probe,
  type Problem,
  type Report,
  type SvgPage,
  turnFold,
} from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import i18next from 'i18next';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { createStore, type StoreApi } from 'zustand';
import { api } from '../api/client.ts';
import { library } from '../api/library.ts';
import { queries } from '../api/queries.ts';
import { useFailureText } from '../ui/failure.tsx';
import type { FromWorker, ToWorker } from './messages.ts';
import { unpackPage } from './packed-page.ts';

export interface LiveView {
  pages: SvgPage[];
  /** The report that the pages are of, as it was then; null before there are any. */
  of: Report | null;
  /** Number of the layout that is shown, and how long it took for the first pages and for all. */
  job: number;
  /** The language that they are shown in; null for the report’s own. */
  language: string | null;
  milliseconds: number;
  whole: number | null;
  /** Number of all pages; null while they are being counted. */
  count: number | null;
  waiting: boolean;
  partRows: number | null;
  /** Rows of each drawer by its id; null until they are known. */
  rows: Record<string, number> | null;
  problems: Problem[];
  failure: string | null;
  /** Small pictures of the kinds that charts could be of, by item and kind. */
  kinds: Readonly<Record<string, Readonly<Record<string, string>>>>;
  /** Reports nested in it, at any depth, by their ids. */
  nested: Readonly<Record<string, Report>>;
}

/** Values of formulas, one list for each, and what is wrong with them. */
export interface Probed {
  values: string[][];
  problems: Problem[];
}

export type ProbeBand = (report: Report, address: BandAddress, probes: Probe[], first?: boolean) => Promise<Probed>;

const EMPTY: LiveView = {
  pages: [],
  of: null,
  job: 0,
  language: null,
  milliseconds: 0,
  whole: null,
  count: null,
  waiting: true,
  partRows: null,
  rows: null,
  problems: [],
  failure: null,
  kinds: {},
  nested: {},
};

export interface Live {
  /** What the last layout gave. A store of its own, so that a new page draws nothing anew but itself. */
  view: StoreApi<LiveView>;
  /** Lays a report out at once, ahead of the screen that follows it. */
  layOut: (report: Report) => void;
  /** Opens or closes what a fold’s key names. */
  turn: (key: string) => void;
  /** Shows the other kinds that a chart could be of; null for none. */
  sketch: (item: string | null) => void;
  /** Shows the pages in a language that the report speaks; null for its own. */
  speak: (language: string | null) => void;
  probe: ProbeBand;
}

/** The value that was there before, as long as the new one says the same: nothing is drawn anew for it. */
const same = <T>(old: T, found: T): T => (JSON.stringify(old) === JSON.stringify(found) ? old : found);

/** Lays the report out in a worker after each change, from real rows that are fetched only when other ones are needed. */
export const useLive = (report: Report | null, on: boolean): Live => {
  const [view] = useState(() => createStore<LiveView>(() => EMPTY));
  const worker = useRef<Worker | null>(null);
  const job = useRef(0);
  /** What the worker was told to lay out last. */
  const told = useRef<Report | null>(null);
  const folds = useRef<FoldState>(AS_STARTED);
  const sketched = useRef<string | null>(null);
  const spoken = useRef<string | null>(null);
  /** Counts workers: a new one must be told what to lay out. */
  const [started, setStarted] = useState(0);
  const probes = useRef(new Map<number, (found: Probed) => void>());
  const said = useRef(useFailureText());
  const models = useQuery(queries.models());
  const recipes = useQuery(queries.recipes());
  const functions = useQuery(queries.functions());
  const fonts = useQuery(queries.fontFiles());

  useEffect(() => {
    const setView = view.setState;
    if (!models.data || !recipes.data || !functions.data || !fonts.data) return;
    const made = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' });
    const asked = probes.current;
    let fetching = new AbortController();
    worker.current = made;
    told.current = null;
    setStarted((count) => count + 1);
    const fetchRows = async (wanted: FromWorker & { kind: 'need-rows' }): Promise<void> => {
      const isJob = wanted.job !== null;
      if (isJob) {
        fetching.abort();
        fetching = new AbortController();
        setView({ waiting: true });
      }
      const { signal } = isJob ? fetching : new AbortController();
      const { signature } = wanted;
      try {
        const rows = await api.designRows(wanted.report, wanted.language, signal);
        if (isJob) setView(({ nested }) => ({ nested: same(nested, rows.nested) }));
        made.postMessage({ kind: 'rows', signature, rows } satisfies ToWorker);
      } catch (error) {
        made.postMessage({ kind: 'rows', signature, rows: null } satisfies ToWorker);
        if (!isJob || (error instanceof DOMException && error.name === 'AbortError')) return;
        const { detail, problems } = said.current(error);
        setView((old) => ({
          waiting: false,
          failure: detail,
          problems: problems.length > 0 ? problems : old.problems,
        }));
      }
    };
    const fetchPictures = async (ids: readonly string[]): Promise<void> => {
      const found = ids.map(async (id) => {
        const kept = await library.definition(id).catch(() => null);
        return [id, kept && 'source' in kept.definition ? kept.definition.source : null] as const;
      });
      const sources = Object.fromEntries(await Promise.all(found));
      made.postMessage({ kind: 'pictures', sources } satisfies ToWorker);
    };
    made.addEventListener('message', ({ data }: MessageEvent<FromWorker>) => {
      switch (data.kind) {
        case 'probed':
          asked.get(data.id)?.(data);
          asked.delete(data.id);
          return;
        case 'need-rows':
          // One for an older job gives way to the next one, if that needs other rows.
          void fetchRows(data);
          return;
        case 'need-pictures':
          void fetchPictures(data.ids);
          return;
        case 'problems':
          if (data.job === job.current) setView((old) => ({ problems: same(old.problems, data.problems) }));
          return;
        case 'pages':
          if (data.job === job.current)
            setView((old) => ({
              ...data,
              of: told.current,
              // Pages that are not laid out yet stay as they were, so that nothing jumps.
              pages: [
                ...old.pages.slice(0, data.from),
                ...data.pages.map(unpackPage),
                ...(data.whole === null ? old.pages.slice(data.from + data.pages.length) : []),
              ],
              rows: data.rows ? same(old.rows, data.rows) : old.rows,
              kinds: same(old.kinds, data.kinds),
              waiting: false,
              failure: null,
            }));
          return;
        case 'failed':
          if (data.job === job.current)
            setView({ waiting: false, failure: data.isOutdated ? i18next.t('designer.outdated') : data.detail });
          return;
        default:
          data satisfies never;
      }
    });
    made.postMessage({
      kind: 'start',
      fonts: fonts.data,
      models: models.data,
      recipes: recipes.data,
      functions: functions.data,
    } satisfies ToWorker);
    return () => {
      made.terminate();
      fetching.abort();
      worker.current = null;
      for (const tell of asked.values()) tell({ values: [], problems: [] });
      asked.clear();
    };
  }, [models.data, recipes.data, functions.data, fonts.data, view]);

  const layOut = useCallback((wanted: Report): void => {
    const { current } = worker;
    if (!current || told.current === wanted) return;
    told.current = wanted;
    job.current++;
    current.postMessage({
      kind: 'layout',
      job: job.current,
      report: wanted,
      folds: folds.current,
      sketch: sketched.current,
      language: spoken.current,
    } satisfies ToWorker);
  }, []);
  const again = useCallback((): void => {
    const { current } = told;
    told.current = null;
    if (current) layOut(current);
  }, [layOut]);
  const turn = useCallback(
    (key: string): void => {
      folds.current = turnFold(folds.current, key);
      again();
    },
    [again],
  );
  const sketch = useCallback(
    (item: string | null): void => {
      if (sketched.current === item) return;
      sketched.current = item;
      if (item !== null) again();
    },
    [again],
  );
  const speak = useCallback(
    (language: string | null): void => {
      if (spoken.current === language) return;
      spoken.current = language;
      view.setState({ language });
      again();
    },
    [again, view],
  );

  useEffect(() => {
    if (started > 0 && report && on) layOut(report);
  }, [report, on, started, layOut]);

  const probe = useCallback<ProbeBand>((about, address, list, first = false) => {
    const { current } = worker;
    if (!current) return Promise.resolve({ values: list.map(() => []), problems: [] });
    const id = Math.floor(Math.random() * 2 ** 48);
    return new Promise((resolve) => {
      probes.current.set(id, resolve);
      current.postMessage({ kind: 'probe', id, report: about, address, probes: list, first } satisfies ToWorker);
    });
  }, []);
  return useMemo(() => ({ view, layOut, turn, sketch, speak, probe }), [view, layOut, turn, sketch, speak, probe]);
};
