import type { PointerEvent } from 'react';
import type { Handle } from './hand.ts';

interface Props {
  handle: Handle;
  onPress: (event: PointerEvent, handle: Handle) => void;
}

/** A small square on the edge of what is selected, by which it is resized. */
export const HandleView = ({ handle, onPress }: Props) => (
  <div
    aria-hidden
    data-handle={handle}
    data-own-press
    className="pointer-events-auto absolute size-[7px] border border-pine bg-white"
    style={{
      left: handle.includes('w') ? -4 : handle.includes('e') ? undefined : 'calc(50% - 3px)',
      right: handle.includes('e') ? -4 : undefined,
      top: handle.includes('n') ? -4 : handle.includes('s') ? undefined : 'calc(50% - 3px)',
      bottom: handle.includes('s') ? -4 : undefined,
      cursor: `${handle}-resize`,
    }}
    onPointerDown={(event) => onPress(event, handle)}
  />
);
