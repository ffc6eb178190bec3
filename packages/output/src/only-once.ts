/** Names of which each is there once, whatever its case: later ones get a number. */
export const onlyOnce = (names: readonly string[]): string[] => {
  const taken = new Set<string>();
  return names.map((name) => {
    let free = name;
    for (let n = 2; taken.has(free.toLowerCase()); n++) free = `${name} ${n}`;
    taken.add(free.toLowerCase());
    return free;
  });
};
