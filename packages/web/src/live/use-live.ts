import type { Report } from '@gaveta/core';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { api, type SaidProblem } from '../api/client.ts';
import { useFailureText } from '../ui/failure.tsx';
import type { FromWorker, ToWorker } from './messages.ts';

export interface LiveView {
  pages: string[];
  /** Number of the layout that is shown, and how long it took for the first pages and for all. */
  job: number;
  milliseconds: number;
  whole: number | null;
  /** Number of all pages; null while they are being counted. */
  count: number | null;
  waiting: boolean;
  partRows: number | null;
  problems: SaidProblem[];
  failure: string | null;
}

const EMPTY: LiveView = {
  pages: [],
  job: 0,
  milliseconds: 0,
  whole: null,
  count: null,
  waiting: true,
  partRows: null,
  problems: [],
  failure: null,
};

const fetchFonts = async (): Promise<(ToWorker & { kind: 'start' })['fonts']> => {
  const base = new URL('api/fonts', document.baseURI).href;
  const list = (await (await fetch(base)).json()) as {
    family: string;
    weight: 400 | 700;
    italic: boolean;
    file: string;
  }[];
  return Promise.all(
    list.map(async ({ file, ...face }) => ({ ...face, data: await (await fetch(`${base}/${file}`)).arrayBuffer() })),
  );
};

/** Lays the report out in a worker after each change, from real rows that are fetched only when other ones are needed. */
export const useLive = (report: Report | null, on: boolean): LiveView => {
  const [view, setView] = useState(EMPTY);
  const worker = useRef<Worker | null>(null);
  const job = useRef(0);
  const latest = useRef(report);
  latest.current = report;
  const said = useRef(useFailureText());
  const models = useQuery({ queryKey: ['models'], queryFn: api.models });
  const recipes = useQuery({ queryKey: ['recipes'], queryFn: api.recipes });
  const fonts = useQuery({ queryKey: ['fonts'], queryFn: fetchFonts, staleTime: Number.POSITIVE_INFINITY });
  const ready = models.data !== undefined && recipes.data !== undefined && fonts.data !== undefined;

  useEffect(() => {
    if (!models.data || !recipes.data || !fonts.data) return;
    const started = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' });
    let fetching = new AbortController();
    worker.current = started;
    started.addEventListener('message', async ({ data }: MessageEvent<FromWorker>) => {
      if (data.job !== job.current) return;
      switch (data.kind) {
        case 'problems':
          setView((old) => ({ ...old, problems: data.problems }));
          return;
        case 'pages':
          setView((old) => ({ ...old, ...data, waiting: false, failure: null }));
          return;
        case 'failed':
          setView((old) => ({ ...old, waiting: false, failure: data.detail }));
          return;
        case 'need-rows':
          fetching.abort();
          fetching = new AbortController();
          setView((old) => ({ ...old, waiting: true }));
          try {
            const rows = await api.designRows(latest.current!, fetching.signal);
            started.postMessage({ kind: 'rows', job: data.job, signature: data.signature, rows } satisfies ToWorker);
          } catch (error) {
            if (error instanceof DOMException && error.name === 'AbortError') return;
            const { detail, problems } = said.current(error);
            setView((old) => ({
              ...old,
              waiting: false,
              failure: detail,
              problems: problems.length > 0 ? problems : old.problems,
            }));
          }
          return;
        default:
          data satisfies never;
      }
    });
    started.postMessage({
      kind: 'start',
      fonts: fonts.data,
      models: models.data,
      recipes: recipes.data,
    } satisfies ToWorker);
    return () => {
      started.terminate();
      fetching.abort();
      worker.current = null;
    };
  }, [models.data, recipes.data, fonts.data]);

  useEffect(() => {
    if (!ready || !report || !on) return;
    job.current++;
    worker.current?.postMessage({ kind: 'layout', job: job.current, report, nested: {} } satisfies ToWorker);
  }, [report, on, ready]);
  return view;
};
