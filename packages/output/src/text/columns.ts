/** Signs that take no place of their own, and those that take two. */
const NO_PLACE = /[\p{M}\p{Cf}]/u;
const TWO_PLACES =
  /[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Hangul}\p{Extended_Pictographic}\uFF01-\uFF60]/u;

/** Places that a text takes on a line of a terminal. */
export const placesOf = (text: string): number => {
  let places = 0;
  for (const sign of text) places += NO_PLACE.test(sign) ? 0 : TWO_PLACES.test(sign) ? 2 : 1;
  return places;
};

/** The lines of a text, none longer than `width` places; words that are longer are parted. */
export const wrapped = (text: string, width: number): string[] => {
  const lines: string[] = [];
  for (const paragraph of text.split('\n')) {
    let line = '';
    for (const word of paragraph.split(/[ \t]+/)) {
      let rest = word;
      if (line !== '' && placesOf(line) + 1 + placesOf(rest) <= width) {
        line += ` ${rest}`;
        continue;
      }
      if (line !== '') lines.push(line);
      while (placesOf(rest) > width) {
        const head = headOf(rest, width);
        lines.push(head);
        rest = rest.slice(head.length);
      }
      line = rest;
    }
    lines.push(line);
  }
  return lines;
};

/** What of a word fits on a line; at least one sign. */
const headOf = (word: string, width: number): string => {
  let head = '';
  let places = 0;
  for (const sign of word) {
    places += placesOf(sign);
    if (head !== '' && places > width) break;
    head += sign;
  }
  return head;
};

export const padded = (text: string, width: number, align: 'left' | 'center' | 'right' | 'justify'): string => {
  const free = Math.max(0, width - placesOf(text));
  if (align === 'right') return ' '.repeat(free) + text;
  const before = align === 'center' ? Math.floor(free / 2) : 0;
  return ' '.repeat(before) + text + ' '.repeat(free - before);
};

/** Narrowest that a column gets. */
const LEAST = 3;

/** Widths of columns that want so many places, with no more than `room` altogether: the widest give first. */
export const shared = (wanted: readonly number[], room: number): number[] => {
  const widths = wanted.map((width) => Math.max(1, width));
  for (let over = widths.reduce((sum, width) => sum + width, 0) - room; over > 0; ) {
    const widest = Math.max(...widths);
    if (widest <= LEAST) break;
    const second = Math.max(LEAST, ...widths.filter((width) => width < widest));
    const wide = widths.filter((width) => width === widest).length;
    const each = Math.max(1, Math.min(widest - second, Math.ceil(over / wide)));
    for (const [i, width] of widths.entries()) {
      if (width !== widest || over <= 0) continue;
      widths[i] = width - each;
      over -= each;
    }
  }
  return widths;
};
