import type { Field, Problem, WireValue } from '@gaveta/core/internal';
import type { LookFailure } from '../api/client.ts';
import { type AskedSketch, sketches } from '../api/sketches.ts';
import { AcrossCells } from './across-cells.ts';
import { LineTree, type LineWindow, type OpenGroups } from './line-tree.ts';

/** Calls that are on their way at once; what is scrolled past meanwhile is not asked for. */
const AT_ONCE = 2;
/** The server takes no more windows in a call. */
const MOST_WINDOWS = 50;

/** Totals of all rows. */
export interface EndLine {
  fields: readonly Field[];
  line: readonly WireValue[];
}

/** The lines of one question, fetched as they are looked at. */
export class AskedLines {
  readonly tree: LineTree;
  readonly across: AcrossCells;
  end: EndLine | null = null;
  failure: LookFailure | null = null;
  problems: readonly Problem[] = [];
  error: unknown = null;
  /** From the question to the first lines. */
  milliseconds: number | null = null;
  private readonly hasAcross: boolean;
  private calls = 0;
  private range: readonly [number, number] = [0, 0];
  private readonly controller = new AbortController();
  private readonly began = performance.now();

  constructor(
    private readonly of: AskedSketch,
    { groups, rows, across, open }: { groups: number; rows: boolean; across: string | null; open: OpenGroups },
    /** Told whenever anything has changed. */
    private readonly tell: () => void,
  ) {
    this.tree = new LineTree(groups, rows);
    this.across = new AcrossCells(across);
    this.hasAcross = across !== null;
    this.tree.setOpen(open);
  }

  /** Whether there is something to show of it: lines, or why there are none. */
  get hasCome(): boolean {
    return this.tree.hasLines || this.failure !== null || this.error !== null;
  }

  get isFetching(): boolean {
    return this.calls > 0 && !this.controller.signal.aborted;
  }

  start(): void {
    const first = this.tree.first();
    // As little as shows something: what goes across takes statements of its own.
    this.fetch(this.hasAcross ? first.slice(0, 1) : first, 'no', this.hasAcross);
  }

  setOpen(open: OpenGroups): void {
    this.tree.setOpen(open);
    this.next();
  }

  /** Sees to it that the lines between two places come. */
  want(from: number, to: number): void {
    this.range = [from, to];
    this.next();
  }

  /** Ends what is on its way, for somebody who does not want to wait. */
  cancel(): void {
    this.stop();
    this.error = 'cancelled';
    this.tell();
  }

  /** Nobody looks at it any more. */
  stop(): void {
    this.controller.abort();
  }

  private next(): void {
    if (this.calls >= AT_ONCE || this.failure || this.error || !this.tree.hasLines) return;
    if (this.controller.signal.aborted) return;
    const windows = this.tree.wanted(...this.range);
    this.tree.giveUp(windows.slice(MOST_WINDOWS));
    if (windows.length > 0) this.fetch(windows.slice(0, MOST_WINDOWS), 'no');
  }

  private fetch(windows: LineWindow[], end: 'no' | 'totals' | 'counted', across = false): void {
    const { signal } = this.controller;
    this.calls++;
    sketches.lines({ of: this.of, windows, end, across }, signal).then(
      (answer) => {
        this.calls--;
        if (signal.aborted) return;
        this.problems = answer.problems;
        this.failure ??= answer.failure;
        for (const [i, found] of (answer.windows ?? []).entries()) {
          this.tree.put(windows[i]!, found);
          if (found.across) this.across.put(found.across);
        }
        if (answer.across) this.across.put(answer.across);
        if (answer.failure) this.tree.giveUp(windows);
        else if (this.milliseconds === null) {
          this.milliseconds = performance.now() - this.began;
          // The totals of everything may take longer than the first lines, and how many there are longer still.
          this.fetch([], this.tree.isCounted ? 'totals' : 'counted');
        }
        if (answer.end) {
          this.end = { fields: answer.end.fields, line: answer.end.line };
          if (answer.end.inside !== null) this.tree.setCount(answer.end.inside);
        }
        this.next();
        this.tell();
      },
      (error) => {
        this.calls--;
        this.tree.giveUp(windows);
        if (signal.aborted) return;
        this.error = error;
        this.tell();
      },
    );
  }
}
