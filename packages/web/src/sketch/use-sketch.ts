import type { Sketch } from '@gaveta/core/internal';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import { ApiFailure, api, type StoredReport } from '../api/client.ts';
import { queries } from '../api/queries.ts';
import { sketches, sketchQueries } from '../api/sketches.ts';
import type { SavedAs } from '../ui/save-form.tsx';

/** How long after an edit the work is put by, in milliseconds. */
const PAUSE = 700;
const MOST_UNDONE = 200;

interface History {
  done: readonly Sketch[];
  now: Sketch;
  undone: readonly Sketch[];
  /** As it is stored; null for one that is new. */
  saved: Sketch | null;
  /** The revision that the work was begun on; 0 for one that is new. */
  base: number;
}

export interface SketchWork {
  sketch: Sketch;
  /** Takes an edit; undefined or the same sketch changes nothing. */
  change: (next: Sketch) => void;
  undo: () => void;
  redo: () => void;
  canUndo: boolean;
  canRedo: boolean;
  isChanged: boolean;
  base: number;
  /** When the work as it is now was put by; null while it is not. */
  keptAt: Date | null;
  /** The work could not be put by. */
  isNotKept: boolean;
  /** Saves it; `over`: in the place of that revision, which somebody else saved. */
  save: (settings?: { name?: string; note?: string; over?: number }) => void;
  isSaving: boolean;
  saveError: Error | null;
  /** What somebody else saved meanwhile; null when nobody did. */
  conflict: StoredReport | null;
}

interface Opened {
  /** Id of a stored sketch, or the key of one that is new. */
  id: string;
  /** What the work goes on with. */
  sketch: Sketch;
  saved: Sketch | null;
  base: number;
  /** Whether the work is put by on the server while it is not saved. */
  isKept: boolean;
  onSaved: (stored: StoredReport) => void;
}

/** What was done to a new sketch, for the screen that it has once it is stored, by its id. */
const handedOver = new Map<string, History>();

const isSame = (a: Sketch, b: Sketch | null): boolean => JSON.stringify(a) === JSON.stringify(b);

/** A sketch being worked on: each edit can be undone, and is put by on the server a moment later. */
export const useSketch = ({ id, sketch: first, saved, base, isKept, onSaved }: Opened): SketchWork => {
  const client = useQueryClient();
  const [history, setHistory] = useState<History>(
    () => handedOver.get(id) ?? { done: [], now: first, undone: [], saved, base },
  );
  useEffect(() => void handedOver.delete(id), [id]);
  const [keptAt, setKeptAt] = useState<Date | null>(null);
  const [isNotKept, setNotKept] = useState(false);
  const latest = useRef(history);
  latest.current = history;

  const change = useCallback((next: Sketch) => {
    setHistory((h) =>
      isSame(next, h.now) ? h : { ...h, done: [...h.done.slice(1 - MOST_UNDONE), h.now], now: next, undone: [] },
    );
  }, []);
  const undo = useCallback(() => {
    setHistory((h) => {
      const before = h.done.at(-1);
      return before ? { ...h, done: h.done.slice(0, -1), now: before, undone: [h.now, ...h.undone] } : h;
    });
  }, []);
  const redo = useCallback(() => {
    setHistory((h) => {
      const [next, ...undone] = h.undone;
      return next ? { ...h, done: [...h.done, h.now], now: next, undone } : h;
    });
  }, []);

  const save = useMutation({
    mutationFn: async ({ name, folder, note = '', over }: Partial<SavedAs> & { over?: number } = {}) => {
      const { now, base: revision } = latest.current;
      const sketch: Sketch = { ...now, name: name ?? now.name };
      const stored =
        revision === 0
          ? await sketches.create(sketch, { note, ...(folder === undefined ? {} : { folder }) })
          : await sketches.save(id, sketch, over ?? revision, note);
      return { sketch, stored };
    },
    onSuccess: ({ sketch, stored }) => {
      const { now: last } = latest.current;
      const after = { ...latest.current, now: { ...last, name: sketch.name }, saved: sketch, base: stored.revision };
      setHistory(after);
      if (stored.id !== id) handedOver.set(stored.id, after);
      void api.removeDraft(id);
      void client.invalidateQueries(queries.reports());
      void client.invalidateQueries(queries.drafts());
      void client.invalidateQueries(sketchQueries.stored(stored.id));
      onSaved(stored);
    },
  });

  const isChanged = !isSame(history.now, history.saved);
  const { now } = history;
  const isSaving = save.isPending;
  useEffect(() => {
    setKeptAt(null);
    if (!isKept || !isChanged || isSaving) return;
    const timer = setTimeout(() => {
      sketches.putDraft(id, now, latest.current.base).then(
        ({ savedAt }) => {
          setKeptAt(new Date(savedAt));
          setNotKept(false);
        },
        () => setNotKept(true),
      );
    }, PAUSE);
    return () => clearTimeout(timer);
  }, [id, now, isKept, isChanged, isSaving]);

  const { error } = save;
  const conflict =
    error instanceof ApiFailure && error.code === 'conflict' ? (error.document.current as StoredReport) : null;
  return {
    sketch: now,
    change,
    undo,
    redo,
    canUndo: history.done.length > 0,
    canRedo: history.undone.length > 0,
    isChanged,
    base: history.base,
    keptAt,
    isNotKept,
    save: (settings) => save.mutate(settings ?? {}),
    isSaving,
    saveError: conflict ? null : error,
    conflict,
  };
};
