import type { PlaceInRun } from '@gaveta/core/internal';

/** Share of the height of what takes a press that is not the sign itself. */
const FOLD_ROOM = 8 / 15;

/** What a reader looks at, and how far below the top of the window it stands, in pixels. */
export interface Looking {
  at: { fold?: string; rows?: string; place?: PlaceInRun };
  below: number;
  /** The fold that the keyboard was on. */
  focus?: string;
}

/** Where that is on new pages. */
export interface Landing extends Looking {
  place: PlaceInRun;
}

/** What stands at the top of the window: the first rows that are not above it. */
export const lookingAt = (scroller: HTMLElement): Looking => {
  const top = scroller.getBoundingClientRect().top;
  for (const region of scroller.querySelectorAll('[data-rows]')) {
    const rows = region.getAttribute('data-rows') ?? '';
    const place = region.getBoundingClientRect();
    if (rows === '' || place.bottom <= top + 1) continue;
    const page = Number(region.closest('[data-page]')?.getAttribute('data-page') ?? 1);
    return { at: { rows, place: { page, y: Number(region.getAttribute('y')) } }, below: place.top - top };
  }
  return { at: {}, below: 0 };
};

/** A fold’s sign, as it stands in the window. */
export const lookingAtFold = (scroller: HTMLElement, sign: Element, byKey: boolean): Looking => {
  const key = sign.getAttribute('data-fold') ?? '';
  // What takes a press is larger than the sign, by as much on every side.
  const room = sign.getBoundingClientRect();
  const below = room.top + (room.height * FOLD_ROOM) / 2 - scroller.getBoundingClientRect().top;
  return { at: { fold: key }, below, ...(byKey ? { focus: key } : {}) };
};
