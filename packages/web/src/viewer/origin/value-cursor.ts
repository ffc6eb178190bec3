/** Where a value stands in the window. */
export interface Place {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

export type Direction = 'ArrowLeft' | 'ArrowRight' | 'ArrowUp' | 'ArrowDown';

const middle = ({ left, right, top, bottom }: Place): [number, number] => [(left + right) / 2, (top + bottom) / 2];

/** How much farther something is that does not lie straight ahead. */
const ASIDE = 2.5;

/** The place that comes next in a direction; -1 where there is none. */
export const nextPlace = (places: readonly Place[], from: Place, direction: Direction): number => {
  const [x, y] = middle(from);
  let best = -1;
  let least = Number.POSITIVE_INFINITY;
  for (const [i, place] of places.entries()) {
    const [px, py] = middle(place);
    const isAcross = direction === 'ArrowLeft' || direction === 'ArrowRight';
    const ahead = isAcross ? px - x : py - y;
    const way = direction === 'ArrowRight' || direction === 'ArrowDown' ? ahead : -ahead;
    if (way <= 1) continue;
    // What overlaps across the way lies straight ahead, however wide it is.
    const straight = isAcross
      ? place.top < from.bottom && place.bottom > from.top
      : place.left < from.right && place.right > from.left;
    if (isAcross && !straight) continue;
    const aside = straight ? 0 : Math.abs(isAcross ? py - y : px - x);
    const distance = way + aside * ASIDE;
    if (distance < least) {
      least = distance;
      best = i;
    }
  }
  return best;
};
