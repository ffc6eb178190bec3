import {
  type BoardItem,
  boardBands,
  type Edit,
  evenOut,
  findItem,
  freshPanel,
  type LineUp,
  lineUp,
  type OrderStep,
  type Report,
  sameSize,
} from '@gaveta/core/internal';
import { useDesigner } from '../design/state.ts';

/** Selected items in the order in which they were selected, with where their bands stand. */
export const standings = (report: Report, ids: readonly string[]): BoardItem[] => {
  const tops = new Map(boardBands(report).map((b) => [b.band, b.top]));
  return ids.flatMap((id) => {
    const found = findItem(report, id);
    if (!found) return [];
    const { x, y, width, height } = found.item;
    return [{ id, x, y, width, height, bandTop: tops.get(found.at.band) ?? 0 }];
  });
};

const onSelection = (name: string, make: (items: BoardItem[], report: Report) => Edit): void => {
  const { history, selection, edit } = useDesigner.getState();
  if (history) edit(name, make(standings(history.report, selection), history.report));
};

export const lineUpSelected = (name: string, how: LineUp): void => onSelection(name, (items) => lineUp(items, how));
export const evenOutSelected = (name: string, along: 'across' | 'down'): void =>
  onSelection(name, (items) => evenOut(items, along));
export const sameSizeSelected = (name: string, of: 'width' | 'height' | 'both'): void =>
  onSelection(name, (items) => sameSize(items, of));
export const orderSelected = (name: string, to: OrderStep): void =>
  onSelection(name, (items) => ({ do: 'order', items: items.map((i) => i.id), to }));

const setSelected = (name: string, settings: Record<string, unknown>): void =>
  onSelection(name, (items) => ({ do: 'set', items: items.map((i) => i.id), settings }));

/** Makes one panel of the selected items, or none when they are one already. */
export const togglePanel = (name: string): void => {
  const { history, selection } = useDesigner.getState();
  if (!history) return;
  const panels = new Set(selection.map((id) => findItem(history.report, id)?.item.panel));
  const [only] = panels;
  const isPanel = panels.size === 1 && only !== undefined;
  setSelected(name, { panel: isPanel ? null : freshPanel(history.report) });
};

export const toggleLock = (name: string): void => {
  const { history, selection } = useDesigner.getState();
  if (!history) return;
  const all = selection.every((id) => findItem(history.report, id)?.item.locked);
  setSelected(name, { locked: all ? null : true });
};
