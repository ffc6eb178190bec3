import { type Node, type Pattern, PatternError } from './parse.ts';

/** Steps of a pattern’s program. */
type Step =
  | { kind: 'sign'; ranges: readonly (readonly [number, number])[]; not: boolean }
  | { kind: 'start' }
  | { kind: 'end' }
  | { kind: 'edge'; not: boolean }
  /** Goes on at both, the first one first. */
  | { kind: 'fork'; first: number; second: number }
  | { kind: 'jump'; to: number }
  /** Notes where it is. */
  | { kind: 'note'; slot: number }
  | { kind: 'found' };

/** Steps of one program; each sign of a text may take a look at all of them. */
const MOST_STEPS = 5000;

export interface Program {
  /** As it was written. */
  source: string;
  steps: readonly Step[];
  groups: number;
  ignoresCase: boolean;
}

/** Throws PatternError for a pattern of too many steps. */
export const compilePattern = ({ node, groups }: Pattern, source: string, ignoresCase: boolean): Program => {
  const steps: Step[] = [];
  const put = (step: Step): number => {
    if (steps.length >= MOST_STEPS) throw new PatternError(1);
    return steps.push(step) - 1;
  };
  const write = (part: Node): void => {
    switch (part.kind) {
      case 'sign':
      case 'start':
      case 'end':
      case 'edge':
        put(part);
        return;
      case 'sequence':
        for (const one of part.parts) write(one);
        return;
      case 'choice':
        writeChoice(part.parts);
        return;
      case 'repeat':
        writeRepeat(part);
        return;
      case 'group': {
        const { number } = part;
        if (number !== null) put({ kind: 'note', slot: 2 * number });
        write(part.part);
        if (number !== null) put({ kind: 'note', slot: 2 * number + 1 });
        return;
      }
      default:
        part satisfies never;
    }
  };
  const fork = (greedy: boolean, inside: number, past: number): Step =>
    greedy ? { kind: 'fork', first: inside, second: past } : { kind: 'fork', first: past, second: inside };
  const writeChoice = (parts: readonly Node[]): void => {
    const jumps: number[] = [];
    for (const [i, one] of parts.entries()) {
      if (i === parts.length - 1) write(one);
      else {
        const at = put({ kind: 'fork', first: 0, second: 0 });
        write(one);
        jumps.push(put({ kind: 'jump', to: 0 }));
        steps[at] = { kind: 'fork', first: at + 1, second: steps.length };
      }
    }
    for (const at of jumps) steps[at] = { kind: 'jump', to: steps.length };
  };
  const writeRepeat = ({ part, least, most, greedy }: Extract<Node, { kind: 'repeat' }>): void => {
    for (let i = 0; i < least; i++) write(part);
    if (most === null) {
      const at = put({ kind: 'jump', to: 0 });
      write(part);
      put({ kind: 'jump', to: at });
      steps[at] = fork(greedy, at + 1, steps.length);
      return;
    }
    const forks: number[] = [];
    for (let i = least; i < most; i++) {
      forks.push(put({ kind: 'jump', to: 0 }));
      write(part);
    }
    for (const at of forks) steps[at] = fork(greedy, at + 1, steps.length);
  };
  put({ kind: 'note', slot: 0 });
  write(node);
  put({ kind: 'note', slot: 1 });
  put({ kind: 'found' });
  return { source, steps, groups, ignoresCase };
};

const isWord = (sign: number | undefined): boolean =>
  sign !== undefined &&
  ((sign >= 0x30 && sign <= 0x39) || (sign >= 0x41 && sign <= 0x5a) || (sign >= 0x61 && sign <= 0x7a) || sign === 0x5f);

const isIn = (ranges: readonly (readonly [number, number])[], sign: number): boolean => {
  for (const [from, to] of ranges) if (sign >= from && sign <= to) return true;
  return false;
};

/** The same letter in small and in capitals, where each is one sign. */
const otherCase = (sign: number): readonly number[] => {
  const letter = String.fromCodePoint(sign);
  const all = [letter.toLowerCase(), letter.toUpperCase()].flatMap((one) => {
    const first = one.codePointAt(0)!;
    return one.length === (first > 0xffff ? 2 : 1) ? [first] : [];
  });
  return [...new Set([sign, ...all])];
};

const takes = (step: Extract<Step, { kind: 'sign' }>, sign: number, ignoresCase: boolean): boolean => {
  const found = ignoresCase ? otherCase(sign).some((one) => isIn(step.ranges, one)) : isIn(step.ranges, sign);
  return found !== step.not;
};

/** Where a pattern was found: of the whole and of each group where it begins and ends, in signs from 0; -1 where a group took no part. */
export type Found = readonly number[];

/** What searches may still take, in ways that are followed for a sign. */
export interface Budget {
  left: number;
}

/** A search took more than it may. */
export class TooMuchSearching extends Error {
  constructor() {
    super('the search takes too long');
  }
}

/**
 * Finds the first place of a pattern at or after a sign, or null. Throws TooMuchSearching once the budget is spent. All ways are followed at once, sign by sign (Thompson’s way), so
 * that no pattern takes longer than its steps times the text’s signs.
 */
export const findPattern = (program: Program, text: readonly number[], from: number, budget: Budget): Found | null => {
  const { steps, ignoresCase } = program;
  const slots = 2 * (program.groups + 1);
  const seen = new Int32Array(steps.length).fill(-1);
  let found: number[] | null = null;
  type Way = { at: number; notes: number[] };
  let ways: Way[] = [];
  /** Follows all that needs no sign, the preferred first. */
  const follow = (into: Way[], start: number, place: number, first: number[]): void => {
    const waiting: Way[] = [{ at: start, notes: first }];
    for (let way = waiting.pop(); way; way = waiting.pop()) {
      const { at, notes } = way;
      if (seen[at] === place) continue;
      seen[at] = place;
      const step = steps[at]!;
      switch (step.kind) {
        case 'jump':
          waiting.push({ at: step.to, notes });
          break;
        case 'fork':
          waiting.push({ at: step.second, notes }, { at: step.first, notes });
          break;
        case 'note': {
          const next = notes.slice();
          next[step.slot] = place;
          waiting.push({ at: at + 1, notes: next });
          break;
        }
        case 'start':
          if (place === 0) waiting.push({ at: at + 1, notes });
          break;
        case 'end':
          if (place === text.length) waiting.push({ at: at + 1, notes });
          break;
        case 'edge':
          if ((isWord(text[place - 1]) !== isWord(text[place])) !== step.not) waiting.push({ at: at + 1, notes });
          break;
        case 'sign':
        case 'found':
          into.push(way);
          break;
        default:
          step satisfies never;
      }
    }
  };
  const nowhere = new Array<number>(slots).fill(-1);
  for (let place = from; ; place++) {
    if (!found) follow(ways, 0, place, nowhere);
    // Nothing goes on from here; further on something may begin.
    if (ways.length === 0 && (found || place >= text.length)) return found;
    budget.left -= ways.length;
    if (budget.left < 0) throw new TooMuchSearching();
    const next: Way[] = [];
    const sign = text[place];
    for (const { at, notes } of ways) {
      const step = steps[at]!;
      if (step.kind === 'found') {
        found = notes;
        // What is less preferred is of no use any more.
        break;
      }
      if (step.kind === 'sign' && sign !== undefined && takes(step, sign, ignoresCase))
        follow(next, at + 1, place + 1, notes);
    }
    if (sign === undefined) return found;
    ways = next;
  }
};
