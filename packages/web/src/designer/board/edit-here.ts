import type { Item } from '@gaveta/core/internal';
import { focusFormula } from '../design/focus.ts';
import { useDesigner } from '../design/state.ts';
import { roomOfKind } from '../items/rooms.ts';

/** Edits an item where it stands, or brings the cursor into the box of its formula. */
export const editHere = (item: Item, on: 'board' | 'live'): void => {
  if (roomOfKind(item.kind).Editor) useDesigner.getState().startEditing(item.id, on);
  else focusFormula();
};
