import type { LinkTarget } from '@gaveta/core/internal';
import type { KeyboardEvent, MouseEvent, RefObject } from 'react';
import { type Looking, lookingAtFold } from './reading-place.ts';

/** A target that the viewer follows itself; addresses open by themselves, and cells are no links. */
export type FollowedLink = Exclude<LinkTarget, { address: string } | { cell: number }>;

export interface PagePresses {
  /** A text was pressed; true where that did something. */
  onText: (item: string) => boolean;
  /** A cell of an item that groups rows was pressed, which is no link. */
  onCell: (element: Element) => void;
  onFold: (key: string, looking: Looking) => void;
  onLink: (to: FollowedLink) => void;
}

/** What presses on pages do: folds open and close, links are followed. */
export const usePagePresses = (
  scroller: RefObject<HTMLElement | null>,
  { onFold, onLink, onCell, onText }: PagePresses,
) => {
  const fold = (event: MouseEvent | KeyboardEvent): boolean => {
    const sign = event.target instanceof Element ? event.target.closest('[data-fold]') : null;
    if (!sign || !scroller.current) return false;
    event.preventDefault();
    onFold(sign.getAttribute('data-fold')!, lookingAtFold(scroller.current, sign, 'key' in event));
    return true;
  };
  return {
    onClick: (event: MouseEvent): void => {
      if (fold(event)) return;
      const link = event.target instanceof Element ? event.target.closest('a[data-link]') : null;
      const to = link?.getAttribute('data-link');
      if (!to) {
        const cell = event.target instanceof Element ? event.target.closest('[data-cell]') : null;
        if (link || getSelection()?.isCollapsed === false) return;
        const item = event.target instanceof Element ? event.target.closest('text')?.getAttribute('data-item') : null;
        if (cell) onCell(cell);
        else if (item && onText(item)) event.preventDefault();
        return;
      }
      event.preventDefault();
      onLink(JSON.parse(to) as FollowedLink);
    },
    onKeyDown: (event: KeyboardEvent): void => {
      if (event.key === 'Enter' || event.key === ' ') fold(event);
    },
  };
};
