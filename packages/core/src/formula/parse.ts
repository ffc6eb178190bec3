import { type Phrase, type PhraseCode, phrase } from '../problems/phrases.ts';
import { type Problem, problem } from '../problems/problem.ts';
import { MAX_DIGITS } from '../value/decimal.ts';
import { parseNumeric } from '../value/number.ts';
import { type Token, tokenize } from './tokens.ts';
import type { BinaryOperator, Tree } from './tree.ts';

export type Parsed = { ok: true; tree: Tree } | { ok: false; problem: Problem };

const MAX_DEPTH = 64;
/** Most operators in a row, as in a + b + c: each lies around the one before it. */
const MAX_ROW = 800;

/** Binding strength, weakest first (OpenFormula, section 5.5). */
export const STRENGTH: Readonly<Record<BinaryOperator, number>> = {
  '=': 1,
  '<>': 1,
  '<': 1,
  '>': 1,
  '<=': 1,
  '>=': 1,
  '&': 2,
  '+': 3,
  '-': 3,
  '*': 4,
  '/': 4,
  '^': 5,
};

/** Kinds of tokens that an operand begins and ends with. */
const STARTS: ReadonlySet<Token['kind']> = new Set(['number', 'text', 'name', 'open', 'openList']);
const ENDS: ReadonlySet<Token['kind']> = new Set(['number', 'text', 'name', 'close', 'closeList']);

class SyntaxProblem {
  constructor(readonly problem: Problem) {}
}

/** Reads a formula. A leading `=` is allowed, as spreadsheet users write it. */
export const parseFormula = (source: string): Parsed => {
  const tokens = tokenize(source);
  if (tokens[0]?.kind === 'operator' && tokens[0].text === '=') tokens.shift();
  try {
    const parser = new Parser(tokens);
    const tree = parser.expression(0, 0);
    parser.expectEnd();
    return { ok: true, tree };
  } catch (error) {
    if (error instanceof SyntaxProblem) return { ok: false, problem: error.problem };
    throw error;
  }
};

class Parser {
  private at = 0;
  constructor(private readonly tokens: Token[]) {}

  private get token(): Token {
    return this.tokens[this.at]!;
  }

  private fail(detail: Phrase, expected: PhraseCode): never {
    const { from, to } = this.token;
    throw new SyntaxProblem(
      problem('formula-syntax', { from, to: Math.max(to, from + 1) }, { detail, expected: phrase(expected) }),
    );
  }

  private tooDeep(): never {
    const { from, to } = this.token;
    throw new SyntaxProblem(problem('formula-too-deep', { from, to: Math.max(to, from + 1) }));
  }

  /** What stands before, where an operand follows on it with nothing between the two; null when something does. */
  private get touching(): string | null {
    const before = this.tokens[this.at - 1];
    const ended = before && (ENDS.has(before.kind) || before.text === '%');
    return ended && STARTS.has(this.token.kind) ? before.text : null;
  }

  private describe(): Phrase {
    const { kind, text } = this.token;
    const { touching } = this;
    if (touching !== null) return phrase('nothing-between', { before: touching, after: text });
    if (kind === 'end') return phrase('ends-early');
    if (kind === 'wrong' && /^["']/.test(text)) return phrase('quotation-open');
    return phrase('cannot-stand-here', { text });
  }

  expectEnd(): void {
    if (this.token.kind === 'end') return;
    if (this.touching !== null) this.fail(this.describe(), 'operator-between');
    this.fail(this.describe(), this.token.kind === 'close' ? 'opening-bracket-before' : 'operator-or-end');
  }

  expression(minimum: number, depth: number): Tree {
    if (depth > MAX_DEPTH) this.tooDeep();
    let left = this.prefix(depth);
    for (let row = 0; ; row++) {
      const { kind, text } = this.token;
      if (kind !== 'operator' || !(text in STRENGTH)) return left;
      const operator = text as BinaryOperator;
      const strength = STRENGTH[operator];
      if (strength < minimum) return left;
      if (row > MAX_ROW) this.tooDeep();
      this.at++;
      const right = this.expression(strength + 1, depth + 1);
      left = { kind: 'binary', operator, left, right, from: left.from, to: right.to };
    }
  }

  /** Unary minus binds tighter than `^`, as in spreadsheets: -2^2 is 4. */
  private prefix(depth: number): Tree {
    const { kind, text, from } = this.token;
    if (kind === 'operator' && (text === '-' || text === '+')) {
      if (depth > MAX_DEPTH) this.tooDeep();
      this.at++;
      const operand = this.prefix(depth + 1);
      return { kind: 'unary', operator: text, operand, from, to: operand.to };
    }
    let operand = this.primary(depth);
    for (let row = 0; this.token.kind === 'operator' && this.token.text === '%'; row++) {
      if (row > MAX_ROW) this.tooDeep();
      operand = { kind: 'unary', operator: '%', operand, from: operand.from, to: this.token.to };
      this.at++;
    }
    return operand;
  }

  private primary(depth: number): Tree {
    const { kind, text, from, to } = this.token;
    switch (kind) {
      case 'number': {
        const value = parseNumeric(text);
        if (value === null) throw new SyntaxProblem(problem('number-too-long', { from, to }, { digits: MAX_DIGITS }));
        this.at++;
        return { kind: 'number', value, from, to };
      }
      case 'text':
        this.at++;
        return { kind: 'text', value: text, from, to };
      case 'open': {
        this.at++;
        const inner = this.expression(0, depth + 1);
        this.expect('close', 'closing-bracket');
        return inner;
      }
      case 'openList': {
        this.at++;
        const { items, to: end } = this.items('closeList', 'closing-brace', depth);
        return { kind: 'list', items, from, to: end };
      }
      case 'name':
        return this.nameOrCall(depth);
      default:
        return this.fail(this.describe(), 'operand');
    }
  }

  private nameOrCall(depth: number): Tree {
    const first = this.token;
    this.at++;
    if (this.token.kind === 'open') {
      this.at++;
      const { items, to } = this.items('close', 'closing-bracket', depth);
      return { kind: 'call', name: first.text.toUpperCase(), arguments: items, from: first.from, to };
    }
    const parts = [first.text];
    let to = first.to;
    while (this.token.kind === 'dot') {
      this.at++;
      if ((this.token.kind as string) !== 'name') this.fail(this.describe(), 'name-after-dot');
      parts.push(this.token.text);
      to = this.token.to;
      this.at++;
    }
    return { kind: 'name', parts, from: first.from, to };
  }

  /** Formulas with separators between them, up to and including what closes them. */
  private items(closing: Token['kind'], words: PhraseCode, depth: number): { items: Tree[]; to: number } {
    const items: Tree[] = [];
    if (this.token.kind !== closing) {
      items.push(this.expression(0, depth + 1));
      while (this.token.kind === 'separator') {
        this.at++;
        items.push(this.expression(0, depth + 1));
      }
    }
    const { to } = this.token;
    if (this.touching !== null) this.fail(this.describe(), 'separator-or-operator');
    this.expect(closing, words);
    return { items, to };
  }

  private expect(kind: Token['kind'], words: PhraseCode): void {
    if (this.token.kind !== kind) this.fail(this.describe(), words);
    this.at++;
  }
}
