import { toWindows1252 } from '@gaveta/core/internal';
import type { CsvOptions } from './options.ts';

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
      return { first: null, encode: toWindows1252 };
    default:
      return encoding satisfies never;
  }
};
