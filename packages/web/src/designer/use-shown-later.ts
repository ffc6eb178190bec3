import { useDeferredValue, useRef, useState } from 'react';
import { flushSync } from 'react-dom';

/**
 * A value that is drawn a moment later than the rest. `catchUp` draws it at once: what is done in a part that lags is
 * meant for the value as it is, and would otherwise put an older one in its place.
 */
export const useShownLater = <T>(value: T): { shown: T; catchUp: () => void } => {
  const deferred = useDeferredValue(value) ?? value;
  const [asked, setAsked] = useState<{ value: T } | null>(null);
  const shown = asked?.value === value ? value : deferred;
  const latest = useRef({ value, shown });
  latest.current = { value, shown };
  const catchUp = (): void => {
    // First what the stores hold already.
    flushSync(() => undefined);
    const { value: now, shown: drawn } = latest.current;
    if (now !== drawn) flushSync(() => setAsked({ value: now }));
  };
  return { shown, catchUp };
};
