import { produce } from 'immer';
import type { Band, Item, Look, Report } from '../definition/schema.ts';
import { allBands, type BandAddress, findBand, findItem } from '../definition/walk.ts';

/** Frees an optional setting when its value is null. */
export type Settings = Record<string, unknown>;

/**
 * One thing a maker does. Edits are plain JSON: they can be kept, sent and played again. Lengths in millimetres.
 */
export type Edit =
  | { do: 'add'; band: BandAddress; items: Item[] }
  | { do: 'remove'; items: string[] }
  | { do: 'move'; items: string[]; dx: number; dy: number; band?: BandAddress }
  | { do: 'resize'; items: string[]; dx: number; dy: number; dw: number; dh: number }
  | { do: 'set'; items: string[]; settings: Settings }
  | { do: 'look'; items: string[]; look: { [K in keyof Look]: Look[K] | null } }
  | { do: 'band'; band: BandAddress; settings: Partial<Omit<Band, 'items'>> }
  | { do: 'report'; settings: Settings };

/** Smallest width and height of an item. */
export const LEAST_SIZE = 1;

const rounded = (value: number): number => Math.round(value * 100) / 100;

/**
 * The definition after an edit; `report` itself never changes, and is given back when the edit changes nothing. Items and
 * bands that are not there are passed over, so an old edit cannot break a definition.
 */
export const applyEdit = (report: Report, edit: Edit): Report =>
  produce(report, (draft) => change(draft as Report, edit));

const change = (report: Report, edit: Edit): void => {
  switch (edit.do) {
    case 'add': {
      const band = findBand(report, edit.band);
      if (!band) return;
      band.items.push(...edit.items);
      for (const item of edit.items) reach(band, item);
      return;
    }
    case 'remove': {
      const gone = new Set(edit.items);
      for (const { band } of allBands(report)) {
        if (band.items.some((item) => gone.has(item.id))) band.items = band.items.filter((item) => !gone.has(item.id));
      }
      return;
    }
    case 'move':
      for (const id of edit.items) {
        const found = findItem(report, id);
        if (!found) continue;
        const { item, at } = found;
        item.x = rounded(Math.max(0, item.x + edit.dx));
        item.y = rounded(Math.max(0, item.y + edit.dy));
        const target = edit.band ? findBand(report, edit.band) : null;
        if (target && target !== at.band) {
          at.band.items = at.band.items.filter((other) => other.id !== id);
          target.items.push(item);
        }
        reach(target ?? at.band, item);
      }
      return;
    case 'resize':
      for (const id of edit.items) {
        const found = findItem(report, id);
        if (!found) continue;
        const { item, at } = found;
        const flat = item.kind === 'line' ? 0 : LEAST_SIZE;
        item.x = rounded(Math.max(0, item.x + edit.dx));
        item.y = rounded(Math.max(0, item.y + edit.dy));
        item.width = rounded(Math.max(flat, item.width + edit.dw));
        item.height = rounded(Math.max(flat, item.height + edit.dh));
        reach(at.band, item);
      }
      return;
    case 'set':
      for (const id of edit.items) {
        const found = findItem(report, id);
        if (found) assign(found.item as unknown as Settings, edit.settings);
      }
      return;
    case 'look':
      for (const id of edit.items) {
        const item = findItem(report, id)?.item;
        if (!item || (item.kind !== 'text' && item.kind !== 'field')) continue;
        item.look ??= {};
        assign(item.look as Settings, edit.look);
        if (Object.keys(item.look).length === 0) delete item.look;
      }
      return;
    case 'band': {
      const band = findBand(report, edit.band);
      if (!band) return;
      assign(band as unknown as Settings, edit.settings);
      if (edit.settings.height !== undefined) band.height = rounded(Math.max(lowestItem(band), edit.settings.height));
      return;
    }
    case 'report':
      assign(report as unknown as Settings, edit.settings);
      return;
    default:
      edit satisfies never;
  }
};

const assign = (target: Settings, settings: Settings): void => {
  for (const [key, value] of Object.entries(settings)) {
    if (value === null || value === undefined) delete target[key];
    else target[key] = value;
  }
};

/** A band is at least as high as its lowest item needs. */
const reach = (band: Band, item: Item): void => {
  band.height = Math.max(band.height, rounded(item.y + item.height));
};

/** Bottom of the lowest item of a band, in millimetres. */
export const lowestItem = (band: Band): number =>
  band.items.reduce((low, item) => Math.max(low, item.y + item.height), 0);

/** An id that the report does not use yet: the kind's first letter and a number. */
export const freshId = (report: Report, kind: string, taken: readonly string[] = []): string => {
  const used = new Set(taken);
  for (const { band } of allBands(report)) for (const item of band.items) used.add(item.id);
  for (let n = 1; ; n++) if (!used.has(`${kind}${n}`)) return `${kind}${n}`;
};

/** Copies of items with ids of their own, moved by so many millimetres. */
export const copyItems = (report: Report, items: readonly Item[], dx: number, dy: number): Item[] => {
  const taken: string[] = [];
  return items.map((item) => {
    const id = freshId(report, item.kind, taken);
    taken.push(id);
    return { ...structuredClone(item), id, x: rounded(item.x + dx), y: rounded(item.y + dy) };
  });
};
