import { type Encoding, fromWindows1252, phrase } from '@gaveta/core/internal';
import { SourceError } from './raw.ts';

/** A text of bytes, in an encoding that is given or found out. Throws SourceError for what is no text. */
export const asText = (bytes: Uint8Array, encoding?: Encoding): string => {
  const text = encoding ? new TextDecoder(encoding).decode(bytes) : decoded(bytes);
  if (text.includes('\0')) throw new SourceError(phrase('file-no-text'));
  return text;
};

const decoded = (bytes: Uint8Array): string => {
  const [first, second] = bytes;
  if (first === 0xff && second === 0xfe) return new TextDecoder('utf-16le').decode(bytes);
  if (first === 0xfe && second === 0xff) return new TextDecoder('utf-16be').decode(bytes);
  const unmarked = withoutMark(bytes);
  if (unmarked) return new TextDecoder(unmarked).decode(bytes);
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes).replace(/^\uFEFF/, '');
  } catch {
    // What is no UTF-8 was saved by an older program in the alphabet of Western Europe.
    return fromWindows1252(bytes);
  }
};

/** The kind of UTF-16 of a text that does not say so at its beginning: every second byte of what it begins with is 0. */
const withoutMark = (bytes: Uint8Array): 'utf-16le' | 'utf-16be' | null => {
  const begin = bytes.subarray(0, 400);
  if (begin.length < 4 || bytes.length % 2 !== 0) return null;
  const zeros = [0, 0];
  for (const [i, byte] of begin.entries()) if (byte === 0) zeros[i % 2]!++;
  const [even, odd] = zeros as [number, number];
  const most = begin.length / 2;
  if (odd > most * 0.7 && even === 0) return 'utf-16le';
  return even > most * 0.7 && odd === 0 ? 'utf-16be' : null;
};
