import { phrase } from '../../problems/phrases.ts';
import { currencyFormat } from '../../text/currency.ts';
import { formatValue } from '../../text/format.ts';
import { type TextOrder, textOrderOf } from '../../text/text-order.ts';
import { fromWindows1252, toWindows1252 } from '../../text/windows-1252.ts';
import { CalendarDate } from '../../value/date.ts';
import { isNumeric, toDecimal } from '../../value/number.ts';
import { FormulaError, type Value } from '../../value/value.ts';
import {
  characters,
  define,
  double,
  type FunctionTable,
  numeric,
  opened,
  outOfRange,
  serialOf,
  text,
  whole,
  wrong,
} from './define.ts';
import { readWildcards, searchWildcards, searchWork } from './wildcards.ts';
import { writtenNumber } from './written-number.ts';

/** Longest text that a formula may make; past it the formula gives #VALUE!. */
export const MAX_TEXT = 1_000_000;

const negativeCount = (name: string): Value => wrong(phrase('e-takes', { name, values: '0…' }));

export const limited = (value: string): Value => (value.length > MAX_TEXT ? wrong(phrase('e-text-too-long')) : value);

/** As `FIND`, without regard to capitals, and with wildcards. Each sign is told apart by itself, so that places stay. */
const search = (part: string, within: string, start: number, { fold }: TextOrder): Value => {
  if (start < 1) return wrong(phrase('e-counts-from-one'));
  const folded = (text: string): string[] =>
    Array.from(text, (sign) => {
      const small = fold(sign);
      return small.length === sign.length ? small : sign;
    });
  const wanted = readWildcards(folded(part).join(''));
  const signs = folded(within);
  if (searchWork(wanted, signs) > MOST_COMPARED) return outOfRange(phrase('e-too-much-work'));
  const at = start > signs.length + 1 ? -1 : searchWildcards(wanted, signs, start - 1);
  return at < 0 ? wrong(phrase('e-not-in-text', { text: part })) : at + 1;
};

/** Signs that a search compares at most. */
const MOST_COMPARED = 20_000_000;

/** 1-based place of `part` from `start` on; `#VALUE!` when it is not there. */
const find = (part: string, within: string, start: number): Value => {
  if (start < 1) return wrong(phrase('e-counts-from-one'));
  const before = Array.from(within)
    .slice(0, start - 1)
    .join('').length;
  const at = within.indexOf(part, before);
  return at < 0 ? wrong(phrase('e-not-in-text', { text: part })) : Array.from(within.slice(0, at)).length + 1;
};

/** Characters by code point, counted without taking the text apart. */
const lengthOf = (value: string): number => {
  let count = value.length;
  for (let i = 0; i < value.length - 1; i++) {
    const code = value.charCodeAt(i);
    if (code < 0xd800 || code > 0xdbff) continue;
    const next = value.charCodeAt(i + 1);
    if (next >= 0xdc00 && next <= 0xdfff) count--;
  }
  return count;
};

const ROMAN: [number, string][] = [
  [1000, 'M'],
  [900, 'CM'],
  [500, 'D'],
  [400, 'CD'],
  [100, 'C'],
  [90, 'XC'],
  [50, 'L'],
  [40, 'XL'],
  [10, 'X'],
  [9, 'IX'],
  [5, 'V'],
  [4, 'IV'],
  [1, 'I'],
];

/** The first letter in capitals and without its accent: what an index of names groups by. */
export const initialOf = (value: string): string => (Array.from(value.trim().normalize('NFD'))[0] ?? '').toUpperCase();

export const TEXT_FUNCTIONS: FunctionTable = {
  STARTSWITH: define(
    'text:t part:t',
    'boolean',
    'TRUE when a text starts with a part, capitals or not. (Gaveta’s own.)',
    'STARTSWITH("Pedra Longa"; "pedra") = TRUE',
    ([x, part], { report }) => {
      const { fold } = textOrderOf(report.language);
      return fold(text(x)).startsWith(fold(text(part)));
    },
  ),
  ENDSWITH: define(
    'text:t part:t',
    'boolean',
    'TRUE when a text ends with a part, capitals or not. (Gaveta’s own.)',
    'ENDSWITH("Pedra Longa"; "longa") = TRUE',
    ([x, part], { report }) => {
      const { fold } = textOrderOf(report.language);
      return fold(text(x)).endsWith(fold(text(part)));
    },
  ),
  CURRENCYFORMAT: define(
    'code:t',
    'text',
    'The number-format code of amounts in a currency, by its ISO code: with its sign and decimals, as the report’s language writes them. For Shown as, where each row has a currency of its own. (Gaveta’s own.)',
    'CURRENCYFORMAT("JPY") = CURRENCYFORMAT("jpy")',
    ([code], { report }) =>
      currencyFormat(text(code).trim().toUpperCase(), report.language, report.currencies) ??
      wrong(phrase('e-currency', { code: text(code).slice(0, 20) })),
  ),
  UPPER: define('text:t', 'text', 'In capital letters.', 'UPPER("hut") = "HUT"', ([x], { report }) =>
    textOrderOf(report.language).capitals(text(x)),
  ),
  LOWER: define('text:t', 'text', 'In small letters.', 'LOWER("Hut") = "hut"', ([x], { report }) =>
    textOrderOf(report.language).fold(text(x)),
  ),
  PROPER: define(
    'text:t',
    'text',
    'Each word with a capital letter.',
    'PROPER("lago FRIO") = "Lago Frio"',
    ([x], { report }) =>
      text(x)
        .toLocaleLowerCase(report.language)
        .replace(/(?<![\p{L}\p{M}])\p{L}/gu, (letter) => {
          // A letter may become several, of which one is a capital: ß is Ss.
          const [first = '', ...rest] = Array.from(letter.toLocaleUpperCase(report.language));
          return first + rest.join('').toLocaleLowerCase(report.language);
        }),
  ),
  TRIM: define(
    'text:t',
    'text',
    'Without spaces at the ends and doubled spaces inside.',
    'TRIM("  a   b ") = "a b"',
    ([x]) => text(x).trim().replace(/ +/g, ' '),
  ),
  CLEAN: define(
    'text:t',
    'text',
    'Without line ends and other control characters.',
    'CLEAN("a" & UNICHAR(10) & "b") = "ab"',
    ([x]) => text(x).replace(/\p{Cc}/gu, ''),
  ),
  LEN: define('text:t', 'number', 'The number of characters.', 'LEN("hut") = 3', ([x]) => lengthOf(text(x))),
  LEFT: define('text:t count:n?', 'text', 'The first characters.', 'LEFT("Brecha"; 3) = "Bre"', ([x, n]) =>
    whole(n, 1) < 0 ? negativeCount('LEFT') : characters(x).slice(0, whole(n, 1)).join(''),
  ),
  RIGHT: define('text:t count:n?', 'text', 'The last characters.', 'RIGHT("Brecha"; 3) = "cha"', ([x, n]) => {
    const count = whole(n, 1);
    if (count < 0) return negativeCount('RIGHT');
    return count === 0 ? '' : characters(x).slice(-count).join('');
  }),
  MID: define(
    'text:t from:n count:n',
    'text',
    'Characters from a place (1 is the first), so many.',
    'MID("Brecha"; 2; 3) = "rec"',
    ([x, from, n]) => {
      const start = whole(from) - 1;
      if (start < 0) return wrong(phrase('e-counts-from-one'));
      if (whole(n) < 0) return negativeCount('MID');
      return characters(x)
        .slice(start, start + whole(n))
        .join('');
    },
  ),
  INITIAL: define(
    'text:t',
    'text',
    'The first letter in capitals, without its accent: for an index of names. (Gaveta’s own.)',
    'INITIAL("água") = "A"',
    ([x]) => initialOf(text(x)),
  ),
  FIND: define(
    'part:t text:t from:n?',
    'number',
    'The place of a part, 1 for the first character; capitals matter. #VALUE! when it is not there.',
    'FIND("ch"; "Brecha") = 4',
    ([part, x, from]) => find(text(part), text(x), whole(from, 1)),
  ),
  SEARCH: define(
    'part:t text:t from:n?',
    'number',
    'As FIND, but capitals do not matter; * stands for anything, ? for one character, ~ before them for themselves.',
    'SEARCH("CH"; "Brecha") = 4',
    ([part, x, from], { report }) => search(text(part), text(x), whole(from, 1), textOrderOf(report.language)),
  ),
  CONTAINS: define(
    'text:t part:t',
    'boolean',
    'TRUE when the part stands in the text; capitals do not matter. (Gaveta’s own.)',
    'CONTAINS("Half board"; "BOARD") = TRUE',
    ([x, part], { report }) => {
      const { fold } = textOrderOf(report.language);
      return fold(text(x)).includes(fold(text(part)));
    },
  ),
  REPLACE: define(
    'text:t from:n count:n new:t',
    'text',
    'Puts a text in the place of characters from a place on.',
    'REPLACE("2025-07"; 1; 4; "2026") = "2026-07"',
    ([x, from, count, put]) => {
      const list = characters(x);
      const start = whole(from) - 1;
      if (start < 0) return wrong(phrase('e-counts-from-one'));
      if (whole(count) < 0) return negativeCount('REPLACE');
      return limited(list.slice(0, start).join('') + text(put) + list.slice(start + whole(count)).join(''));
    },
  ),
  SUBSTITUTE: define(
    'text:t old:t new:t which:n?',
    'text',
    'Puts a text in the place of another, everywhere or the so-many-th time only.',
    'SUBSTITUTE("a-b-c"; "-"; "/") = "a/b/c"',
    ([x, old, put, which]) => {
      const from = text(old);
      if (from === '') return text(x);
      const parts = text(x).split(from);
      if (which === undefined) {
        const length = text(x).length + (parts.length - 1) * (text(put).length - from.length);
        return length > MAX_TEXT ? wrong(phrase('e-text-too-long')) : parts.join(text(put));
      }
      const at = whole(which);
      if (at < 1) return wrong(phrase('e-counts-from-one'));
      if (at >= parts.length) return text(x);
      return limited(parts.slice(0, at).join(from) + text(put) + parts.slice(at).join(from));
    },
  ),
  REPT: define('text:t times:n', 'text', 'A text repeated.', 'REPT("ab"; 3) = "ababab"', ([x, n]) => {
    const count = whole(n);
    if (count < 0) return wrong(phrase('e-takes', { name: 'REPT', values: '0…' }));
    return text(x).length * count > MAX_TEXT
      ? wrong(phrase('e-text-too-long'))
      : text(x) === ''
        ? ''
        : text(x).repeat(count);
  }),
  CONCATENATE: define('text:t*', 'text', 'Texts put together.', 'CONCATENATE("a"; 1; "b") = "a1b"', (values) =>
    limited(values.map(text).join('')),
  ),
  TEXTJOIN: define(
    'between:t skip:b value:x*',
    'text',
    'Values and lists put together with a text between; blanks and empty texts left out when the second value is TRUE.',
    'TEXTJOIN(", "; TRUE; {"a";"";"b"}) = "a, b"',
    ([between, skip, ...values]) => {
      const words = opened(values).map(text);
      return limited((skip === true ? words.filter((w) => w !== '') : words).join(text(between)));
    },
  ),
  EXACT: define(
    'a:t b:t',
    'boolean',
    'TRUE when two texts are the same.',
    'EXACT("Hut"; "hut") = FALSE',
    ([a, b]) => text(a) === text(b),
  ),
  CHAR: define(
    'code:n',
    'text',
    'The character of a number from 1 to 255 in Windows-1252.',
    'CHAR(65) = "A"',
    ([x]) => {
      const code = whole(x);
      if (code < 1 || code > 255) return wrong(phrase('e-takes', { name: 'CHAR', values: '1…255' }));
      return fromWindows1252(Uint8Array.of(code));
    },
  ),
  CODE: define(
    'text:t',
    'number',
    'The number of the first character in Windows-1252; 63, a question mark, if it is not there.',
    'CODE("A") = 65',
    ([x]) => {
      const [first] = characters(x);
      if (first === undefined) return wrong(phrase('e-text-empty'));
      return toWindows1252(first)[0] ?? 63;
    },
  ),
  NUMBERVALUE: define(
    'text:t point:t? groups:t?',
    'number',
    'The number that a text writes, given its decimal and thousands separators.',
    'NUMBERVALUE("1.234,5"; ","; ".") = 1234.5',
    ([x, point, groups]) => {
      const given = text(x).replace(/\s/g, '');
      const found = given === '' ? 0 : writtenNumber(given, characters(point ?? '.')[0] ?? '', text(groups ?? ''));
      return found ?? wrong(phrase('e-no-number-text', { text: text(x).slice(0, 100) }));
    },
  ),
  UNICHAR: define('code:n', 'text', 'The character of a Unicode number.', 'UNICHAR(65) = "A"', ([x]) => {
    const code = whole(x);
    const real = code > 0 && code <= 0x10ffff && (code < 0xd800 || code > 0xdfff);
    return real ? String.fromCodePoint(code) : wrong(phrase('e-no-character'));
  }),
  UNICODE: define('text:t', 'number', 'The Unicode number of the first character.', 'UNICODE("A") = 65', ([x]) => {
    const code = text(x).codePointAt(0);
    return code === undefined ? wrong(phrase('e-text-empty')) : code;
  }),
  VALUE: define(
    'text:t',
    'number',
    'The number that a text writes: with a point before its fraction, commas between thousands, a percent sign, a currency’s sign, or brackets for a negative one. Of a day as 2025-07-12, its number.',
    'VALUE("12.50") = 12.5',
    ([x]) => {
      if (isNumeric(x)) return x;
      const day = CalendarDate.parse(text(x).trim());
      return day
        ? serialOf(day)
        : (writtenNumber(text(x), '.', ',') ?? wrong(phrase('e-no-number-text', { text: text(x).slice(0, 100) })));
    },
  ),
  FIXED: define(
    'value:n digits:n? plain:b?',
    'text',
    'A number as text with so many digits behind the point; grouped unless the third value is TRUE.',
    'FIXED(1234.567; 1) = "1,234.6"',
    ([x, digits, plain], { report }) => {
      const count = whole(digits, 2);
      if (Math.abs(count) > 100) return outOfRange(phrase('e-takes', { name: 'FIXED', values: '-100…100' }));
      const code = `${plain === true ? '0' : '#,##0'}${count > 0 ? `.${'0'.repeat(count)}` : ''}`;
      return formatValue(toDecimal(numeric(x)).round(count), code, report);
    },
  ),
  ROMAN: define('value:n', 'text', 'A number from 0 to 3999 in Roman numerals.', 'ROMAN(1994) = "MCMXCIV"', ([x]) => {
    let rest = Math.trunc(double(x));
    if (rest < 0 || rest > 3999)
      return new FormulaError('#VALUE!', phrase('e-takes', { name: 'ROMAN', values: '0…3999' }));
    let written = '';
    for (const [value, letters] of ROMAN) {
      while (rest >= value) {
        written += letters;
        rest -= value;
      }
    }
    return written;
  }),
};
