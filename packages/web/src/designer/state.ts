import {
  type BandAddress,
  copyItems,
  type Edit,
  emptyHistory,
  findItem,
  type History,
  type Item,
  type Report,
  record,
  redo,
  undo,
} from '@gaveta/core';
import { create } from 'zustand';

interface DesignerState {
  history: History | null;
  /** The document as it was last saved; by identity, so undoing back to it counts as saved. */
  savedReport: Report | null;
  /** Selected items. */
  selection: readonly string[];
  /** The band that is selected, or holds the selection. */
  band: BandAddress | null;
  /** Item whose text is being edited in place. */
  editing: string | null;

  open: (report: Report) => void;
  markSaved: (report: Report) => void;
  edit: (name: string, edit: Edit) => void;
  undo: () => void;
  redo: () => void;
  select: (ids: readonly string[], band?: BandAddress | null) => void;
  startEditing: (id: string | null) => void;
  removeSelected: (name: string) => void;
  duplicateSelected: (name: string) => void;
}

export const useDesigner = create<DesignerState>((set, get) => ({
  history: null,
  savedReport: null,
  selection: [],
  band: null,
  editing: null,

  open: (report) =>
    set({ history: emptyHistory(report), savedReport: report, selection: [], band: null, editing: null }),
  markSaved: (report) => set({ savedReport: report }),
  edit: (name, edit) => {
    const { history } = get();
    if (history) set({ history: record(history, name, edit) });
  },
  undo: () => set(({ history }) => ({ history: history && undo(history), editing: null })),
  redo: () => set(({ history }) => ({ history: history && redo(history), editing: null })),
  select: (ids, band) =>
    set(({ history, band: old }) => {
      const found = history && ids[0] !== undefined ? findItem(history.report, ids[0]) : null;
      return { selection: ids, band: band !== undefined ? band : (found?.at.address ?? old) };
    }),
  startEditing: (editing) => set({ editing }),
  removeSelected: (name) => {
    const { selection, edit } = get();
    if (selection.length === 0) return;
    edit(name, { do: 'remove', items: [...selection] });
    set({ selection: [] });
  },
  duplicateSelected: (name) => {
    const { selection, history } = get();
    if (!history) return;
    const byBand = new Map<string, { band: BandAddress; items: Item[] }>();
    for (const id of selection) {
      const found = findItem(history.report, id);
      if (!found) continue;
      const group = byBand.get(found.at.path) ?? { band: found.at.address, items: [] };
      group.items.push(found.item);
      byBand.set(found.at.path, group);
    }
    const made: string[] = [];
    for (const { band, items } of byBand.values()) {
      const copies = copyItems(get().history!.report, items, 4, 0);
      made.push(...copies.map((c) => c.id));
      get().edit(name, { do: 'add', band, items: copies });
    }
    if (made.length > 0) get().select(made);
  },
}));

/** The selected items that still are there. */
export const selectedItems = (report: Report, selection: readonly string[]): Item[] =>
  selection.map((id) => findItem(report, id)?.item).filter((item) => item !== undefined);
