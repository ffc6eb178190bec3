import { type Budget, compilePattern, type Found, findPattern, type Program } from './match.ts';
import { PatternError, parsePattern } from './parse.ts';

export { findPattern, TooMuchSearching } from './match.ts';
export { PatternError } from './parse.ts';

/** Longest pattern that is read. */
const LONGEST = 1000;
const known = new Map<string, Program>();

/** A pattern ready to be searched for; `(?i)` before it: capitals do not matter. Throws PatternError. */
export const programOf = (source: string): Program => {
  let program = known.get(source);
  if (!program) {
    if (source.length > LONGEST) throw new PatternError(LONGEST);
    const ignoresCase = source.startsWith('(?i)');
    program = compilePattern(parsePattern(ignoresCase ? source.slice(4) : source), source, ignoresCase);
    if (known.size > 200) known.clear();
    known.set(source, program);
  }
  return program;
};

export const signsOf = (text: string): number[] => Array.from(text, (sign) => sign.codePointAt(0)!);

export const textOf = (signs: readonly number[], from: number, to: number): string => {
  let text = '';
  for (let i = from; i < to; i++) text += String.fromCodePoint(signs[i]!);
  return text;
};

/** The places of a pattern one after another; one that takes no sign moves on by one. */
export function* places(program: Program, signs: readonly number[], budget: Budget): Generator<Found> {
  for (let from = 0; from <= signs.length; ) {
    const found = findPattern(program, signs, from, budget);
    if (!found) return;
    yield found;
    const [begin = 0, end = 0] = found;
    from = end === begin ? end + 1 : end;
  }
}
