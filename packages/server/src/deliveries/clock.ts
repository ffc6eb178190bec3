/** The time, and being woken at one. Tests have one of their own. */
export interface Clock {
  /** Milliseconds since 1970. */
  now(): number;
  /** Calls at a moment, or soon where it has passed; gives what calls that off. */
  at(moment: number, call: () => void): () => void;
}

/** Longest that a timer of the platform may run. */
const LONGEST = 2_147_483_647;

export const systemClock: Clock = {
  now: () => Date.now(),
  at: (moment, call) => {
    let timer: NodeJS.Timeout;
    const wait = (): void => {
      const left = moment - Date.now();
      if (left > LONGEST) timer = setTimeout(wait, LONGEST);
      else timer = setTimeout(call, Math.max(0, left));
      timer.unref();
    };
    wait();
    return () => clearTimeout(timer);
  },
};
