import type { TextMark } from './marks/text.ts';
import type { Page } from './page.ts';

/** A text as it is looked for, and where each of its signs stands in the text itself. */
interface Plain {
  text: string;
  /** For each UTF-16 unit of `text`, the place in the text itself that it comes from. */
  from: number[];
}

const ASCII = /^[\x20-\x7e]*$/;

// A sigma at the end of a word is one all the same.
const withoutAccents = (text: string): string =>
  text.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase().replaceAll('ς', 'σ');

/**
 * A text without what is not told apart when something is looked for: case, accents, ligatures and widths of signs, and how
 * many spaces there are. Case and accents go by Unicode (NFKD, UAX #15), in no language.
 */
export const plainWords = (text: string): string => {
  const plain = ASCII.test(text) ? text.toLowerCase() : withoutAccents(withoutAccents(text));
  return plain.replace(/\s+/g, ' ');
};

/** The same as {@link plainWords}, sign by sign. */
const plainOf = (text: string): Plain => {
  const found: Plain = { text: '', from: [] };
  let at = 0;
  for (const sign of text) {
    for (const unit of plainWords(sign)) {
      // Of several spaces the first one stands for all.
      if (unit === ' ' && found.text.endsWith(' ')) continue;
      found.text += unit;
      for (let i = 0; i < unit.length; i++) found.from.push(at);
    }
    at += sign.length;
  }
  return found;
};

/** Share of its size that a text may stand off the one before it when both are one word. */
const TOUCHES = 0.15;

const isOneWord = (before: TextMark, mark: TextMark): boolean =>
  before.item !== undefined &&
  before.item === mark.item &&
  before.part === mark.part &&
  Math.abs(before.y - mark.y) < 0.01 &&
  Math.abs(before.x + before.width - mark.x) < mark.size * TOUCHES;

const textsOf = ({ marks }: Pick<Page, 'marks'>): TextMark[] =>
  marks.filter((mark): mark is TextMark => mark.kind === 'text');

/** What stands between a text and the one before it: nothing within a word, else a space. */
const between = (before: TextMark | undefined, mark: TextMark): string =>
  before === undefined || isOneWord(before, mark) ? '' : ' ';

/** The words of a page as they are looked for, in the order of its marks. */
export const wordsOfPage = (page: Pick<Page, 'marks'>): string => {
  const texts = textsOf(page);
  return plainWords(texts.map((mark, i) => between(texts[i - 1], mark) + mark.text).join(''));
};

/** A part of a text that was found. */
export interface FoundPiece {
  /** Which of the page’s texts, from 0; marks of other kinds are not counted. */
  text: number;
  /** First and last place in it, as UTF-16 units; the last is not part of it. */
  from: number;
  to: number;
}

/** Words that were found on a page: in one text, or across several. */
export interface FoundWords {
  pieces: FoundPiece[];
  /** A few words around them. */
  before: string;
  match: string;
  after: string;
}

/** Signs that are shown on each side of what was found. */
const AROUND = 40;

/** Where words stand on a page, one after another, ignoring what {@link plainWords} does; nothing where there is nothing to look for. */
export const findOnPage = (page: Pick<Page, 'marks'>, sought: string): FoundWords[] => {
  const wanted = plainWords(sought).trim();
  if (wanted === '') return [];
  const texts = textsOf(page);
  let whole = '';
  /** Where each text begins in all of them put together. */
  const starts: number[] = [];
  for (const [i, mark] of texts.entries()) {
    whole += between(texts[i - 1], mark);
    starts.push(whole.length);
    whole += mark.text;
  }
  const plain = plainOf(whole);
  const found: FoundWords[] = [];
  for (let at = plain.text.indexOf(wanted); at >= 0; at = plain.text.indexOf(wanted, at + wanted.length)) {
    const from = plain.from[at]!;
    const to = plain.from[at + wanted.length] ?? whole.length;
    found.push({
      pieces: piecesBetween(texts, starts, from, to),
      before: whole.slice(Math.max(0, from - AROUND), from),
      match: whole.slice(from, to),
      after: whole.slice(to, to + AROUND),
    });
  }
  return found;
};

const piecesBetween = (texts: readonly TextMark[], starts: readonly number[], from: number, to: number): FoundPiece[] =>
  texts.flatMap(({ text: words }, text) => {
    const start = starts[text]!;
    const piece = { text, from: Math.max(0, from - start), to: Math.min(words.length, to - start) };
    return piece.from < piece.to ? [piece] : [];
  });
