import { findBand, lowestItem, type Report } from '@gaveta/core/internal';
import type { TFunction } from 'i18next';
import type { KeyboardEvent } from 'react';
import { selectedItems, useDesigner } from '../design/state.ts';
import { GRID } from '../design/surfaces.ts';
import { editHere } from './edit-here.ts';
import { resizing } from './hand.ts';

interface KeyReach {
  t: TFunction;
  report: Report;
  /** Ids of the items in the order in which Tab goes through them. */
  order: readonly string[];
  on: 'board' | 'live';
}

/** Keys of the board and of the live page: arrows move and resize, Tab goes on, Enter edits, Escape lets go. */
export const pressKey = (event: KeyboardEvent, { t, report, order, on }: KeyReach): void => {
  const { editing, selection, focus, edit, select } = useDesigner.getState();
  if (editing || event.target !== event.currentTarget) return;
  const step = event.shiftKey ? GRID * 10 : GRID;
  const arrows: Record<string, [number, number]> = {
    ArrowLeft: [-step, 0],
    ArrowRight: [step, 0],
    ArrowUp: [0, -step],
    ArrowDown: [0, step],
  };
  const arrow = event.ctrlKey || event.metaKey ? undefined : arrows[event.key];
  if (arrow && selection.length > 0) {
    event.preventDefault();
    const [dx, dy] = arrow;
    if (event.altKey) edit(t('edits.resize'), resizing(report, [...selection], 'e', { dx: 0, dy: 0, dw: dx, dh: dy }));
    else edit(t('edits.move'), { do: 'move', items: [...selection], dx, dy });
    return;
  }
  if (arrow && event.altKey && arrow[1] !== 0 && focus.kind === 'band') {
    const found = findBand(report, focus.band);
    if (!found) return;
    event.preventDefault();
    const height = Math.max(lowestItem(found), found.height + arrow[1]);
    edit(t('edits.band'), { do: 'band', band: focus.band, settings: { height } });
    return;
  }
  if (event.key === 'Tab' && !event.ctrlKey) {
    const at = selection[0] === undefined ? -1 : order.indexOf(selection[0]);
    const next = order[at + (event.shiftKey ? -1 : 1)];
    // Past either end, Tab leaves.
    if (next === undefined) return;
    event.preventDefault();
    select([next]);
    return;
  }
  const [only] = selectedItems(report, selection);
  if (event.key === 'Enter' && only && !event.ctrlKey && !event.metaKey) {
    event.preventDefault();
    editHere(only, on);
  }
  if (event.key === 'Escape') select([], null);
};
