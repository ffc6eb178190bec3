import { type PointerEvent, useState } from 'react';

interface Tip {
  words: string;
  x: number;
  y: number;
}

/** From the pointer to the words, and from them to the edge of the window, in CSS pixels. */
const AWAY = 14;
const EDGE = 8;
/** Widest that they get. */
const WIDEST = 280;

/** Shows what a mark says, or what is said of its item, where a pointer rests on it or a finger presses. */
export const useTips = (said: ReadonlyMap<string, string>) => {
  const [tip, setTip] = useState<Tip | null>(null);
  const at = ({ target, clientX, clientY }: PointerEvent): void => {
    const mark = target instanceof Element ? target : null;
    const item = mark?.closest('[data-item]')?.getAttribute('data-item');
    const words = mark?.closest('[data-tip]')?.getAttribute('data-tip') ?? (item ? said.get(item) : null);
    if (words) setTip({ words, x: clientX, y: clientY });
    else if (tip) setTip(null);
  };
  const isRight = tip !== null && tip.x > window.innerWidth - WIDEST - AWAY - EDGE;
  const isLow = tip !== null && tip.y > window.innerHeight - 64;
  return {
    handlers: { onPointerMove: at, onPointerDown: at, onPointerLeave: () => setTip(null) },
    shown: tip && (
      <div
        role="tooltip"
        className="pointer-events-none fixed z-40 rounded bg-ink px-2 py-1 text-[12px] leading-snug text-paper shadow"
        style={{
          maxWidth: WIDEST,
          ...(isRight ? { right: window.innerWidth - tip.x + AWAY } : { left: tip.x + AWAY }),
          ...(isLow ? { bottom: window.innerHeight - tip.y + AWAY } : { top: tip.y + AWAY }),
        }}
      >
        {tip.words}
      </div>
    ),
  };
};
