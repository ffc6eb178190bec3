/** Names of fields for what columns are called: letters, digits and _, each different. */
export const fieldNames = (columns: readonly string[]): string[] => {
  const taken = new Set<string>();
  /** The number that the next name of a base ends with. */
  const next = new Map<string, number>();
  return columns.map((column, i) => {
    const plain = column
      .trim()
      .toLowerCase()
      .replace(/[^\p{L}\p{N}]+/gu, '_')
      .replace(/^_+|_+$/g, '')
      .slice(0, 60);
    const base = /^[\p{L}_]/u.test(plain) ? plain : `column_${plain || i + 1}`;
    let name = base;
    let n = next.get(base) ?? 2;
    while (taken.has(name)) name = `${base}_${n++}`;
    next.set(base, n);
    taken.add(name);
    return name;
  });
};
