import { liesIn } from '../definition/lying-in.ts';
import type { Report } from '../definition/schema.ts';
import { findItem } from '../definition/walk.ts';

/** Items with those that lie in the panels among them: they move together. */
export const withHeld = (report: Report, ids: readonly string[]): string[] => {
  const all = new Set(ids);
  for (const id of ids) {
    const found = findItem(report, id);
    if (found?.item.kind !== 'panel') continue;
    for (const other of found.at.band.items)
      if (other.id !== id && !other.locked && liesIn(other, found.item)) all.add(other.id);
  }
  return [...all];
};
