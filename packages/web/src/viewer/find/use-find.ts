import { useQuery } from '@tanstack/react-query';
import { type RefObject, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { RunState } from '../../api/client.ts';
import { queries } from '../../api/queries.ts';
import { firstMatchFrom, type Match, matchAt } from './matches.ts';

/** Milliseconds without a key after which what was typed is looked for. */
const PAUSE = 150;

export interface Find {
  isOpen: boolean;
  text: string;
  /** What is looked for now: null while nothing is. */
  sought: string | null;
  /** How many there are; null while they are being looked for. */
  count: number | null;
  /** Number of the match that is shown, from 0. */
  at: number;
  /** Where it stands; null when there is none. */
  match: Match | null;
  /** Counts how often a match was gone to. */
  goings: number;
  /** The match is still to come into view; whoever brings it there says so. */
  isAway: RefObject<boolean>;
  /** How often it was opened: each time what is looked for can be typed over. */
  opened: number;
  open: () => void;
  close: () => void;
  type: (text: string) => void;
  /** Goes so many matches on, and round at the end. */
  step: (by: number) => void;
  /** Goes to the match of a number, from 0. */
  goTo: (number: number) => void;
}

/** Looks for words on all pages of a run, those that were never loaded as well. `page`: the one that is read. */
export const useFind = (run: RunState | null, page: number): Find => {
  const [isOpen, setOpen] = useState(false);
  const [text, setText] = useState('');
  const [asked, setAsked] = useState('');
  const [at, setAt] = useState(0);
  const [goings, setGoings] = useState(0);
  const isAway = useRef(false);
  const [opened, setOpened] = useState(0);
  const reading = useRef(page);
  reading.current = page;
  useEffect(() => {
    const pause = setTimeout(() => setAsked(text.trim()), PAUSE);
    return () => clearTimeout(pause);
  }, [text]);
  const isAsked = isOpen && asked !== '' && run !== null && run.pages > 0;
  const found = useQuery({ ...queries.found(run, asked), enabled: isAsked });
  const pages = isAsked ? found.data?.pages : undefined;
  const count = pages ? found.data!.count : null;
  // What is new is looked at from where one reads; what a run brings while it goes on moves nobody.
  const [begun, setBegun] = useState('');
  const go = useCallback((to: (now: number) => number): void => {
    setAt(to);
    setGoings((times) => times + 1);
    isAway.current = true;
  }, []);
  useEffect(() => {
    if (!pages || begun === asked) return;
    setBegun(asked);
    go(() => firstMatchFrom(pages, reading.current));
  }, [pages, asked, begun, go]);
  // Other pages, as those of other values, may have fewer.
  const shown = Math.max(0, Math.min(at, (count ?? 0) - 1));
  const match = useMemo(() => (pages && begun === asked ? matchAt(pages, shown) : null), [pages, asked, begun, shown]);
  return {
    isOpen,
    text,
    sought: isAsked ? asked : null,
    count,
    at: shown,
    match,
    goings,
    isAway,
    opened,
    open: () => {
      setOpen(true);
      setOpened((times) => times + 1);
    },
    close: () => setOpen(false),
    type: setText,
    goTo: useCallback((number) => go(() => number), [go]),
    step: (by) => {
      if (count) go((now) => (((Math.min(now, count - 1) + by) % count) + count) % count);
    },
  };
};

/** Keys of looking for words, wherever the focus is: Ctrl or Cmd with F opens it, F3 and Ctrl or Cmd with G go on. */
export const useFindKeys = ({ isOpen, open, step }: Find, isOn: boolean): void => {
  const latest = useRef({ isOpen, open, step });
  latest.current = { isOpen, open, step };
  useEffect(() => {
    if (!isOn) return;
    const onKey = (event: KeyboardEvent): void => {
      const key = event.key.toLowerCase();
      const isCommand = (event.ctrlKey || event.metaKey) && !event.altKey;
      if (isCommand && key === 'f' && !event.shiftKey) latest.current.open();
      else if (latest.current.isOpen && (key === 'f3' || (isCommand && key === 'g')))
        latest.current.step(event.shiftKey ? -1 : 1);
      else return;
      event.preventDefault();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [isOn]);
};
