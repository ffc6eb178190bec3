import type { Item, Report } from '../definition/schema.ts';
import { allBands, drawersOf } from '../definition/walk.ts';
import { rounded } from './edit.ts';

/** The first of `stem1`, `stem2`, … that is free. */
const firstFree = (stem: string, used: ReadonlySet<string>): string => {
  for (let n = 1; ; n++) if (!used.has(`${stem}${n}`)) return `${stem}${n}`;
};

/** The name itself when it is free, else with a number from 2 on. */
export const freeName = (name: string, used: ReadonlySet<string>): string => {
  if (!used.has(name)) return name;
  for (let n = 2; ; n++) if (!used.has(`${name}${n}`)) return `${name}${n}`;
};

/** Every id of an item or drawer. */
export const usedIds = (report: Report): Set<string> => {
  const used = new Set<string>();
  for (const { band } of allBands(report)) for (const item of band.items) used.add(item.id);
  for (const { drawer } of drawersOf(report)) used.add(drawer.id);
  return used;
};

/** An id that the report does not use yet: what the item is and a number. */
export const freshId = (report: Report, kind: string, taken: readonly string[] = []): string =>
  firstFree(kind, new Set([...usedIds(report), ...taken]));

/** Gives out ids that neither the report nor an earlier call has used. */
export const idMaker = (report: Report): ((kind: string) => string) => {
  const used = usedIds(report);
  return (kind) => {
    const id = firstFree(kind, used);
    used.add(id);
    return id;
  };
};

/**
 * Copies of items with ids of their own, moved by so many millimetres. Columns and panels that are copied become new ones:
 * a copy goes its own way.
 */
export const copyItems = (report: Report, items: readonly Item[], dx: number, dy: number): Item[] => {
  const idFor = idMaker(report);
  const panels = new Map<string, string>();
  return items.map((item) => {
    const { column: _, panel, ...copy } = structuredClone(item);
    const made = { ...copy, id: idFor(item.kind), x: rounded(item.x + dx), y: rounded(item.y + dy) } as Item;
    if (panel === undefined) return made;
    if (!panels.has(panel)) panels.set(panel, freshPanel(report, [...panels.values()]));
    return { ...made, panel: panels.get(panel)! };
  });
};

/** A name for a panel that no item has yet. */
export const freshPanel = (report: Report, taken: readonly string[] = []): string => {
  const used = new Set(taken);
  for (const { band } of allBands(report)) for (const item of band.items) if (item.panel) used.add(item.panel);
  return firstFree('panel', used);
};

/** What is typed as a name that formulas can say: other signs become `_`; null when nothing is left to begin with. */
export const identifierOf = (text: string): string | null => {
  const clean = text
    .trim()
    .replace(/[^\p{L}\p{N}_]+/gu, '_')
    .slice(0, 80);
  return /^[\p{L}_]/u.test(clean) ? clean : null;
};
