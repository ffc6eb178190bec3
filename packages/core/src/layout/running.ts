import type { GivenParameters } from '../data/parameters.ts';
import type { RowSource } from '../data/rows.ts';
import type { PagePicture } from '../page/page.ts';
import { type Problem, problem } from '../problems/problem.ts';
import { Moment } from '../value/date.ts';
import type { Value } from '../value/value.ts';
import { LAYOUT_LIMITS, type LayoutLimits } from './limits.ts';
import { Outline } from './outline.ts';
import type { RunShared } from './run-shared.ts';

/** What every run is given, whatever its bands are laid out for. */
export interface RunSettings {
  parameters: Record<string, Value>;
  source: RowSource;
  /** Called with each picture once, before what shows it; one that waits for the number of pages may come after. */
  onPicture?: (picture: PagePicture) => void;
  runAt?: Moment;
  signal?: AbortSignal;
  maxSeconds?: number;
  /** When they began, by performance.now(); with the layout itself when it is left out. */
  since?: number;
  limits?: Partial<LayoutLimits>;
  /** Values of parameters that only the host sets, for nested reports. */
  host?: GivenParameters;
}

/** The run was cancelled through its signal. */
export class LayoutCancelled extends Error {}

/** Ends a run early, with a problem that says why. */
export class LimitReached extends Error {
  constructor(readonly problem: Problem) {
    super(problem.code);
  }
}

/** Work done between two chances for others, in milliseconds. */
const BREATH = 40;

/** What one kind of run has of its own. */
interface Running extends Pick<RunShared, 'isLiving' | 'folds' | 'tracing' | 'sketch' | 'regions' | 'watch'> {
  outline?: Outline | undefined;
  /** Hands over what is complete. */
  hand: () => Promise<void>;
  /** Lets others have their turn. */
  breathe: (() => Promise<void>) | null;
}

/** What a run and the nested reports in it share, from its beginning. `started`: by performance.now(). */
export const sharedOf = (settings: RunSettings, started: number, { hand, breathe, ...own }: Running): RunShared => {
  const { signal, maxSeconds, since = started, onPicture } = settings;
  let breath = started;
  const shown = new Set<string>();
  const check = (): void => {
    if (signal?.aborted) throw new LayoutCancelled('The run was cancelled');
    if (maxSeconds && performance.now() - since > maxSeconds * 1000)
      throw new LimitReached(problem('too-long', {}, { limit: maxSeconds }));
  };
  const pause = async (): Promise<void> => {
    check();
    if (!breathe || performance.now() - breath < BREATH) return;
    await breathe();
    breath = performance.now();
    check();
  };
  return {
    ...own,
    source: settings.source,
    speaking: null,
    signal,
    runAt: settings.runAt ?? new Moment(Date.now()),
    problems: [],
    outline: own.outline ?? new Outline(),
    rows: 0,
    waited: () => 0,
    work: { formulas: 0 },
    show: (hash, source) => {
      if (shown.has(hash)) return;
      shown.add(hash);
      onPicture?.({ hash, source });
    },
    limits: { ...LAYOUT_LIMITS, ...settings.limits },
    host: settings.host ?? {},
    pause,
    deliver: async () => {
      check();
      await hand();
      await pause();
    },
  };
};
