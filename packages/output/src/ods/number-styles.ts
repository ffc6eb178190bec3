import { tokenize } from 'numfmt';
import { escapeXml } from '../xml/escape.ts';

type Token = ReturnType<typeof tokenize>[number];

const LITERALS = new Set(['CHAR', 'STRING', 'ESCAPED', 'SPACE', 'CURRENCY', 'MINUS', 'PLUS', 'PAREN', 'SKIP']);

const literal = ({ type, value }: Token): string => (type === 'SKIP' ? ' ' : String(value));

const said = (words: string): string => (words === '' ? '' : `<number:text>${escapeXml(words)}</number:text>`);

/** Parts of a date or a time, by how they are written in a format code; `m` is told apart by what stands around it. */
const dateElement = (code: string, isMinutes: boolean): string => {
  const long = code.length > 1 ? ' number:style="long"' : '';
  switch (code[0]) {
    case 'y':
      return `<number:year${code.length > 2 ? ' number:style="long"' : ''}/>`;
    case 'm':
      if (isMinutes) return `<number:minutes${long}/>`;
      if (code.length > 2)
        return `<number:month number:textual="true"${code.length > 3 ? ' number:style="long"' : ''}/>`;
      return `<number:month${long}/>`;
    case 'd':
      if (code.length > 2) return `<number:day-of-week${code.length > 3 ? ' number:style="long"' : ''}/>`;
      return `<number:day${long}/>`;
    case 'h':
      return `<number:hours${long}/>`;
    case 's':
      return `<number:seconds${long}/>`;
    default:
      return said(code);
  }
};

/** The kind of style that a section of a format code is, and what it holds. */
const sectionOf = (tokens: readonly Token[]): { kind: string; inner: string } => {
  const isDate = tokens.some(({ type }) => type === 'DATETIME' || type === 'AMPM' || type === 'DURATION');
  const isPercent = tokens.some(({ type }) => type === 'PERCENT');
  if (isDate) {
    const codes = tokens.map(({ type, value }) =>
      type === 'DATETIME' || type === 'DURATION' ? String(value).toLowerCase() : '',
    );
    const inner = tokens.map((token, i) => {
      if (token.type === 'AMPM') return '<number:am-pm/>';
      if (codes[i] === '') return said(literal(token));
      const before = codes.slice(0, i).findLast((code) => code !== '');
      const after = codes.slice(i + 1).find((code) => code !== '');
      return dateElement(codes[i]!, before?.[0] === 'h' || after?.[0] === 's');
    });
    const hasDay = codes.some((code, i) => /^[yd]/.test(code) || (code[0] === 'm' && !inner[i]!.includes('minutes')));
    return { kind: hasDay ? 'date-style' : 'time-style', inner: inner.join('') };
  }
  let [before, after] = ['', ''];
  let [whole, least, most] = [0, 0, 0];
  let [isGrouped, isBehindPoint, hasDigits, exponent] = [false, false, false, 0];
  for (const token of tokens) {
    const { type } = token;
    if (type === 'ZERO' || type === 'HASH' || type === 'QMARK' || type === 'DIGIT') {
      const isSure = type === 'ZERO';
      if (exponent > 0) exponent += isSure ? 1 : 0;
      else if (isBehindPoint) {
        most++;
        if (isSure) least = most;
      } else if (isSure) whole++;
      hasDigits = true;
    } else if (type === 'GROUP' || type === 'COMMA') isGrouped = true;
    else if (type === 'POINT') isBehindPoint = true;
    else if (type === 'EXP') exponent = 1;
    else if (type === 'PERCENT') after += '%';
    else if (LITERALS.has(type)) {
      if (hasDigits) after += literal(token);
      else before += literal(token);
    }
  }
  const digits = ` number:min-integer-digits="${whole}" number:decimal-places="${most}" number:min-decimal-places="${least}"`;
  const number = !hasDigits
    ? ''
    : exponent > 0
      ? `<number:scientific-number${digits} number:min-exponent-digits="${exponent - 1}"/>`
      : `<number:number${digits}${isGrouped ? ' number:grouping="true"' : ''}/>`;
  const color = tokens.find(({ type }) => type === 'COLOR');
  const red = String(color?.value ?? '').toLowerCase() === 'red' ? '<style:text-properties fo:color="#b3402e"/>' : '';
  return { kind: isPercent ? 'percentage-style' : 'number-style', inner: red + said(before) + number + said(after) };
};

const sections = (code: string): Token[][] => {
  const found: Token[][] = [[]];
  for (const token of tokenize(code)) {
    if (token.type === 'BREAK') found.push([]);
    else found.at(-1)!.push(token);
  }
  return found;
};

/** Number formats as OpenDocument has them (1.3, part 3, 16.29), from the codes that spreadsheets know. */
export class NumberStyles {
  private readonly names = new Map<string, string | null>();
  private readonly written: string[] = [];

  /** The name of the style for a code; null where it says nothing. */
  of(code: string): string | null {
    let name = this.names.get(code);
    if (name === undefined) {
      name = this.make(code);
      this.names.set(code, name);
    }
    return name;
  }

  private make(code: string): string | null {
    if (code === '' || /^general$/i.test(code)) return null;
    const name = `N${this.names.size + 1}`;
    let parts: Token[][];
    try {
      parts = sections(code);
    } catch {
      // What cannot be read says nothing of how a number looks.
      return null;
    }
    const element = ({ kind, inner }: ReturnType<typeof sectionOf>, own: string, maps = ''): string =>
      `<number:${kind} style:name="${own}"${maps === '' && own !== name ? ' style:volatile="true"' : ''}>${inner}${maps}</number:${kind}>`;
    const [first, second, third] = parts;
    const map = (condition: string, to: string): string =>
      `<style:map style:condition="value()${condition}" style:apply-style-name="${to}"/>`;
    const isText = (tokens: readonly Token[] | undefined): boolean =>
      tokens?.some(({ type }) => type === 'TEXT') ?? false;
    if (!second || isText(second)) this.written.push(element(sectionOf(first!), name));
    else if (!third || isText(third)) {
      this.written.push(element(sectionOf(first!), `${name}P0`));
      this.written.push(element(sectionOf(second), name, map('>=0', `${name}P0`)).replaceAll('>=0', '&gt;=0'));
    } else {
      this.written.push(element(sectionOf(first!), `${name}P0`), element(sectionOf(second), `${name}P1`));
      this.written.push(element(sectionOf(third), name, map('&gt;0', `${name}P0`) + map('&lt;0', `${name}P1`)));
    }
    return name;
  }

  xml(): string {
    return this.written.join('');
  }
}
