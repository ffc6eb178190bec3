import { type RefObject, useCallback, useEffect, useRef, useState } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { placeWithin } from '../place-within.ts';
import { type ShownValue, valueAt } from './value-at.ts';
import { type Direction, nextPlace } from './value-cursor.ts';

interface CursorActions {
  isOn: boolean;
  ask: (value: ShownValue) => void;
  menu: (value: ShownValue, x: number, y: number) => void;
}

const VALUES = '[data-page] svg text[data-item]';
const DIRECTIONS: ReadonlySet<string> = new Set(['ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown']);

/**
 * A mark that keys move from value to value: Q puts it onto the first one in sight, arrows move it, Enter asks where the value
 * comes from, and the menu key opens its menu.
 */
export const useValueCursor = (scroller: RefObject<HTMLElement | null>, actions: CursorActions) => {
  const { t } = useTranslation();
  const [at, setAt] = useState<SVGElement | null>(null);
  const latest = useRef({ at, actions });
  latest.current = { at, actions };
  const move = useCallback((to: SVGElement | null): void => {
    to?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
    setAt(to);
  }, []);
  useEffect(() => {
    const valuesOf = (): SVGElement[] => [...(scroller.current?.querySelectorAll<SVGElement>(VALUES) ?? [])];
    const begin = (): SVGElement | null => {
      const window = scroller.current!.getBoundingClientRect();
      return valuesOf().find((one) => one.getBoundingClientRect().top >= window.top) ?? null;
    };
    const onKey = (event: KeyboardEvent): void => {
      const { at: now, actions: can } = latest.current;
      const { current } = scroller;
      if (!can.isOn || !current || event.ctrlKey || event.metaKey || event.altKey) return;
      if (document.activeElement !== current) return;
      const held = now?.isConnected ? now : null;
      const { key } = event;
      if (key.toLowerCase() === 'q' && !held) move(begin());
      else if (!held) return;
      else if (DIRECTIONS.has(key)) {
        const all = valuesOf();
        const next = nextPlace(
          all.map((one) => one.getBoundingClientRect()),
          held.getBoundingClientRect(),
          key as Direction,
        );
        if (next >= 0) move(all[next]!);
      } else if (key === 'Enter' || key.toLowerCase() === 'q') {
        const value = valueAt(held);
        if (value) can.ask(value);
      } else if (key === 'ContextMenu' || (key === 'F10' && event.shiftKey)) {
        const value = valueAt(held);
        const { left, bottom } = held.getBoundingClientRect();
        if (value) can.menu(value, left, bottom);
      } else if (key === 'Escape') move(null);
      else return;
      event.preventDefault();
      event.stopPropagation();
    };
    window.addEventListener('keydown', onKey, { capture: true });
    return () => window.removeEventListener('keydown', onKey, { capture: true });
  }, [scroller, move]);

  const place = placeWithin(at, scroller.current);
  return place ? (
    <>
      <div
        aria-hidden
        data-testid="value-cursor"
        className="pointer-events-none absolute z-10 rounded-sm outline-2 outline-offset-1 outline-pine"
        style={place}
      />
      <p role="status" className="sr-only">
        {t('viewer.origin.at', { text: at!.textContent ?? '' })}
      </p>
    </>
  ) : null;
};
