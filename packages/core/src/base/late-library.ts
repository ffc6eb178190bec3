/** A library that takes a while to load, and is loaded when something first needs it. */
export interface LateLibrary<T> {
  load(): Promise<void>;
  /** Throws when nobody has waited for `load`. */
  get(): T;
}

export const lateLibrary = <T>(name: string, bring: () => Promise<T>): LateLibrary<T> => {
  let library: T | null = null;
  return {
    load: async () => {
      library ??= await bring();
    },
    get: () => {
      if (!library) throw new Error(`${name} is used before it was loaded`);
      return library;
    },
  };
};
