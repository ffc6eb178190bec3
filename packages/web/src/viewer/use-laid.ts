import { type FoldState, isSwitchKey, type PageForm, switchesOf, turnFold } from '@gaveta/core/internal';
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import { api, type RunState } from '../api/client.ts';
import type { PagePictures } from './pictures.ts';
import { blocksAround } from './reading/page-blocks.ts';
import type { Landing, Looking } from './reading/reading-place.ts';

/** Everything open; what is switched off in charts stays so. */
const openedFrom = (folds: FoldState): FoldState => ({ base: 'open', turned: switchesOf(folds) });

export const isAllOpen = ({ folds }: RunState): boolean => folds.base === 'open' && folds.turned.every(isSwitchKey);

/** Whether the run is as far as it gets. */
const hasEnded = ({ status }: RunState): boolean => status !== 'running' && status !== 'waiting';

/** The run on pages of paper, laid out to its end, as it is shown or all open: itself where it is so. Throws when it cannot be. */
export const onPaper = async (run: RunState, open: boolean): Promise<RunState> => {
  const opens = open && run.isFoldable && !isAllOpen(run);
  if (!opens && run.form === 'pages') return run;
  let state: RunState = await api.layAnew(run.id, { folds: opens ? openedFrom(run.folds) : run.folds, form: 'pages' });
  const told = (next: RunState): void => {
    state = next;
  };
  await api.follow(state.id, told, new AbortController().signal);
  if (state.status !== 'done') throw new Error(state.detail ?? state.status);
  return state;
};

export interface LaidRun {
  /** The run whose pages are shown: the one that was given, or the newest of those laid out from it. */
  state: RunState | null;
  /** Where its reader goes on reading; null when nothing was opened or closed yet. */
  landing: Landing | null;
  /** Why the last time did not work; the pages before are still shown. */
  error: unknown;
  turn: (key: string, looking: Looking) => void;
  /** Everything open, closed, or as it was at first. */
  all: (base: FoldState['base'], looking: Looking) => void;
  /** Takes up a state that was left. */
  set: (folds: FoldState, looking: Looking) => void;
  /** As pages of another form. */
  as: (form: PageForm, looking: Looking) => void;
}

/** How a run is laid out. */
type Layout = Pick<RunState, 'folds' | 'form'>;

/** Opens and closes parts of a run, and puts it on other pages: new ones take the place of old ones once those that are looked at are there. */
export const useLaid = (run: RunState | null, pictures: PagePictures): LaidRun => {
  const client = useQueryClient();
  const [folded, setFolded] = useState<{ of: string; state: RunState; landing: Landing | null } | null>(null);
  const [error, setError] = useState<unknown>(null);
  /** What is on its way, and what is shown of it while it goes on. */
  const asked = useRef<{ layout: Layout; abort: AbortController } | null>(null);
  const followed = useRef<AbortController | null>(null);
  const own = folded && folded.of === run?.id ? folded : null;
  const state = own?.state ?? run;
  const shown = useRef(state);
  shown.current = state;
  // What is complete is laid out anew the fastest: the pages before the first other one are there.
  const complete = useRef<RunState | null>(null);
  if (state?.status === 'done') complete.current = state;

  // What is on its way for another run is not waited for any more.
  // biome-ignore lint/correctness/useExhaustiveDependencies: for each run anew
  useEffect(() => {
    setError(null);
    return () => {
      asked.current?.abort.abort();
      asked.current = null;
      followed.current?.abort();
      complete.current = null;
    };
  }, [run?.id]);

  const lay = useCallback(
    async (of: string, from: RunState, layout: Layout, looking: Looking, abort: AbortController): Promise<void> => {
      const { signal } = abort;
      const started = await api.layAnew(from.id, layout, looking.at);
      const given = (): void => void api.cancel(started.id).catch(() => {});
      if (signal.aborted) return given();
      signal.addEventListener('abort', given, { once: true });
      let isShown = false;
      let showing: Promise<void> | null = null;
      let newest = started;
      const show = async (): Promise<void> => {
        const { place } = newest;
        const pages = place?.page ?? 1;
        await Promise.all(blocksAround(newest, pages, pictures).map((block) => client.prefetchQuery(block)));
        if (signal.aborted) return;
        isShown = true;
        signal.removeEventListener('abort', given);
        // Nobody waits for the rest of the pages before.
        const old = shown.current;
        if (old && old.id !== of && !hasEnded(old)) void api.cancel(old.id).catch(() => {});
        followed.current?.abort();
        followed.current = abort;
        if (asked.current?.abort === abort) asked.current = null;
        setFolded({ of, state: newest, landing: { ...looking, place: place ?? { page: 1, y: 0 } } });
      };
      const told = (next: RunState): void => {
        newest = next;
        if (next.status === 'failed' || next.status === 'cancelled') return;
        if (isShown) setFolded((old) => old && { ...old, state: next });
        else if (hasEnded(next) || next.place) showing ??= show();
      };
      await api.follow(started.id, told, signal);
      await showing;
      if (newest.status === 'failed') throw new Error(newest.detail ?? '');
      if (isShown) setFolded((old) => old && { ...old, state: newest });
    },
    [client, pictures],
  );

  const ask = useCallback(
    (next: (now: Layout) => Partial<Layout>, looking: Looking): void => {
      const from = shown.current;
      if (!from || !run) return;
      // One that is on its way is taken further.
      const now = asked.current?.layout ?? { folds: from.folds, form: from.form };
      const layout = { ...now, ...next(now) };
      asked.current?.abort.abort();
      const abort = new AbortController();
      asked.current = { layout, abort };
      setError(null);
      lay(run.id, complete.current ?? from, layout, looking, abort)
        .catch((failed: unknown) => {
          if (!abort.signal.aborted) setError(failed);
        })
        .finally(() => {
          if (asked.current?.abort === abort) asked.current = null;
        });
    },
    [lay, run],
  );
  const turn = useCallback(
    (key: string, looking: Looking) => ask(({ folds }) => ({ folds: turnFold(folds, key) }), looking),
    [ask],
  );
  const all = useCallback(
    (base: FoldState['base'], looking: Looking) =>
      ask(({ folds }) => ({ folds: { base, turned: switchesOf(folds) } }), looking),
    [ask],
  );
  const set = useCallback((folds: FoldState, looking: Looking) => ask(() => ({ folds }), looking), [ask]);
  const as = useCallback((form: PageForm, looking: Looking) => ask(() => ({ form }), looking), [ask]);
  return { state, landing: own?.landing ?? null, error, turn, all, set, as };
};
