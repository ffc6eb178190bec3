/** Without settings that are undefined, as definitions are kept. */
export const strip = <T extends object>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

/** The list with two of its entries in each other's place. */
export const swapped = <T>(list: readonly T[], a: number, b: number): T[] => {
  const next = [...list];
  [next[a], next[b]] = [next[b]!, next[a]!];
  return next;
};
