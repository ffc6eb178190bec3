import type { Edit, Place } from './edit.ts';

/** An item on the board: its place in its band, and where the band starts. Millimetres. */
export interface BoardItem extends Place {
  id: string;
  bandTop: number;
}

export const LINE_UPS = ['left', 'centre', 'right', 'top', 'middle', 'bottom'] as const;
export type LineUp = (typeof LINE_UPS)[number];

/** Brings one edge or the middle of all to where that of the first one is. */
export const lineUp = (items: readonly BoardItem[], how: LineUp): Edit => {
  const [first] = items;
  const places: Record<string, Partial<Place>> = {};
  for (const item of first ? items.slice(1) : []) {
    const top = first!.bandTop + first!.y - item.bandTop;
    switch (how) {
      case 'left':
        places[item.id] = { x: first!.x };
        break;
      case 'centre':
        places[item.id] = { x: first!.x + (first!.width - item.width) / 2 };
        break;
      case 'right':
        places[item.id] = { x: first!.x + first!.width - item.width };
        break;
      case 'top':
        places[item.id] = { y: top };
        break;
      case 'middle':
        places[item.id] = { y: top + (first!.height - item.height) / 2 };
        break;
      case 'bottom':
        places[item.id] = { y: top + first!.height - item.height };
        break;
      default:
        how satisfies never;
    }
  }
  return { do: 'place', places };
};

/** Equal gaps between items, the outermost two staying where they are. */
export const evenOut = (items: readonly BoardItem[], along: 'across' | 'down'): Edit => {
  const start = (i: BoardItem): number => (along === 'across' ? i.x : i.bandTop + i.y);
  const length = (i: BoardItem): number => (along === 'across' ? i.width : i.height);
  const sorted = [...items].sort((a, b) => start(a) - start(b));
  const [first] = sorted;
  const last = sorted.at(-1);
  const places: Record<string, Partial<Place>> = {};
  if (!first || !last || sorted.length < 3) return { do: 'place', places };
  const inner = sorted.slice(1, -1);
  const room = start(last) - start(first) - length(first);
  const gap = (room - inner.reduce((sum, i) => sum + length(i), 0)) / (sorted.length - 1);
  let at = start(first) + length(first) + gap;
  for (const item of inner) {
    places[item.id] = along === 'across' ? { x: at } : { y: at - item.bandTop };
    at += length(item) + gap;
  }
  return { do: 'place', places };
};

/** Gives all the width, height or both of the first one. */
export const sameSize = (items: readonly BoardItem[], of: 'width' | 'height' | 'both'): Edit => {
  const [first] = items;
  const places: Record<string, Partial<Place>> = {};
  for (const item of items.slice(1)) {
    places[item.id] = {
      ...(of !== 'height' ? { width: first!.width } : {}),
      ...(of !== 'width' ? { height: first!.height } : {}),
    };
  }
  return { do: 'place', places };
};
