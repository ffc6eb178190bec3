/** What a pattern is made of. Signs are code points. */
export type Node =
  /** One sign out of ranges; `not`: one that is in none. */
  | { kind: 'sign'; ranges: readonly (readonly [from: number, to: number])[]; not: boolean }
  | { kind: 'start' }
  | { kind: 'end' }
  /** Between a letter or digit and what is none; `not`: anywhere else. */
  | { kind: 'edge'; not: boolean }
  | { kind: 'sequence'; parts: readonly Node[] }
  | { kind: 'choice'; parts: readonly Node[] }
  /** `most` null: as often as there is. `greedy`: as many as possible come first. */
  | { kind: 'repeat'; part: Node; least: number; most: number | null; greedy: boolean }
  /** `number` null: its place is not kept. */
  | { kind: 'group'; part: Node; number: number | null };

export interface Pattern {
  node: Node;
  /** How many groups keep their places. */
  groups: number;
}

/** What is wrong with a pattern, and at which character, from 1. */
export class PatternError extends Error {
  constructor(readonly at: number) {
    super('the pattern cannot be read');
  }
}

/** Most repetitions that a pattern may ask for by number. */
export const MOST_REPEATS = 1000;
/** Brackets within brackets. */
const DEEPEST = 50;

type Range = readonly [number, number];
const LAST = 0x10ffff;
const code = (sign: string): number => sign.codePointAt(0)!;
const range = (signs: string): Range[] =>
  [...signs.matchAll(/(.)-(.)|(.)/gsu)].map(([, a, b, one]) =>
    one === undefined ? [code(a!), code(b!)] : [code(one), code(one)],
  );

const DIGITS = range('0-9');
const WORDS = range('0-9A-Za-z_');
const SPACES = range('\t\n\v\f\r \u00a0\u1680\u2000-\u200a\u2028\u2029\u202f\u205f\u3000\ufeff');
const CLASSES: Readonly<Record<string, readonly Range[]>> = { d: DIGITS, w: WORDS, s: SPACES };
const CONTROLS: Readonly<Record<string, string>> = { n: '\n', r: '\r', t: '\t', f: '\f', v: '\v' };

const others = (ranges: readonly Range[]): Range[] => {
  const sorted = [...ranges].sort(([a], [b]) => a - b);
  const found: Range[] = [];
  let next = 0;
  for (const [from, to] of sorted) {
    if (from > next) found.push([next, from - 1]);
    next = Math.max(next, to + 1);
  }
  return next <= LAST ? [...found, [next, LAST]] : found;
};

/**
 * Reads a regular expression: signs, `.`, `[a-z]`, `\d \w \s` and their opposites, `^ $ \b`, groups, `|`, and `* + ? {2,5}`, each
 * followed by `?` where as few as possible come first. What needs to look back or ahead is none. Throws PatternError.
 */
export const parsePattern = (source: string): Pattern => new Reader([...source]).pattern();

class Reader {
  private at = 0;
  private groups = 0;
  private depth = 0;

  constructor(private readonly signs: readonly string[]) {}

  pattern(): Pattern {
    const node = this.choice();
    if (this.at < this.signs.length) this.fail();
    return { node, groups: this.groups };
  }

  private fail(): never {
    throw new PatternError(Math.min(this.at + 1, this.signs.length));
  }

  private takes(sign: string): boolean {
    if (this.signs[this.at] !== sign) return false;
    this.at++;
    return true;
  }

  private choice(): Node {
    if (++this.depth > DEEPEST) this.fail();
    const parts = [this.sequence()];
    while (this.takes('|')) parts.push(this.sequence());
    this.depth--;
    return parts.length === 1 ? parts[0]! : { kind: 'choice', parts };
  }

  private sequence(): Node {
    const parts: Node[] = [];
    while (this.at < this.signs.length && this.signs[this.at] !== '|' && this.signs[this.at] !== ')')
      parts.push(this.repeated(this.one()));
    return { kind: 'sequence', parts };
  }

  private repeated(part: Node): Node {
    const from = this.at;
    let times: [number, number | null] | null = null;
    if (this.takes('*')) times = [0, null];
    else if (this.takes('+')) times = [1, null];
    else if (this.takes('?')) times = [0, 1];
    else if (this.signs[this.at] === '{') times = this.counted();
    if (!times) return part;
    if (part.kind === 'start' || part.kind === 'end' || part.kind === 'edge') {
      this.at = from;
      this.fail();
    }
    const [least, most] = times;
    const repeat: Node = { kind: 'repeat', part, least, most, greedy: !this.takes('?') };
    if (['*', '+', '?', '{'].includes(this.signs[this.at] ?? '')) this.fail();
    return repeat;
  }

  /** `{2}`, `{2,}` or `{2,5}`. */
  private counted(): [number, number | null] {
    this.at++;
    const least = this.number();
    if (least === null) this.fail();
    let most: number | null = least;
    if (this.takes(',')) most = this.number();
    if (!this.takes('}') || (most !== null && most < least)) this.fail();
    return [least, most];
  }

  private number(): number | null {
    const from = this.at;
    while (/^[0-9]$/.test(this.signs[this.at] ?? '') && this.at - from < 5) this.at++;
    if (this.at === from) return null;
    const found = Number(this.signs.slice(from, this.at).join(''));
    if (found > MOST_REPEATS) this.fail();
    return found;
  }

  private one(): Node {
    const sign = this.signs[this.at]!;
    if ('*+?{'.includes(sign)) this.fail();
    this.at++;
    switch (sign) {
      case '.':
        return { kind: 'sign', ranges: range('\n'), not: true };
      case '^':
        return { kind: 'start' };
      case '$':
        return { kind: 'end' };
      case '[':
        return this.set();
      case '(':
        return this.group();
      case '\\':
        return this.escaped();
      default:
        return { kind: 'sign', ranges: [[code(sign), code(sign)]], not: false };
    }
  }

  private group(): Node {
    let number: number | null = null;
    if (this.takes('?')) {
      if (!this.takes(':')) this.fail();
    } else number = ++this.groups;
    const part = this.choice();
    if (!this.takes(')')) this.fail();
    return { kind: 'group', part, number };
  }

  private escaped(): Node {
    const sign = this.signs[this.at];
    if (sign === 'b' || sign === 'B') {
      this.at++;
      return { kind: 'edge', not: sign === 'B' };
    }
    return { kind: 'sign', ranges: this.escapedRanges(), not: false };
  }

  private escapedRanges(): readonly Range[] {
    const sign = this.signs[this.at];
    if (sign === undefined) this.fail();
    this.at++;
    const known = CLASSES[sign.toLowerCase()];
    if (known) return sign === sign.toLowerCase() ? known : others(known);
    const control = CONTROLS[sign];
    if (control !== undefined) return range(control);
    // Letters and digits without a meaning are kept for those that may get one.
    if (/^[0-9A-Za-z]$/.test(sign)) {
      this.at--;
      this.fail();
    }
    return [[code(sign), code(sign)]];
  }

  /** `[a-z\d_]`, or `[^…]` for what is none of it. */
  private set(): Node {
    const not = this.takes('^');
    const ranges: Range[] = [];
    let isFirst = true;
    while (isFirst || this.signs[this.at] !== ']') {
      isFirst = false;
      const from = this.member();
      if (this.signs[this.at] === '-' && this.signs[this.at + 1] !== ']' && this.signs[this.at + 1] !== undefined) {
        this.at++;
        const to = this.member();
        if (from.length !== 1 || to.length !== 1 || to[0]![1] < from[0]![0]) this.fail();
        ranges.push([from[0]![0], to[0]![1]]);
      } else ranges.push(...from);
    }
    this.at++;
    return { kind: 'sign', ranges, not };
  }

  private member(): readonly Range[] {
    const sign = this.signs[this.at];
    if (sign === undefined) this.fail();
    this.at++;
    return sign === '\\' ? this.escapedRanges() : [[code(sign), code(sign)]];
  }
}
