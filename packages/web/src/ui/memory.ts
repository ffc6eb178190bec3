/** Where values are kept between visits; the browser's own store, or nothing where it is switched off. */
export interface Memory {
  getItem(key: string): string | null;
  setItem(key: string, value: string): void;
  removeItem(key: string): void;
}

const NOTHING: Memory = { getItem: () => null, setItem: () => {}, removeItem: () => {} };

/** A browser that keeps nothing for pages throws at the mere question. */
export const browserMemory = (): Memory => {
  try {
    return window.localStorage;
  } catch {
    return NOTHING;
  }
};

/** What is kept under a key; null when nothing is. */
export const recall = (memory: Memory, key: string): string | null => {
  try {
    return memory.getItem(key);
  } catch {
    return null;
  }
};

/** Keeps a text under a key; null forgets what is there. A full store costs a convenience and nothing else. */
export const keep = (memory: Memory, key: string, text: string | null): void => {
  try {
    if (text === null) memory.removeItem(key);
    else memory.setItem(key, text);
  } catch {}
};
