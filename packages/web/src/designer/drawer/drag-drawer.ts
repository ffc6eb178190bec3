import {
  type BoardDrawer,
  type Drawer,
  findDrawer,
  isWithin,
  moveInRows,
  nestingOf,
  type Report,
} from '@gaveta/core/internal';
import type { TFunction } from 'i18next';
import type { PointerEvent as ReactPointerEvent } from 'react';
import { create } from 'zustand';
import { followPointer } from '../design/drag.ts';
import { currentModel } from '../design/model-of.ts';
import { useDesigner } from '../design/state.ts';
import { drawerLabel } from '../design/words.ts';

/** What letting go of the dragged drawer would do, beside the pointer. */
interface DragHint {
  hint: { x: number; y: number; words: string; isPossible: boolean } | null;
}

export const useDrawerDrag = create<DragHint>(() => ({ hint: null }));

/** From one bar to the next, in CSS pixels. */
const BAR = 10;

interface Bar {
  t: TFunction;
  report: Report;
  drawers: readonly BoardDrawer[];
  /** CSS pixels for a millimetre. */
  scale: number;
  drawer: Drawer;
}

/** Moves a drawer among its neighbours or into another one; a click selects it. */
export const pressBar = (event: ReactPointerEvent, { t, report, drawers, scale, drawer }: Bar): void => {
  const own = drawers.find((d) => d.drawer.id === drawer.id)!;
  const start = (event.nativeEvent.target as Element).getBoundingClientRect();
  const grabbed = (event.clientY - start.top) / scale + own.top;
  /** The innermost other drawer at a height, in millimetres. */
  const outerAt = (y: number): BoardDrawer | null =>
    drawers
      .filter((d) => !isWithin(drawer, d.drawer.id) && y >= d.top && y <= d.bottom)
      .sort((a, b) => b.depth - a.depth)[0] ?? null;
  const landing = (dx: number, dy: number): ReturnType<typeof landingOf> => {
    const y = grabbed + dy / scale;
    return landingOf(t, report, drawers, own, outerAt(y), y, Math.trunc(dx / BAR));
  };
  followPointer(event, {
    move: (dx, dy, at) => {
      const { words, edit } = landing(dx, dy);
      useDrawerDrag.setState({ hint: { x: at.clientX, y: at.clientY, words, isPossible: edit !== null } });
    },
    cancel: () => useDrawerDrag.setState({ hint: null }),
    end: (dx, dy, _at, moved) => {
      useDrawerDrag.setState({ hint: null });
      const { focusOn, edit } = useDesigner.getState();
      focusOn({ kind: 'drawer', drawer: drawer.id });
      const found = moved ? landing(dx, dy).edit : null;
      if (found) edit(t('edits.moveDrawer', { name: drawerLabel(drawer) }), moveInRows(report, found));
    },
  });
};

const landingOf = (
  t: TFunction,
  report: Report,
  drawers: readonly BoardDrawer[],
  own: BoardDrawer,
  outer: BoardDrawer | null,
  y: number,
  /** By how many bars it is dragged to the right. */
  aside: number,
) => {
  const { drawer } = own;
  const name = drawerLabel(drawer);
  /** How many of these, without the dragged one, lie above the pointer; of those side by side with it: before it. */
  const above = (siblings: readonly Drawer[]): number =>
    siblings.filter((d) => {
      const board = d.id === drawer.id ? undefined : drawers.find((b) => b.drawer.id === d.id);
      if (!board) return false;
      const isBeside = board.top === own.top && own.across !== null && board.depth === own.depth;
      if (isBeside) return board.side < own.side ? board.side < own.side + aside : board.side <= own.side + aside;
      return (board.top + board.bottom) / 2 < y;
    }).length;
  const parent = findDrawer(report, drawer.id)?.parent ?? null;
  if (!parent) return landingOfSet(t, report, drawer, outer, above(report.body));
  const model = currentModel(report);
  // Near the ends of a neighbour it goes before or after it, further in it goes inside.
  const third = outer ? (outer.bottom - outer.top) / 3 : 0;
  const isInside = outer !== null && y > outer.top + third && y < outer.bottom - third;
  const isBeside = outer !== null && isSibling(parent, outer.drawer.id);
  const goesIn = isInside && isBeside && nestingOf(report, model, drawer.id, outer.drawer.id).ok;
  const target = isBeside && !goesIn ? parent : (outer?.drawer ?? parent);
  const nesting = nestingOf(report, model, drawer.id, target.id);
  if (!nesting.ok)
    return { edit: null, words: t(`drawer.cannot_${nesting.reason}`, { name, outer: drawerLabel(target) }) };
  const was = 'relation' in drawer.rows ? drawer.rows.relation : '';
  const relation = (nesting.relations.find((r) => r.name === was) ?? nesting.relations[0]!).name;
  const at = above(target.drawers ?? []);
  return {
    edit: { do: 'moveDrawer' as const, drawer: drawer.id, parent: target.id, at, relation },
    words: t('drawer.putInto', { name, outer: drawerLabel(target) }),
  };
};

/** Rows that hang on no others go before or after other sets, and inside none. */
const landingOfSet = (t: TFunction, report: Report, drawer: Drawer, outer: BoardDrawer | null, at: number) => {
  const name = drawerLabel(drawer);
  if (report.body.length === 1 || (outer && outer.depth > 0))
    return { edit: null, words: t('drawer.cannot_outermost', { name }) };
  const edit = { do: 'moveDrawer' as const, drawer: drawer.id, parent: null, at, relation: null };
  const others = report.body.filter((d) => d.id !== drawer.id);
  const before = others[at];
  const words = before
    ? t('drawer.putBefore', { name, other: drawerLabel(before) })
    : t('drawer.putAfter', { name, other: drawerLabel(others.at(-1)!) });
  return { edit, words };
};

const isSibling = (parent: Drawer, id: string): boolean => parent.drawers?.some((d) => d.id === id) ?? false;
