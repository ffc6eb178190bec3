import {
  type BandAddress,
  copyItems,
  type Edit,
  emptyHistory,
  findBand,
  findDrawer,
  findItem,
  type History,
  type Item,
  type Report,
  type ReportNames,
  record,
  redo,
  undo,
} from '@gaveta/core/internal';
import { create } from 'zustand';
import { useScreen } from './columns-of-screen.ts';
import { keptHistory } from './kept-history.ts';

/** What the Selection tray is about when no item is selected. */
export type Focus = { kind: 'report' } | { kind: 'drawer'; drawer: string } | { kind: 'band'; band: BandAddress };

interface DesignerState {
  /** The open document: id of its report, or the key of a new one's draft. */
  documentKey: string | null;
  history: History | null;
  /** The document as it was last saved; by identity, so undoing back to it counts as saved. */
  savedReport: Report | null;
  /** Selected items. */
  selection: readonly string[];
  /** The band that is selected, or holds the selection. */
  band: BandAddress | null;
  focus: Focus;
  /** Item whose text is being edited in place, and where that is. */
  editing: string | null;
  editingOn: 'board' | 'live';
  /** Drawers by id, and bands by key, that are folded away on the board. */
  collapsed: ReadonlySet<string>;
  /** Share of the board's full width, or `fit`. */
  zoom: number | 'fit';
  snapping: boolean;
  /** What is being tried, shown on the live page and not yet done. */
  trial: Report | null;
  /** Names of stored reports by their ids. */
  reportNames: ReportNames;
  /** Documents that were left for something else since the page was loaded: work on them that comes back is no surprise. */
  left: ReadonlySet<string>;

  open: (key: string, report: Report, saved: Report | null) => void;
  leave: (key: string) => void;
  close: () => void;
  markSaved: (report: Report) => void;
  edit: (name: string, edit: Edit) => void;
  /** Shows what an edit would do on the live page; null ends that. */
  attempt: (edit: Edit | null) => void;
  undo: () => void;
  redo: () => void;
  select: (ids: readonly string[], band?: BandAddress | null) => void;
  focusOn: (focus: Focus) => void;
  /** Left out `on`: on the board, or the live page where that has the whole width. */
  startEditing: (id: string | null, on?: 'board' | 'live') => void;
  fold: (key: string) => void;
}

export const useDesigner = create<DesignerState>((set, get) => ({
  documentKey: null,
  history: null,
  savedReport: null,
  selection: [],
  band: null,
  focus: { kind: 'report' },
  editing: null,
  editingOn: 'board',
  collapsed: new Set(),
  zoom: 'fit',
  snapping: true,
  trial: null,
  reportNames: {},
  left: new Set(),

  open: (documentKey, report, saved) =>
    set({
      documentKey,
      history: keptHistory(documentKey, report, saved ? [saved] : []) ?? emptyHistory(report),
      savedReport: saved,
      selection: [],
      band: null,
      focus: { kind: 'report' },
      editing: null,
      trial: null,
    }),
  leave: (key) => set(({ left }) => ({ left: new Set([...left, key]) })),
  close: () => set({ documentKey: null, history: null, savedReport: null, trial: null, collapsed: new Set() }),
  markSaved: (report) => set({ savedReport: report }),
  edit: (name, edit) => {
    const { history } = get();
    if (history) set({ history: record(history, name, edit), trial: null });
  },
  attempt: (edit) => {
    const { history, trial } = get();
    if (!history || (!edit && !trial)) return;
    set({ trial: edit && record(history, '', edit).report });
  },
  undo: () => set(({ history }) => ({ history: history && undo(history), editing: null, trial: null })),
  redo: () => set(({ history }) => ({ history: history && redo(history), editing: null, trial: null })),
  select: (ids, band) =>
    set(({ history, band: old, focus }) => {
      const found = history && ids[0] !== undefined ? findItem(history.report, ids[0]) : null;
      const at = band !== undefined ? band : (found?.at.address ?? old);
      return {
        selection: ids,
        band: at,
        focus: at ? { kind: 'band', band: at } : ids.length > 0 ? focus : { kind: 'report' },
      };
    }),
  focusOn: (focus) =>
    set(({ band }) => ({
      focus,
      selection: [],
      editing: null,
      band:
        focus.kind === 'band' ? focus.band : focus.kind === 'drawer' ? { drawer: focus.drawer, band: 'detail' } : band,
    })),
  startEditing: (editing, on = useScreen.getState().wide === 'live' ? 'live' : 'board') =>
    set(editing === null ? { editing } : { editing, editingOn: on }),
  fold: (key) =>
    set(({ collapsed }) => {
      const next = new Set(collapsed);
      if (!next.delete(key)) next.add(key);
      return { collapsed: next };
    }),
}));

/** The selected items that still are there. */
export const selectedItems = (report: Report, selection: readonly string[]): Item[] =>
  selection.map((id) => findItem(report, id)?.item).filter((item) => item !== undefined);

/** Items with the others of their panels. */
export const withPanels = (report: Report, ids: readonly string[]): string[] => {
  const all = new Set<string>();
  for (const id of ids) {
    const found = findItem(report, id);
    if (!found) continue;
    const { panel } = found.item;
    if (panel === undefined) all.add(id);
    else for (const mate of found.at.band.items) if (mate.panel === panel) all.add(mate.id);
  }
  return [...all];
};

/** Selected items band by band. */
const byBand = (report: Report, ids: readonly string[]): { band: BandAddress; items: Item[] }[] => {
  const groups = new Map<string, { band: BandAddress; items: Item[] }>();
  for (const id of ids) {
    const found = findItem(report, id);
    if (!found) continue;
    const group = groups.get(found.at.path) ?? { band: found.at.address, items: [] };
    group.items.push(found.item);
    groups.set(found.at.path, group);
  }
  return [...groups.values()];
};

/** Takes the selected items out; a locked one stays. */
export const removeSelected = (name: string): void => {
  const { selection, history, edit, select } = useDesigner.getState();
  if (!history || selection.length === 0) return;
  const free = selection.filter((id) => !findItem(history.report, id)?.item.locked);
  if (free.length === 0) return;
  edit(name, { do: 'remove', items: free });
  select([]);
};

/** Copies the selected items beside themselves and selects the copies. */
export const duplicateSelected = (name: string): void => {
  const { selection, history, edit, select } = useDesigner.getState();
  if (!history) return;
  let { report } = history;
  const made: string[] = [];
  const edits: Edit[] = [];
  for (const { band, items } of byBand(report, selection)) {
    const copies = copyItems(report, items, 4, 0);
    made.push(...copies.map((c) => c.id));
    const add: Edit = { do: 'add', band, items: copies };
    edits.push(add);
    report = record(emptyHistory(report), '', add).report;
  }
  if (made.length === 0) return;
  edit(name, { do: 'all', edits });
  select(made);
};

/** Where a field goes that is placed without pointing: the selected band, else where its rows are current. */
export const targetBand = (report: Report, wanted: BandAddress): BandAddress => {
  const { band } = useDesigner.getState();
  if (band && findBand(report, band)) return band;
  return findBand(report, wanted) ? wanted : { drawer: null, band: 'header' };
};

/** From the inside out: items, their band, its drawer, the drawers around, the report. */
export const outward = (): void => {
  const { selection, focus, band, history, focusOn } = useDesigner.getState();
  if (!history) return;
  if (selection.length > 0) {
    if (band) focusOn({ kind: 'band', band });
    return;
  }
  if (focus.kind === 'report') return;
  const id = focus.kind === 'band' ? focus.band.drawer : (findDrawer(history.report, focus.drawer)?.parent?.id ?? null);
  focusOn(id === null ? { kind: 'report' } : { kind: 'drawer', drawer: id });
};

/** The other way: into the first drawer, its detail band, its first item. */
export const inward = (): void => {
  const { selection, focus, history, focusOn, select } = useDesigner.getState();
  if (!history || selection.length > 0) return;
  const { report } = history;
  if (focus.kind === 'report') {
    const [first] = report.body;
    if (first) focusOn({ kind: 'drawer', drawer: first.id });
  } else if (focus.kind === 'drawer') {
    const drawer = findDrawer(report, focus.drawer)?.drawer;
    if (!drawer) return;
    if (drawer.detail) focusOn({ kind: 'band', band: { drawer: drawer.id, band: 'detail' } });
    else if (drawer.drawers?.[0]) focusOn({ kind: 'drawer', drawer: drawer.drawers[0].id });
  } else {
    const first = findBand(report, focus.band)?.items[0];
    if (first) select([first.id], focus.band);
  }
};
