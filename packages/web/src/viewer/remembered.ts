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

const keyOf = (report: string): string => `gaveta.parameters.${report}`;

/** The address's parameters that a reader chose last for a report; empty when there are none. */
export const rememberedValues = (memory: Memory, report: string): URLSearchParams => {
  try {
    return new URLSearchParams(memory.getItem(keyOf(report)) ?? '');
  } catch {
    return new URLSearchParams();
  }
};

export const rememberValues = (memory: Memory, report: string, values: URLSearchParams): void => {
  try {
    if (values.size === 0) memory.removeItem(keyOf(report));
    else memory.setItem(keyOf(report), values.toString());
  } catch {
    // A full store costs a convenience and nothing else.
  }
};
