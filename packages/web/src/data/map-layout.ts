/** A table of a map, and the tables that its rows have many rows in. */
export interface MapTable {
  id: string;
  to: readonly string[];
}

const ACROSS = 210;
const DOWN = 68;
/** Between two models. */
const APART = 60;
/** Tables in one column before the next one is begun. */
const TALLEST = 8;

/**
 * Places of tables: each to the right of those whose rows it belongs to, one model below the other. Circles of relations
 * are cut where they are met.
 */
export const layered = (models: readonly (readonly MapTable[])[]): Map<string, { x: number; y: number }> => {
  const places = new Map<string, { x: number; y: number }>();
  let top = 0;
  for (const tables of models) {
    const depths = depthsOf(tables);
    let lowest = top;
    let x = 0;
    for (let depth = 0; depth <= Math.max(0, ...depths.values()); depth++) {
      const column = tables.filter((t) => depths.get(t.id) === depth);
      for (const [i, table] of column.entries()) {
        const y = top + (i % TALLEST) * DOWN;
        places.set(table.id, { x: x + Math.floor(i / TALLEST) * ACROSS, y });
        lowest = Math.max(lowest, y + DOWN);
      }
      x += Math.max(1, Math.ceil(column.length / TALLEST)) * ACROSS;
    }
    top = lowest + APART;
  }
  return places;
};

/** How many tables stand above each at most. */
const depthsOf = (tables: readonly MapTable[]): Map<string, number> => {
  const depths = new Map<string, number>();
  const visiting = new Set<string>();
  const depthOf = (id: string): number => {
    const known = depths.get(id);
    if (known !== undefined) return known;
    if (visiting.has(id)) return 0;
    visiting.add(id);
    const above = tables.filter((t) => t.id !== id && t.to.includes(id));
    const depth = above.length === 0 ? 0 : 1 + Math.max(...above.map((t) => depthOf(t.id)));
    visiting.delete(id);
    depths.set(id, depth);
    return depth;
  };
  for (const { id } of tables) depthOf(id);
  return depths;
};
