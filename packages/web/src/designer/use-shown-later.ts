import { startTransition, useEffect, useRef, useState } from 'react';
import { flushSync } from 'react-dom';
import type { Live } from '../live/use-live.ts';
import type { Design } from './design/context.ts';

/** How long the live page is waited for at most, in milliseconds. */
const PATIENCE = 120;

/** Tells once the live page shows what it is of by now, and that was painted; gives what ends the wait. */
const onceLive = (live: Live, report: Design['report'], tell: () => void): (() => void) => {
  let frame = 0;
  let timer = setTimeout(tell, PATIENCE);
  const look = (): void => {
    if (frame !== 0 || live.view.getState().of !== report) return;
    clearTimeout(timer);
    frame = requestAnimationFrame(() => {
      timer = setTimeout(tell);
    });
  };
  const forget = live.view.subscribe(look);
  look();
  return () => {
    forget();
    clearTimeout(timer);
    cancelAnimationFrame(frame);
  };
};

/**
 * The design as parts show it that may be drawn after the live page. With another `selection` they follow at once. `catchUp`
 * lets them follow: what is done in a part that lags is meant for the design as it is, and would otherwise put an older one in its
 * place.
 */
export const useShownLater = (
  design: Design | null,
  live: Live,
  selection: readonly string[],
): { shown: Design | null; catchUp: () => void } => {
  const [kept, setKept] = useState({ design, selection });
  const isAtOnce = kept.design === null || kept.selection !== selection;
  if (isAtOnce && (kept.design !== design || kept.selection !== selection)) setKept({ design, selection });
  const shown = isAtOnce ? design : kept.design;
  useEffect(() => {
    if (!design || shown === design) return;
    return onceLive(live, design.report, () => startTransition(() => setKept({ design, selection })));
  }, [design, shown, live, selection]);
  const latest = useRef({ design, shown, selection });
  latest.current = { design, shown, selection };
  const catchUp = (): void => {
    // First what the stores hold already.
    flushSync(() => undefined);
    const { design: now, shown: drawn, selection: chosen } = latest.current;
    if (now !== drawn) flushSync(() => setKept({ design: now, selection: chosen }));
  };
  return { shown, catchUp };
};
