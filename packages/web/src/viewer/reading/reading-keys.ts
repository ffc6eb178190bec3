import type { ReadingMode, Zoom } from './modes.ts';

/** What a key does while pages are read. */
export type ReadingCommand =
  | { mode: ReadingMode }
  | { zoom: Zoom }
  | { zoomBy: 1 | -1 }
  | { turn: 1 | -1 }
  | { end: 'first' | 'last' }
  | 'present'
  | 'leave'
  | 'wing';

export const MODE_KEYS: Readonly<Record<ReadingMode, string>> = { continuous: '1', single: '2', two: '3', long: '4' };

export const ZOOM_KEYS: Readonly<Partial<Record<Zoom, string>>> = { auto: 'A', width: 'W', page: 'H', 1: '0' };

type Key = Pick<KeyboardEvent, 'key' | 'shiftKey' | 'altKey' | 'ctrlKey' | 'metaKey'>;

/** Without a command key, where the pages have the focus. */
const PLAIN: Readonly<Record<string, ReadingCommand>> = {
  ...Object.fromEntries(
    Object.entries(MODE_KEYS).map(([mode, key]) => [key, { mode: mode as ReadingMode } satisfies ReadingCommand]),
  ),
  a: { zoom: 'auto' },
  w: { zoom: 'width' },
  h: { zoom: 'page' },
  '0': { zoom: 1 },
  '+': { zoomBy: 1 },
  '=': { zoomBy: 1 },
  '-': { zoomBy: -1 },
  f: 'present',
  o: 'wing',
};

/** Where one page is shown at a time, these turn it. */
const TURNS: Readonly<Record<string, ReadingCommand>> = {
  ArrowRight: { turn: 1 },
  ArrowLeft: { turn: -1 },
  PageDown: { turn: 1 },
  PageUp: { turn: -1 },
  Home: { end: 'first' },
  End: { end: 'last' },
};

const PRESENTING: Readonly<Record<string, ReadingCommand>> = {
  ...TURNS,
  ' ': { turn: 1 },
  Enter: { turn: 1 },
  ArrowDown: { turn: 1 },
  ArrowUp: { turn: -1 },
  Backspace: { turn: -1 },
  Escape: 'leave',
  f: 'leave',
};

export interface KeyPlace {
  isPresented: boolean;
  mode: ReadingMode;
  /** There is more page than fits, above or below: keys that scroll do that first. */
  hasRoom: (direction: 1 | -1) => boolean;
}

/** What a key does; null for one that is the browser’s, or has a meaning where it was pressed. */
export const readingCommand = (event: Key, { isPresented, mode, hasRoom }: KeyPlace): ReadingCommand | null => {
  const { key, shiftKey, altKey, ctrlKey, metaKey } = event;
  if (ctrlKey || metaKey || altKey) return null;
  const plain = key.length === 1 ? key.toLowerCase() : key;
  if (isPresented) {
    if (key === ' ' && shiftKey) return { turn: -1 };
    return PRESENTING[plain] ?? null;
  }
  if (mode === 'single') {
    if (key === ' ') return hasRoom(shiftKey ? -1 : 1) ? null : { turn: shiftKey ? -1 : 1 };
    const found = TURNS[key];
    if (found) {
      const direction = typeof found === 'object' && 'turn' in found ? found.turn : null;
      const isScrolling = key === 'PageDown' || key === 'PageUp';
      return isScrolling && direction !== null && hasRoom(direction) ? null : found;
    }
  } else if (key === 'ArrowRight' || key === 'ArrowLeft') return TURNS[key]!;
  return shiftKey && key !== '+' ? null : (PLAIN[plain] ?? null);
};
