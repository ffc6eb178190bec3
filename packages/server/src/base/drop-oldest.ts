/** Lets go of what was put into a map first, until it holds no more than `most`. */
export const dropOldest = (map: Map<unknown, unknown>, most: number): void => {
  for (const oldest of map.keys()) {
    if (map.size <= most) return;
    map.delete(oldest);
  }
};
