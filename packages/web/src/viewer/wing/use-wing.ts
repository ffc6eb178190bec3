import { useCallback, useState } from 'react';
import { browserMemory } from '../../ui/memory.ts';
import { useIsNarrow } from '../narrow.ts';
import { rememberedWing, rememberWing, type WingState, type WingTab } from './remembered-wing.ts';

export interface Wing extends Omit<WingState, 'isOpen'> {
  isOpen: boolean;
  /** It lies over the pages. */
  isOver: boolean;
  toggle: () => void;
  show: (tab: WingTab) => void;
  close: () => void;
  setWidth: (width: number) => void;
}

/** The wing beside the pages, as it was left; `suits`: whether it is open where nobody ever said. */
export const useWing = (suits: boolean): Wing => {
  const [state, setState] = useState(() => rememberedWing(browserMemory()));
  /** Over the pages it is opened to choose something, and closed again. */
  const [isOverOpen, setOverOpen] = useState(false);
  const isOver = useIsNarrow();
  const change = useCallback((next: (old: WingState) => WingState): void => {
    setState((old) => {
      const now = next(old);
      rememberWing(browserMemory(), now);
      return now;
    });
  }, []);
  const isOpen = isOver ? isOverOpen : (state.isOpen ?? suits);
  const set = useCallback(
    (open: boolean): void => {
      if (isOver) setOverOpen(open);
      else change((old) => ({ ...old, isOpen: open }));
    },
    [isOver, change],
  );
  return {
    tab: state.tab,
    width: state.width,
    isOpen,
    isOver,
    toggle: useCallback(() => set(!isOpen), [set, isOpen]),
    show: useCallback(
      (tab) => {
        change((old) => ({ ...old, tab }));
        set(true);
      },
      [change, set],
    ),
    close: useCallback(() => set(false), [set]),
    setWidth: useCallback((width) => change((old) => ({ ...old, width })), [change]),
  };
};
