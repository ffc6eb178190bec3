/** The smallest pieces of a formula, with their place in the text (0-based, end exclusive). */
export interface Token {
  kind:
    | 'number'
    | 'text'
    | 'name'
    | 'operator'
    | 'open'
    | 'close'
    | 'openList'
    | 'closeList'
    | 'separator'
    | 'dot'
    | 'end'
    | 'wrong';
  text: string;
  from: number;
  to: number;
}

const NUMBER = /(?:\d+(?:\.\d*)?|\.\d+)(?:[eE][+-]?\d+)?/y;
const NAME = /[\p{L}_][\p{L}\p{N}\p{M}_]*/uy;
const OPERATOR = /<=|>=|<>|[-+*/^&=<>%]/y;

/** A text as a formula names it. */
export const writtenText = (text: string): string => `"${text.replaceAll('"', '""')}"`;

/** One part of a name as formulas write it: in quotes where it is no plain word. */
export const writtenName = (part: string): string =>
  /^[\p{L}_][\p{L}\p{N}_]*$/u.test(part) ? part : `'${part.replace(/'/g, "''")}'`;

/** Cuts a formula into tokens. Never fails: a character that fits nothing becomes a `wrong` token. */
export const tokenize = (source: string): Token[] => {
  const tokens: Token[] = [];
  let at = 0;
  const take = (kind: Token['kind'], text: string, to: number): void => {
    tokens.push({ kind, text, from: at, to });
    at = to;
  };
  const match = (pattern: RegExp): string | null => {
    pattern.lastIndex = at;
    return pattern.exec(source)?.[0] ?? null;
  };
  while (at < source.length) {
    const c = source[at]!;
    if (/\s/.test(c)) {
      at++;
      continue;
    }
    if (c === '"' || c === "'") {
      const quoted = readQuoted(source, at, c);
      if (quoted) take(c === '"' ? 'text' : 'name', quoted.text, quoted.to);
      else take('wrong', source.slice(at), source.length);
      continue;
    }
    const number = match(NUMBER);
    const name = number === null ? match(NAME) : null;
    const operator = number === null && name === null ? match(OPERATOR) : null;
    if (number !== null) take('number', number, at + number.length);
    else if (name !== null) take('name', name, at + name.length);
    else if (operator !== null) take('operator', operator, at + operator.length);
    else if (c === '(') take('open', c, at + 1);
    else if (c === ')') take('close', c, at + 1);
    else if (c === '{') take('openList', c, at + 1);
    else if (c === '}') take('closeList', c, at + 1);
    else if (c === ';' || c === ',') take('separator', c, at + 1);
    else if (c === '.') take('dot', c, at + 1);
    else take('wrong', c, at + 1);
  }
  tokens.push({ kind: 'end', text: '', from: source.length, to: source.length });
  return tokens;
};

/** Quotes inside are written twice, as the standard says. Null when the closing quote is missing. */
const readQuoted = (source: string, from: number, quote: string): { text: string; to: number } | null => {
  let text = '';
  for (let i = from + 1; i < source.length; i++) {
    if (source[i] !== quote) text += source[i];
    else if (source[i + 1] === quote) {
      text += quote;
      i++;
    } else return { text, to: i + 1 };
  }
  return null;
};
