import { type RefObject, useEffect, useRef } from 'react';
import { perRow } from './modes.ts';
import { type ReadingCommand, readingCommand } from './reading-keys.ts';
import type { Reading } from './use-reading.ts';

/** What takes keys for itself, as a box does. */
const TAKES_KEYS = 'input, textarea, select, button, a, [role="button"], [contenteditable="true"], [data-fold]';

/** Pixels that pages of one size may stick out by. */
const SLACK = 2;

interface ReadingKeys {
  scroller: RefObject<HTMLElement | null>;
  reading: Reading;
  count: number;
  onWing: () => void;
}

/** Keys of reading, while the pages have the focus. */
export const useReadingKeys = (given: ReadingKeys): void => {
  const latest = useRef(given);
  latest.current = given;
  const { isPresented } = given.reading;
  const { scroller } = given;
  useEffect(() => {
    const run = (command: ReadingCommand): void => {
      const { reading, count, onWing } = latest.current;
      if (command === 'present') reading.present(true);
      else if (command === 'leave') reading.present(false);
      else if (command === 'wing') onWing();
      else if ('mode' in command) reading.setMode(command.mode);
      else if ('zoom' in command) reading.setZoom(command.zoom);
      else if ('zoomBy' in command) reading.zoomBy(command.zoomBy);
      else if ('turn' in command) reading.turn(command.turn * perRow(reading.shownAs), count);
      else reading.goTo({ page: command.end === 'first' ? 1 : count, y: 0 });
    };
    const onKey = (event: KeyboardEvent): void => {
      const { reading } = latest.current;
      const { current } = scroller;
      const { target } = event;
      if (!current || event.defaultPrevented) return;
      const isInside = target instanceof Node && current.contains(target);
      if (!isInside && !reading.isPresented) return;
      if (target instanceof Element && target !== current && target.closest(TAKES_KEYS)) {
        if (event.key !== 'Escape' || !reading.isPresented) return;
      }
      // A page that is wider than the window is scrolled.
      if (event.key.startsWith('Arrow') && current.scrollWidth > current.clientWidth + SLACK) return;
      const command = readingCommand(event, {
        isPresented: reading.isPresented,
        mode: reading.shownAs,
        hasRoom: (direction) =>
          direction === 1
            ? current.scrollTop + current.clientHeight < current.scrollHeight - SLACK
            : current.scrollTop > SLACK,
      });
      if (command === null) return;
      event.preventDefault();
      run(command);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [scroller]);
  // Who presents pages turns them at once.
  useEffect(() => {
    if (isPresented) scroller.current?.focus({ preventScroll: true });
  }, [isPresented, scroller]);
};
