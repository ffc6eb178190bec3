import type { CsvOptions } from './options.ts';

/** Signs of windows-1252 past those that it shares with Latin 1, by their code points (WHATWG Encoding, index windows-1252). */
const PLACES = new Map(
  [...'€\u0081‚ƒ„…†‡ˆ‰Š‹Œ\u008dŽ\u008f\u0090‘’“”•–—˜™š›œ\u009džŸ'].map((sign, i) => [sign.codePointAt(0)!, 0x80 + i]),
);

const QUESTION_MARK = 0x3f;

const windows1252 = (text: string): Uint8Array => {
  const bytes: number[] = [];
  for (const sign of text) {
    const code = sign.codePointAt(0)!;
    bytes.push(code < 0x80 || (code >= 0xa0 && code <= 0xff) ? code : (PLACES.get(code) ?? QUESTION_MARK));
  }
  return Uint8Array.from(bytes);
};

/** How text becomes bytes, and those that a file begins with. */
export const bytesIn = ({
  encoding,
  bom,
}: Pick<CsvOptions, 'encoding' | 'bom'>): { first: Uint8Array | null; encode: (text: string) => Uint8Array } => {
  switch (encoding) {
    case 'utf-8':
      return { first: bom ? Uint8Array.of(0xef, 0xbb, 0xbf) : null, encode: (text) => Buffer.from(text) };
    case 'utf-16':
      return { first: bom ? Uint8Array.of(0xff, 0xfe) : null, encode: (text) => Buffer.from(text, 'utf16le') };
    case 'windows-1252':
      return { first: null, encode: windows1252 };
    default:
      return encoding satisfies never;
  }
};
