import { ITEM_KINDS, type ItemKind } from '@gaveta/core/internal';
import { barcodeRoom } from './barcode/room.tsx';
import { chartRoom } from './chart/room.tsx';
import { checkRoom } from './check/room.tsx';
import { contentsRoom } from './contents/room.tsx';
import { crosstabRoom } from './crosstab/room.tsx';
import { fieldRoom } from './field/room.tsx';
import { formattedRoom } from './formatted/room.tsx';
import { gaugeRoom } from './gauge/room.tsx';
import { lineRoom } from './line/room.tsx';
import { mapRoom } from './map/room.tsx';
import { panelRoom } from './panel/room.tsx';
import { pictureRoom } from './picture/room.tsx';
import { rectangleRoom } from './rectangle/room.tsx';
import type { ItemRoom } from './room.ts';
import { sparklineRoom } from './sparkline/room.tsx';
import { stateRoom } from './state/room.tsx';
import { subreportRoom } from './subreport/room.tsx';
import { textRoom } from './text/room.tsx';

const ITEM_ROOMS: { readonly [K in ItemKind]: ItemRoom<K> } = {
  field: fieldRoom,
  text: textRoom,
  picture: pictureRoom,
  barcode: barcodeRoom,
  check: checkRoom,
  line: lineRoom,
  rectangle: rectangleRoom,
  panel: panelRoom,
  formatted: formattedRoom,
  crosstab: crosstabRoom,
  chart: chartRoom,
  gauge: gaugeRoom,
  map: mapRoom,
  sparkline: sparklineRoom,
  state: stateRoom,
  contents: contentsRoom,
  subreport: subreportRoom,
};

/** Records are by kind: an item's room is that of its own kind. */
export const roomOfKind = (kind: ItemKind): ItemRoom => ITEM_ROOMS[kind] as unknown as ItemRoom;

/** Kinds that can be added, with their rooms. */
export const ADDED = ITEM_KINDS.flatMap((kind) => {
  const { add } = roomOfKind(kind);
  return add ? [{ kind, ...add }] : [];
});

const FIGURES: ReadonlySet<ItemKind> = new Set<ItemKind>(['chart', 'gauge', 'sparkline', 'state', 'map']);

/** Whether a kind is drawn as one picture of many marks. */
export const isFigure = (kind: ItemKind | undefined): boolean => kind !== undefined && FIGURES.has(kind);
