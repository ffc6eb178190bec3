import { phrase } from '../../problems/phrases.ts';
import { currencyFormat } from '../../text/currency.ts';
import { formatValue } from '../../text/format.ts';
import { parseNumeric } from '../../value/number.ts';
import { FormulaError, type Value } from '../../value/value.ts';
import {
  characters,
  define,
  double,
  type FunctionTable,
  flatten,
  numeric,
  outOfRange,
  text,
  whole,
  wrong,
} from './define.ts';

/** Longest text that a formula may make; past it the formula gives #VALUE!. */
export const MAX_TEXT = 1_000_000;

export const limited = (value: string): Value => (value.length > MAX_TEXT ? wrong(phrase('e-text-too-long')) : value);

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
    ([x, part]) => text(x).toLowerCase().startsWith(text(part).toLowerCase()),
  ),
  ENDSWITH: define(
    'text:t part:t',
    'boolean',
    'TRUE when a text ends with a part, capitals or not. (Gaveta’s own.)',
    'ENDSWITH("Pedra Longa"; "longa") = TRUE',
    ([x, part]) => text(x).toLowerCase().endsWith(text(part).toLowerCase()),
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
  UPPER: define('text:t', 'text', 'In capital letters.', 'UPPER("hut") = "HUT"', ([x]) => text(x).toUpperCase()),
  LOWER: define('text:t', 'text', 'In small letters.', 'LOWER("Hut") = "hut"', ([x]) => text(x).toLowerCase()),
  PROPER: define('text:t', 'text', 'Each word with a capital letter.', 'PROPER("lago FRIO") = "Lago Frio"', ([x]) =>
    text(x)
      .toLowerCase()
      .replace(/(?<![\p{L}\p{M}'’])\p{L}/gu, (c) => c.toUpperCase()),
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
    characters(x)
      .slice(0, Math.max(0, whole(n, 1)))
      .join(''),
  ),
  RIGHT: define('text:t count:n?', 'text', 'The last characters.', 'RIGHT("Brecha"; 3) = "cha"', ([x, n]) => {
    const count = Math.max(0, whole(n, 1));
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
      return characters(x)
        .slice(start, start + Math.max(0, whole(n)))
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
    'As FIND, with capitals and small letters taken as equal.',
    'SEARCH("CH"; "Brecha") = 4',
    ([part, x, from]) => find(text(part).toLowerCase(), text(x).toLowerCase(), whole(from, 1)),
  ),
  CONTAINS: define(
    'text:t part:t',
    'boolean',
    'TRUE when the part stands in the text; capitals do not matter. (Gaveta’s own.)',
    'CONTAINS("Half board"; "BOARD") = TRUE',
    ([x, part]) => text(x).toLowerCase().includes(text(part).toLowerCase()),
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
      return limited(
        list.slice(0, start).join('') + text(put) + list.slice(start + Math.max(0, whole(count))).join(''),
      );
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
      const words = flatten(values).map(text);
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
    'The number that a text writes, with a point before its fraction.',
    'VALUE("12.50") = 12.5',
    ([x]) =>
      parseNumeric(
        text(x)
          .trim()
          .replace(/,(?=\d{3})/g, ''),
      ) ?? wrong(phrase('e-no-number-text', { text: text(x) })),
  ),
  FIXED: define(
    'value:n digits:n? plain:b?',
    'text',
    'A number as text with so many digits behind the point; grouped unless the third value is TRUE.',
    'FIXED(1234.567; 1) = "1,234.6"',
    ([x, digits, plain], { report }) => {
      const count = whole(digits, 2);
      if (count < 0 || count > 100) return outOfRange(phrase('e-takes', { name: 'FIXED', values: '0…100' }));
      const code = `${plain === true ? '0' : '#,##0'}${count > 0 ? `.${'0'.repeat(count)}` : ''}`;
      return formatValue(numeric(x), code, report);
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
