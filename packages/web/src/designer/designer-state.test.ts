import { findItem, type Report, renamePart, reportSchema } from '@gaveta/core/internal';
import i18next from 'i18next';
import { beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import en from '../i18n/en.json';
import { lineUpSelected, sameSizeSelected, toggleLock, togglePanel } from './commands/arrange.ts';
import { copySelected, cutSelected, pasteLookOnSelected, pasteText, selectAlike } from './commands/clipboard.ts';
import { commands } from './commands/commands.ts';
import { placeCommands } from './commands/place-commands.ts';
import { duplicateSelected, inward, outward, removeSelected, useDesigner, withPanels } from './design/state.ts';
import { useShown, zoomBy, zoomToFit } from './design/zoom.ts';

const field = (id: string, x: number, more: object = {}) => ({
  kind: 'field',
  id,
  x,
  y: 0,
  width: 20,
  height: 5,
  formula: 'name',
  ...more,
});
const report: Report = reportSchema.parse({
  gaveta: 2,
  name: 'Huts',
  header: { height: 10, items: [field('title', 0)] },
  body: [
    {
      id: 'huts',
      name: 'hut',
      rows: { entity: 'hut' },
      detail: { height: 8, items: [field('a', 0), field('b', 30, { look: { bold: true } }), field('c', 60)] },
      drawers: [{ id: 'stays', name: 'stay', rows: { relation: 'stays' }, detail: { height: 6, items: [] } }],
    },
  ],
});
const detail = { drawer: 'huts', band: 'detail' } as const;

const state = () => useDesigner.getState();
const now = (): Report => state().history!.report;
const item = (id: string) => findItem(now(), id)!.item;
const ids = () => now().body[0]!.detail!.items.map((i) => i.id);

beforeAll(async () => {
  // There is no clipboard of a system here; what was copied is held by the designer itself.
  vi.stubGlobal('navigator', {});
  await i18next.init({ lng: 'en', resources: { en: { translation: en } }, showSupportNotice: false });
});
beforeEach(() => state().open('key', report, report));

describe('the selection', () => {
  it('goes outward from an item to the report, and inward again', () => {
    state().select(['a']);
    const seen: string[] = [];
    for (let i = 0; i < 3; i++) {
      outward();
      seen.push(state().focus.kind);
    }
    expect(seen).toEqual(['band', 'drawer', 'report']);
    expect(state().selection).toEqual([]);
    for (let i = 0; i < 3; i++) inward();
    expect(state().selection).toEqual(['a']);
  });

  it('goes from an inner drawer to the one around', () => {
    state().focusOn({ kind: 'drawer', drawer: 'stays' });
    outward();
    expect(state().focus).toEqual({ kind: 'drawer', drawer: 'huts' });
  });

  it('takes panels as a whole, and all of a kind in the band or everywhere', () => {
    state().select(['a', 'b']);
    togglePanel('panel');
    expect(withPanels(now(), ['a'])).toEqual(['a', 'b']);
    expect(withPanels(now(), ['c'])).toEqual(['c']);
    togglePanel('panel');
    expect(item('a').panel).toBeUndefined();
    state().select(['a']);
    selectAlike(false);
    expect(state().selection).toEqual(['a', 'b', 'c']);
    selectAlike(true);
    expect(state().selection).toEqual(['title', 'a', 'b', 'c']);
  });
});

describe('what is done to the selection', () => {
  it('duplicates in one step, and selects the copies', () => {
    state().select(['a', 'b']);
    duplicateSelected('duplicate');
    expect(ids()).toHaveLength(5);
    expect(state().selection.every((id) => !['a', 'b', 'c'].includes(id))).toBe(true);
    state().undo();
    expect(now()).toBe(report);
  });

  it('leaves locked items alone', () => {
    state().select(['a']);
    toggleLock('lock');
    state().select(['a', 'b']);
    removeSelected('delete');
    expect(ids()).toEqual(['a', 'c']);
  });

  it('lines up and sizes after the item that was selected first', () => {
    state().select(['c', 'a']);
    lineUpSelected('line up', 'left');
    expect([item('a').x, item('c').x]).toEqual([60, 60]);
    state().edit('wide', { do: 'place', places: { c: { width: 44 } } });
    sameSizeSelected('same', 'width');
    expect(item('a').width).toBe(44);
  });

  it('copies, cuts and pastes, also into another report, and pastes the look alone', () => {
    state().select(['b']);
    expect(copySelected()).toContain('gavetaItems');
    state().select(['c']);
    pasteLookOnSelected(i18next.t);
    expect(item('c')).toMatchObject({ look: { bold: true }, x: 60 });
    state().open('other', { ...report, name: 'Other' }, null);
    state().select([], detail);
    pasteText(i18next.t);
    expect(ids()).toHaveLength(4);
    expect(item(state().selection[0]!)).toMatchObject({ formula: 'name', look: { bold: true } });
    cutSelected(i18next.t);
    expect(ids()).toEqual(['a', 'b', 'c']);
  });

  it('makes a text of any other text that is pasted', () => {
    state().select([], detail);
    pasteText(i18next.t, '  Open all year  ');
    expect(item(state().selection[0]!)).toMatchObject({ kind: 'text', content: ['Open all year'] });
  });
});

describe('trying and undoing', () => {
  it('shows what is tried without doing it, until it is done or given up', () => {
    state().attempt({ do: 'set', items: ['a'], settings: { formula: 'id' } });
    expect(findItem(state().trial!, 'a')!.item).toMatchObject({ formula: 'id' });
    expect(now()).toBe(report);
    state().attempt(null);
    expect(state().trial).toBeNull();
    expect(state().history!.done).toEqual([]);
  });

  it('counts as saved again when it is undone to what was saved, and goes on past a save', () => {
    state().edit('move', { do: 'move', items: ['a'], dx: 5, dy: 0 });
    state().markSaved(now());
    state().edit('move', { do: 'move', items: ['a'], dx: 5, dy: 0 });
    state().undo();
    expect(now()).toBe(state().savedReport);
    state().undo();
    expect(now()).toBe(report);
    state().redo();
    expect(now()).toBe(state().savedReport);
  });
});

describe('commands', () => {
  const nothing = (): void => undefined;
  const screen = {
    save: nothing,
    run: nothing,
    toggleLive: nothing,
    saveFile: nothing,
    saveCopy: nothing,
    openRevisions: nothing,
    exportAs: nothing,
    toggleLanguage: nothing,
    toggleNight: nothing,
  };
  const all = commands(screen);
  const able = (id: string): boolean => all.find((c) => c.id === id)!.when?.() ?? true;

  it('have a name each, and no key that another one has', () => {
    const words = en.command as Record<string, string>;
    expect(all.filter((c) => !words[c.id]).map((c) => c.id)).toEqual([]);
    const keys = all.flatMap((c) => [c.keys, ...(c.also ?? [])]).filter((k) => k !== undefined);
    expect(new Set(keys).size).toBe(keys.length);
  });

  it('are not there where the page around leaves them out', () => {
    const left = commands({ ...screen, exportAs: null, openRevisions: null, toggleLanguage: null });
    const names = (list: typeof all) => list.map(({ id }) => id);
    expect(names(all).filter((id) => !names(left).includes(id))).toEqual(['exportAs', 'revisions', 'language']);
  });

  it('are offered when they can be done', () => {
    expect([able('undo'), able('remove'), able('lineUp_left'), able('evenColumns')]).toEqual([
      false,
      false,
      false,
      false,
    ]);
    state().select(['a', 'b']);
    expect([able('remove'), able('lineUp_left'), able('even_across')]).toEqual([true, true, false]);
    removeSelected('delete');
    expect(able('undo')).toBe(true);
  });

  it('move and even the columns of the selected item, as far as there are any', () => {
    const column = (id: string, x: number, name: string) => field(id, x, { column: { set: 'columns', name } });
    const items = [column('a', 0, 'one'), column('b', 30, 'two')];
    const set = reportSchema.parse({ ...report, body: [{ ...report.body[0]!, detail: { height: 8, items } }] });
    state().open('columns', set, set);
    const run = (id: string): void => all.find((c) => c.id === id)!.run(i18next.t);
    state().select(['a']);
    expect([able('columnLeft'), able('columnRight'), able('removeColumn')]).toEqual([false, true, true]);
    run('columnRight');
    expect([item('a').x, item('b').x]).toEqual([30, 0]);
    expect(able('columnRight')).toBe(false);
    run('columnLeft');
    expect(now().body[0]!.detail!.items.map((i) => i.x)).toEqual([0, 30]);
    run('selectColumn');
    expect(state().selection).toEqual(['a']);
    run('removeColumn');
    expect(ids()).toEqual(['b']);
  });

  it('fold all drawers inside, and open them again', () => {
    const fold = (): void => all.find((c) => c.id === 'foldAll')!.run(i18next.t);
    fold();
    expect([...state().collapsed]).toEqual(['stays']);
    fold();
    expect([...state().collapsed]).toEqual([]);
  });

  it('zoom from what is shown, within bounds, and fit again', () => {
    useShown.setState({ zoom: 0.61 });
    zoomBy(1.25);
    expect(state().zoom).toBeCloseTo(0.7625);
    useShown.setState({ zoom: 4 });
    zoomBy(1.25);
    expect(state().zoom).toBe(4);
    zoomToFit();
    expect(state().zoom).toBe('fit');
  });
});

describe('commands of the selected band and drawer', () => {
  const titles = (search = false): string[] => placeCommands(i18next.t, search).map((c) => c.title);
  const run = (title: string): void =>
    placeCommands(i18next.t, true)
      .find((c) => c.title === title)!
      .run();

  it('are named after them, and there are none of the report', () => {
    state().focusOn({ kind: 'report' });
    expect(titles()).toEqual([]);
    state().focusOn({ kind: 'band', band: detail });
    expect(titles()).toEqual([
      'Fit the height of Hut detail',
      'Fold or open Hut detail',
      'Remove Hut detail',
      'Fold or open Hut',
      'Duplicate Hut',
      'Remove Hut',
    ]);
    expect(titles(true)).toContain('Move Hut detail to Hut footer');
    state().focusOn({ kind: 'drawer', drawer: 'stays' });
    expect(titles()).toEqual(['Fold or open Stay', 'Duplicate Stay', 'Remove Stay']);
  });

  it('do what they say, each a step to undo, and select where it went', () => {
    state().focusOn({ kind: 'band', band: detail });
    run('Copy Hut detail to Hut footer');
    expect(now().body[0]!.footer!.items.map((i) => i.x)).toEqual([0, 30, 60]);
    expect(state().focus).toEqual({ kind: 'band', band: { drawer: 'huts', band: 'footer' } });
    run('Remove Hut footer');
    state().undo();
    state().undo();
    expect(now()).toBe(report);
    state().focusOn({ kind: 'band', band: detail });
    run('Move Hut detail to Hut header');
    expect([now().body[0]!.detail, now().body[0]!.header?.items.length]).toEqual([undefined, 3]);
    state().focusOn({ kind: 'drawer', drawer: 'stays' });
    run('Duplicate Stay');
    expect(now().body[0]!.drawers!.map((d) => d.name)).toEqual(['stay', 'stay2']);
    run('Move Stay down');
    expect(now().body[0]!.drawers!.map((d) => d.name)).toEqual(['stay2', 'stay']);
    run('Remove Stay');
    expect(now().body[0]!.drawers!.map((d) => d.name)).toEqual(['stay2']);
    expect(state().focus).toEqual({ kind: 'report' });
  });
});

describe('names', () => {
  it('follow into formulas that are edited later, and come back with undo', () => {
    const named = reportSchema.parse({
      ...report,
      parameters: [{ name: 'least', label: 'Least', type: 'number' }],
      body: [{ ...report.body[0]!, filter: 'least > 2' }],
    });
    state().open('named', named, named);
    const part = { kind: 'parameter', name: 'least' } as const;
    const renamed = renamePart(now(), part, 'fewest', { models: [], report: () => null });
    state().edit('rename', { do: 'whole', report: renamed });
    expect(now().parameters[0]!.name).toBe('fewest');
    state().undo();
    expect(now()).toBe(named);
    expect(state().history!.undone[0]!.name).toBe('rename');
  });
});
