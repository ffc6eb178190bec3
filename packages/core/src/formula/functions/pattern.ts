import { phrase } from '../../problems/phrases.ts';
import { FormulaError, List, type Value } from '../../value/value.ts';
import type { Budget, Program } from '../pattern/match.ts';
import { findPattern, PatternError, places, programOf, signsOf, TooMuchSearching, textOf } from '../pattern/pattern.ts';
import { define, type FunctionTable, outOfRange, text, whole, wrong } from './define.ts';
import { limited } from './text.ts';

/** Ways of a pattern that one function follows; they take a fifth of a second. */
const MOST_SEARCHED = 1_000_000;

/** Searches a text for a pattern; what is wrong with either is an error value. */
const searching =
  (work: (program: Program, signs: number[], budget: Budget, rest: Value[]) => Value) =>
  ([given, pattern, ...rest]: Value[]): Value => {
    try {
      return work(programOf(text(pattern)), signsOf(text(given)), { left: MOST_SEARCHED }, rest);
    } catch (error) {
      if (error instanceof TooMuchSearching) return outOfRange(phrase('e-too-much-work'));
      if (error instanceof PatternError) return wrong(phrase('e-pattern', { at: error.at }));
      throw error;
    }
  };

/** What stands for a place that was found: `$0` for all of it, `$1` for its first group, `$$` for a dollar. */
const filled = (replacement: string, signs: readonly number[], found: readonly number[]): string =>
  replacement.replace(/\$(\d|\$)/g, (all, which: string) => {
    if (which === '$') return '$';
    const [from, to] = [found[2 * Number(which)], found[2 * Number(which) + 1]];
    if (from === undefined || to === undefined) return all;
    return from < 0 ? '' : textOf(signs, from, to);
  });

/** Functions of regular expressions, which none can make run away. */
export const PATTERN_FUNCTIONS: FunctionTable = {
  REGEXFOUND: define(
    'text:t pattern:t',
    'boolean',
    'TRUE when a regular expression matches a part of the text; (?i) at its start ignores case. (Gaveta’s own.)',
    'REGEXFOUND("C-00042"; "^C-\\d{5}$") = TRUE',
    searching((program, signs, budget) => findPattern(program, signs, 0, budget) !== null),
  ),
  REGEXPART: define(
    'text:t pattern:t group:n?',
    'text',
    'The first part of a text that a regular expression matches, or one of its groups; #N/A when there is none. (Gaveta’s own.)',
    'REGEXPART("Stay 42 of 2025"; "(\\d+) of (\\d+)"; 2) = "2025"',
    searching((program, signs, budget, [group]) => {
      const found = findPattern(program, signs, 0, budget);
      if (!found) return new FormulaError('#N/A', phrase('e-not-in-text', { text: program.source }));
      const which = whole(group);
      if (which < 0 || which > program.groups) return new FormulaError('#REF!', phrase('e-no-place'));
      const [from, to] = [found[2 * which]!, found[2 * which + 1]!];
      return from < 0 ? '' : textOf(signs, from, to);
    }),
  ),
  REGEXCOUNT: define(
    'text:t pattern:t',
    'number',
    'How often a regular expression matches in a text. (Gaveta’s own.)',
    'REGEXCOUNT("a1 b22 c"; "\\d+") = 2',
    searching((program, signs, budget) => [...places(program, signs, budget)].length),
  ),
  REGEXPUT: define(
    'text:t pattern:t new:t',
    'text',
    'Puts a text in the place of every match of a regular expression; $1 in the new text is its first group. (Gaveta’s own.)',
    'REGEXPUT("2025-07-12"; "(\\d+)-(\\d+)-(\\d+)"; "$3.$2.$1") = "12.07.2025"',
    searching((program, signs, budget, [put]) => {
      let written = '';
      let last = 0;
      for (const found of places(program, signs, budget)) {
        written += textOf(signs, last, found[0]!) + filled(text(put), signs, found);
        last = found[1]!;
        const made = limited(written);
        if (made instanceof FormulaError) return made;
      }
      return limited(written + textOf(signs, last, signs.length));
    }),
  ),
  REGEXSPLIT: define(
    'text:t pattern:t',
    'list',
    'The parts of a text between the matches of a regular expression, as a list. (Gaveta’s own.)',
    'LENGTH(REGEXSPLIT("bunk, linen;wood"; "[,;] *")) = 3',
    searching((program, signs, budget) => {
      const parts: string[] = [];
      let last = 0;
      for (const [begin = 0, end = 0] of places(program, signs, budget)) {
        if (end === begin) continue;
        parts.push(textOf(signs, last, begin));
        last = end;
      }
      return new List([...parts, textOf(signs, last, signs.length)]);
    }),
  ),
};
