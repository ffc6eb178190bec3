import type { Problem } from '@gaveta/core/internal';
import { useCallback, useEffect, useReducer, useRef } from 'react';
import type { LookFailure } from '../api/client.ts';
import type { AskedSketch } from '../api/sketches.ts';
import { AcrossCells } from './across-cells.ts';
import { AskedLines, type EndLine } from './asked-lines.ts';
import { LineTree, type OpenGroups } from './line-tree.ts';

export interface SketchLines {
  tree: LineTree;
  across: AcrossCells;
  end: EndLine | null;
  /** The lines are of what was asked before; those of now are on their way. */
  isBefore: boolean;
  isFetching: boolean;
  failure: LookFailure | null;
  problems: readonly Problem[];
  error: unknown;
  /** From the question to the first lines. */
  milliseconds: number | null;
  /** Sees to it that the lines between two places come. */
  want: (from: number, to: number) => void;
  /** Asks again. */
  again: () => void;
  cancel: () => void;
}

interface Asked {
  of: AskedSketch;
  /** Tells one question from another: lines of the same are the same. */
  question: string;
  groups: number;
  rows: boolean;
  /** Name of what goes across. */
  across: string | null;
  open: OpenGroups;
  /** Whether rows may be fetched. */
  isOn: boolean;
}

/** The lines of a sketch. Those of the question before stay until the first ones of the new one are there. */
export const useLines = ({ of, question, groups, rows, across, open, isOn }: Asked): SketchLines => {
  const [, draw] = useReducer((count: number) => count + 1, 0);
  const [round, again] = useReducer((count: number) => count + 1, 0);
  const now = useRef<AskedLines | null>(null);
  const shown = useRef<AskedLines | null>(null);
  const latest = useRef({ of, open });
  latest.current = { of, open };

  // biome-ignore lint/correctness/useExhaustiveDependencies: asked anew with another question, or when somebody asks again
  useEffect(() => {
    if (!isOn) {
      now.current = null;
      shown.current = null;
      draw();
      return;
    }
    const shape = { groups, rows, across, open: latest.current.open };
    const lines: AskedLines = new AskedLines(latest.current.of, shape, () => {
      if (now.current === lines && lines.hasCome) shown.current = lines;
      draw();
    });
    now.current = lines;
    shown.current ??= lines;
    lines.start();
    draw();
    return () => lines.stop();
  }, [question, groups, rows, across, isOn, round]);

  useEffect(() => {
    for (const lines of new Set([now.current, shown.current])) lines?.setOpen(open);
    draw();
  }, [open]);

  const want = useCallback((from: number, to: number) => {
    if (now.current === shown.current) now.current?.want(from, to);
  }, []);
  const cancel = useCallback(() => now.current?.cancel(), []);

  const lines = shown.current;
  const newest = now.current;
  return {
    tree: lines?.tree ?? new LineTree(groups, rows),
    across: lines?.across ?? new AcrossCells(across),
    end: lines?.end ?? null,
    isBefore: newest !== null && newest !== lines,
    isFetching: newest?.isFetching ?? false,
    failure: lines?.failure ?? null,
    problems: lines?.problems ?? [],
    error: lines?.error ?? null,
    milliseconds: newest?.milliseconds ?? null,
    want,
    again,
    cancel,
  };
};
