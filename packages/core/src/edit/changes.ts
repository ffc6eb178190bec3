import type { Drawer, Item, Report } from '../definition/schema.ts';
import { allBands, bandKey, DRAWER_BANDS, drawersOf } from '../definition/walk.ts';

/** One difference between two definitions, from the older to the newer. */
export interface Change {
  what: 'item' | 'band' | 'drawer' | 'report';
  how: 'added' | 'removed' | 'changed' | 'moved';
  /** Id of the item or drawer, key of the band; empty for the report. */
  id: string;
  /** Key of the band that holds the item. */
  band?: string;
  item?: Item;
  drawer?: Drawer;
  /** Settings that differ. */
  settings: string[];
}

type Plain = Record<string, unknown>;

/** Whether two values say the same, in whichever order their settings stand. */
const same = (a: unknown, b: unknown): boolean => {
  if (a === b) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Array.isArray(a) || Array.isArray(b))
    return Array.isArray(a) && Array.isArray(b) && a.length === b.length && a.every((one, i) => same(one, b[i]));
  return differing(a as Plain, b as Plain, []).length === 0;
};

/** Names of settings that differ, apart from those left out. */
const differing = (a: Plain, b: Plain, without: readonly string[]): string[] =>
  [...new Set([...Object.keys(a), ...Object.keys(b)])].filter((key) => !without.includes(key) && !same(a[key], b[key]));

const PLACES = ['x', 'y', 'width', 'height', 'share'];
const APART_FROM_DRAWER = [...DRAWER_BANDS, 'drawers'];

interface ItemAt {
  item: Item;
  band: string;
}

const itemsOf = (report: Report): Map<string, ItemAt> => {
  const items = new Map<string, ItemAt>();
  for (const { band, address } of allBands(report))
    for (const item of band.items) items.set(item.id, { item, band: bandKey(address) });
  return items;
};

/** Everything that differs between two definitions: the report's own settings first, then drawers, bands and items. */
export const changesBetween = (older: Report, newer: Report): Change[] => [
  ...reportChanges(older, newer),
  ...drawerChanges(older, newer),
  ...bandChanges(older, newer),
  ...itemChanges(older, newer),
];

const reportChanges = (older: Report, newer: Report): Change[] => {
  const bands = [...allBands(older), ...allBands(newer)].flatMap((b) =>
    b.address.drawer === null ? [b.address.band] : [],
  );
  const settings = differing(older as unknown as Plain, newer as unknown as Plain, ['body', ...bands]);
  return settings.length > 0 ? [{ what: 'report', how: 'changed', id: '', settings }] : [];
};

const drawerChanges = (older: Report, newer: Report): Change[] => {
  const before = new Map([...drawersOf(older)].map((d) => [d.drawer.id, d]));
  const after = new Map([...drawersOf(newer)].map((d) => [d.drawer.id, d]));
  const changes: Change[] = [];
  const reordered = reorderedDrawers(older, newer);
  for (const [id, { drawer }] of before)
    if (!after.has(id)) changes.push({ what: 'drawer', how: 'removed', id, drawer, settings: [] });
  for (const [id, { drawer, parent }] of after) {
    const was = before.get(id);
    if (!was) changes.push({ what: 'drawer', how: 'added', id, drawer, settings: [] });
    else {
      if (was.parent?.id !== parent?.id || reordered.has(id))
        changes.push({ what: 'drawer', how: 'moved', id, drawer, settings: [] });
      const bare = (d: Drawer): Plain => ({
        ...d,
        groups: d.groups?.map(({ header: _, footer: __, ...group }) => group),
      });
      const settings = differing(bare(was.drawer), bare(drawer), APART_FROM_DRAWER);
      if (settings.length > 0) changes.push({ what: 'drawer', how: 'changed', id, drawer, settings });
    }
  }
  return changes;
};

/** Drawers that stand before or after others that they stood after or before: of the two ways to tell it, the shorter. */
const reorderedDrawers = (older: Report, newer: Report): Set<string> => {
  const placesOf = (report: Report) =>
    new Map([...drawersOf(report)].map(({ drawer, parent }, place) => [drawer.id, { place, parent: parent?.id }]));
  const before = placesOf(older);
  const after = placesOf(newer);
  const up = new Set<string>();
  const down = new Set<string>();
  for (const [id, now] of after) {
    for (const [other, { place, parent }] of after) {
      const was = before.get(id);
      const otherWas = before.get(other);
      if (!was || !otherWas || parent !== now.parent || was.parent !== parent || otherWas.parent !== parent) continue;
      if (otherWas.place < was.place && place > now.place) {
        up.add(id);
        down.add(other);
      }
    }
  }
  return up.size <= down.size ? up : down;
};

const bandChanges = (older: Report, newer: Report): Change[] => {
  const before = new Map([...allBands(older)].map((b) => [bandKey(b.address), b.band]));
  const after = new Map([...allBands(newer)].map((b) => [bandKey(b.address), b.band]));
  const changes: Change[] = [];
  for (const id of before.keys()) if (!after.has(id)) changes.push({ what: 'band', how: 'removed', id, settings: [] });
  for (const [id, band] of after) {
    const was = before.get(id);
    if (!was) changes.push({ what: 'band', how: 'added', id, settings: [] });
    else {
      const settings = differing(was as unknown as Plain, band as unknown as Plain, ['items']);
      if (settings.length > 0) changes.push({ what: 'band', how: 'changed', id, settings });
    }
  }
  return changes;
};

const itemChanges = (older: Report, newer: Report): Change[] => {
  const before = itemsOf(older);
  const after = itemsOf(newer);
  const changes: Change[] = [];
  for (const [id, { item, band }] of before)
    if (!after.has(id)) changes.push({ what: 'item', how: 'removed', id, item, band, settings: [] });
  for (const [id, { item, band }] of after) {
    const was = before.get(id);
    if (!was) {
      changes.push({ what: 'item', how: 'added', id, item, band, settings: [] });
      continue;
    }
    const settings = differing(was.item as unknown as Plain, item as unknown as Plain, PLACES);
    if (settings.length > 0) changes.push({ what: 'item', how: 'changed', id, item, band, settings });
    const places = differing(was.item as unknown as Plain, item as unknown as Plain, settings);
    if (places.length > 0 || was.band !== band)
      changes.push({ what: 'item', how: 'moved', id, item, band, settings: places });
  }
  return changes;
};
