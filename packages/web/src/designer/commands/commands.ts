import {
  type BandAddress,
  captionFromLabel,
  columnSets,
  drawerEntities,
  type Edit,
  evenColumns,
  findDrawer,
  findItem,
  fitColumns,
  LINE_UPS,
  newGroup,
  removeColumn,
  reorderColumn,
  roomIn,
} from '@gaveta/core/internal';
import type { TFunction } from 'i18next';
import { fieldsOfRow } from '../../data/fields-of-row.ts';
import type { NamesIn } from '../../i18n/keys.ts';
import { toggleWide } from '../design/columns-of-screen.ts';
import { currentModel } from '../design/model-of.ts';
import { openAddAtPointer, show } from '../design/overlay.ts';
import { duplicateSelected, inward, outward, removeSelected, useDesigner } from '../design/state.ts';
import { zoomBy, zoomToFit } from '../design/zoom.ts';
import {
  evenOutSelected,
  lineUpSelected,
  orderSelected,
  sameSizeSelected,
  toggleLock,
  togglePanel,
} from './arrange.ts';
import { copySelected, cutSelected, pasteLookOnSelected, pasteText, selectAlike } from './clipboard.ts';
import { askedToRemoveBand } from './place-commands.ts';

/** What the screen around the board can do; null: what the host’s page leaves out. */
export interface ScreenActions {
  save: () => void;
  run: () => void;
  /** Runs it, to be taken away as files. */
  exportAs: (() => void) | null;
  toggleLive: () => void;
  saveFile: () => void;
  saveCopy: () => void;
  openRevisions: (() => void) | null;
  toggleNight: () => void;
  toggleLanguage: (() => void) | null;
}

export type CommandId = NamesIn<'command'>;

export interface Command {
  /** Names it among the messages. */
  id: CommandId;
  section: 'report' | 'edit' | 'select' | 'arrange' | 'columns' | 'board';
  keys?: string;
  /** Other keys that do the same. */
  also?: readonly string[];
  /** Works in text boxes too. */
  everywhere?: boolean;
  /** Keys that the browser handles itself, as copying; shown in the list of keys alone. */
  isNative?: boolean;
  when?: () => boolean;
  run: (t: TFunction) => void;
}

const chosen = (): number => useDesigner.getState().selection.length;
const some = (): boolean => chosen() > 0;
const several = (): boolean => chosen() > 1;
/** The band that is selected, while none of its items is. */
const focusedBand = (): BandAddress | null => {
  const { selection, focus } = useDesigner.getState();
  return selection.length === 0 && focus.kind === 'band' ? focus.band : null;
};
/** The column set of the selected item, and the column it stands in. */
const selectedColumn = () => {
  const { history, selection } = useDesigner.getState();
  const found = history && selection[0] !== undefined ? findItem(history.report, selection[0]) : null;
  const column = found?.item.column;
  const set = history && column ? columnSets(history.report).get(column.set) : undefined;
  if (!history || !found || !column || !set) return null;
  return { report: history.report, set, name: column.name, room: roomIn(history.report, found.at.address) };
};
/** What gives the selected column the caption that its field is labelled with. */
const captionEdit = (): Edit | null => {
  const found = selectedColumn();
  if (!found) return null;
  const { report, set } = found;
  const model = currentModel(report);
  const entities = drawerEntities(report, model);
  return captionFromLabel(set, found.name, ({ id, formula }) => {
    const drawer = findItem(report, id)?.at.address.drawer ?? null;
    const entity = drawer === null ? null : (entities.get(drawer) ?? null);
    return fieldsOfRow(entity, model).find((f) => f.name === formula.trim())?.label ?? null;
  });
};

/** The place of the column beside the selected one; null at either end. */
const columnBeside = (step: -1 | 1): number | null => {
  const found = selectedColumn();
  if (!found) return null;
  const to = found.set.columns.findIndex((c) => c.name === found.name) + step;
  return found.set.columns[to] ? to : null;
};
const inColumn = (): boolean => selectedColumn() !== null;

const state = useDesigner.getState;
const name = (t: TFunction, id: CommandId): string => t(`command.${id}`);

/** The field that a selected item shows, with the drawer whose rows it belongs to. */
const groupField = () => {
  const { history, selection } = useDesigner.getState();
  const found = history && selection[0] !== undefined ? findItem(history.report, selection[0]) : null;
  if (!history || found?.item.kind !== 'field' || found.at.address.drawer === null) return null;
  const { report } = history;
  const drawer = findDrawer(report, found.at.address.drawer)?.drawer;
  const entity = drawerEntities(report, currentModel(report)).get(found.at.address.drawer);
  const { formula } = found.item;
  const field = entity?.fields.find((f) => f.name === formula.trim());
  return drawer && field ? { report, drawer, field } : null;
};

const groupBySelected = (t: TFunction): void => {
  const found = groupField();
  if (found)
    useDesigner
      .getState()
      .edit(t('edits.group', { field: found.field.label }), newGroup(found.report, found.drawer, found.field));
};

/** Folds every drawer away, or opens all when some are folded. */
const foldAll = (): void =>
  useDesigner.setState(({ collapsed, history }) => {
    if (collapsed.size > 0 || !history) return { collapsed: new Set() };
    return { collapsed: new Set(history.report.body.flatMap(({ drawers = [] }) => drawers.map((d) => d.id))) };
  });

/** What can be done with the report on the board, whatever stands around it. */
export const boardCommands: readonly Command[] = [
  {
    id: 'undo',
    section: 'edit',
    keys: 'Ctrl+Z',
    when: () => (state().history?.done.length ?? 0) > 0,
    run: () => state().undo(),
  },
  {
    id: 'redo',
    section: 'edit',
    keys: 'Ctrl+Y',
    also: ['Ctrl+Shift+Z'],
    when: () => (state().history?.undone.length ?? 0) > 0,
    run: () => state().redo(),
  },
  { id: 'cut', section: 'edit', keys: 'Ctrl+X', isNative: true, when: some, run: (t) => void cutSelected(t) },
  { id: 'copy', section: 'edit', keys: 'Ctrl+C', isNative: true, when: some, run: () => void copySelected() },
  { id: 'paste', section: 'edit', keys: 'Ctrl+V', isNative: true, run: (t) => pasteText(t) },
  { id: 'pasteLook', section: 'edit', keys: 'Ctrl+Shift+V', when: some, run: pasteLookOnSelected },
  {
    id: 'duplicate',
    section: 'edit',
    keys: 'Ctrl+D',
    when: some,
    run: (t) => duplicateSelected(t('edits.duplicate')),
  },
  {
    id: 'remove',
    section: 'edit',
    keys: 'Delete',
    also: ['Backspace'],
    when: () => some() || focusedBand() !== null,
    run: (t) => {
      const band = focusedBand();
      if (band) void askedToRemoveBand(t, band);
      else removeSelected(t('edits.remove'));
    },
  },
  { id: 'outward', section: 'select', keys: '[', run: outward },
  { id: 'inward', section: 'select', keys: ']', run: inward },
  { id: 'alike', section: 'select', keys: 'Ctrl+A', when: some, run: () => selectAlike(false) },
  { id: 'alikeEverywhere', section: 'select', keys: 'Ctrl+Shift+A', when: some, run: () => selectAlike(true) },
  ...LINE_UPS.map(
    (how): Command => ({
      id: `lineUp_${how}`,
      section: 'arrange',
      when: several,
      run: (t) => lineUpSelected(name(t, `lineUp_${how}`), how),
    }),
  ),
  ...(['across', 'down'] as const).map(
    (along): Command => ({
      id: `even_${along}`,
      section: 'arrange',
      when: () => chosen() > 2,
      run: (t) => evenOutSelected(name(t, `even_${along}`), along),
    }),
  ),
  ...(['width', 'height', 'both'] as const).map(
    (of): Command => ({
      id: `same_${of}`,
      section: 'arrange',
      when: several,
      run: (t) => sameSizeSelected(name(t, `same_${of}`), of),
    }),
  ),
  ...(
    [
      ['front', 'Ctrl+Shift+ArrowUp'],
      ['forward', 'Ctrl+ArrowUp'],
      ['backward', 'Ctrl+ArrowDown'],
      ['back', 'Ctrl+Shift+ArrowDown'],
    ] as const
  ).map(
    ([to, keys]): Command => ({
      id: `order_${to}`,
      section: 'arrange',
      keys,
      when: some,
      run: (t) => orderSelected(name(t, `order_${to}`), to),
    }),
  ),
  { id: 'panel', section: 'arrange', keys: 'Ctrl+J', when: some, run: (t) => togglePanel(name(t, 'panel')) },
  {
    id: 'lineUp',
    section: 'arrange',
    keys: 'Shift+L',
    when: several,
    run: (t) => show('commands', t('command.lineUpSearch')),
  },
  { id: 'groupBy', section: 'edit', keys: 'Ctrl+G', when: () => groupField() !== null, run: groupBySelected },
  { id: 'lock', section: 'arrange', keys: 'Ctrl+L', when: some, run: (t) => toggleLock(name(t, 'lock')) },
  {
    id: 'evenColumns',
    section: 'columns',
    when: inColumn,
    run: (t) => {
      const found = selectedColumn();
      if (found) state().edit(name(t, 'evenColumns'), evenColumns(found.set));
    },
  },
  {
    id: 'fitColumns',
    section: 'columns',
    when: inColumn,
    run: (t) => {
      const found = selectedColumn();
      if (found) state().edit(name(t, 'fitColumns'), fitColumns(found.set, found.room));
    },
  },
  {
    id: 'removeColumn',
    section: 'columns',
    keys: 'Ctrl+Delete',
    when: inColumn,
    run: (t) => {
      const found = selectedColumn();
      if (found) state().edit(name(t, 'removeColumn'), removeColumn(found.set, found.name));
    },
  },
  ...([-1, 1] as const).map(
    (step): Command => ({
      id: step < 0 ? 'columnLeft' : 'columnRight',
      section: 'columns',
      keys: step < 0 ? 'Ctrl+ArrowLeft' : 'Ctrl+ArrowRight',
      when: () => columnBeside(step) !== null,
      run: (t) => {
        const found = selectedColumn();
        const to = columnBeside(step);
        if (found && to !== null) state().edit(t('edits.columns'), reorderColumn(found.set, found.name, to));
      },
    }),
  ),
  {
    id: 'captionFromLabel',
    section: 'columns',
    when: () => captionEdit() !== null,
    run: (t) => {
      const edit = captionEdit();
      if (edit) state().edit(name(t, 'captionFromLabel'), edit);
    },
  },
  {
    id: 'selectColumn',
    section: 'columns',
    when: inColumn,
    run: () => {
      const found = selectedColumn();
      const column = found?.set.columns.find((c) => c.name === found.name);
      if (column) state().select(column.items.map((i) => i.id));
    },
  },
  { id: 'zoomIn', section: 'board', keys: 'Ctrl++', also: ['Ctrl+='], run: () => zoomBy(1.25) },
  { id: 'zoomOut', section: 'board', keys: 'Ctrl+-', run: () => zoomBy(0.8) },
  { id: 'zoomFit', section: 'board', keys: 'Ctrl+0', run: zoomToFit },
  { id: 'wideBoard', section: 'board', keys: 'Shift+B', run: () => toggleWide('board') },
  { id: 'wideLive', section: 'board', keys: 'Shift+V', run: () => toggleWide('live') },
  { id: 'snapping', section: 'board', run: () => useDesigner.setState((s) => ({ snapping: !s.snapping })) },
  { id: 'foldAll', section: 'board', run: foldAll },
];

/** Everything that can be done by a key or by searching for it. */
export const commands = (screen: ScreenActions): Command[] => [
  { id: 'save', section: 'report', keys: 'Ctrl+S', everywhere: true, run: screen.save },
  { id: 'run', section: 'report', run: screen.run },
  ...offered({ id: 'exportAs', section: 'report', run: screen.exportAs }),
  { id: 'live', section: 'report', keys: 'Ctrl+Enter', everywhere: true, run: screen.toggleLive },
  { id: 'commands', section: 'report', keys: 'Ctrl+K', everywhere: true, run: () => show('commands') },
  { id: 'add', section: 'report', keys: '/', run: openAddAtPointer },
  {
    id: 'problems',
    section: 'report',
    keys: 'F8',
    everywhere: true,
    run: () => document.querySelector<HTMLElement>('[data-problems]')?.click(),
  },
  { id: 'keys', section: 'report', keys: 'F1', everywhere: true, run: () => show('keys') },
  { id: 'pageSetup', section: 'report', run: () => showSettings('page') },
  { id: 'parameters', section: 'report', run: () => showSettings('parameters') },
  { id: 'themes', section: 'report', run: () => showSettings('theme') },
  ...offered({ id: 'revisions', section: 'report', run: screen.openRevisions }),
  { id: 'saveFile', section: 'report', run: screen.saveFile },
  { id: 'saveCopy', section: 'report', run: screen.saveCopy },
  ...boardCommands,
  { id: 'night', section: 'board', run: screen.toggleNight },
  ...offered({ id: 'language', section: 'board', run: screen.toggleLanguage }),
];

/** A command, unless there is nothing for it to do. */
const offered = ({ run, ...rest }: Omit<Command, 'run'> & { run: (() => void) | null }): Command[] =>
  run === null ? [] : [{ ...rest, run }];

/** Opens the report's own settings and brings one part of them into sight. */
export const showSettings = (part: 'page' | 'parameters' | 'theme'): void => {
  useDesigner.getState().focusOn({ kind: 'report' });
  requestAnimationFrame(() => {
    const section = document.querySelector<HTMLElement>(`[data-section="${part}"]`);
    section?.scrollIntoView({ block: 'start' });
    section?.querySelector<HTMLElement>('summary, input, select, button')?.focus({ preventScroll: true });
  });
};
