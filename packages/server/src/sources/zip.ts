import { Unzip, UnzipInflate } from 'fflate';
import { SourceError } from './raw.ts';

/** Bytes of a zip that are unpacked at once. */
const STRETCH = 65_536;

/**
 * Unpacks a zip piece by piece, so that whoever takes the pieces can refuse it before it fills anything, whatever it says of
 * its size. What `piece` throws is thrown; `none` makes the error for what is no zip.
 */
export const throughZip = (
  bytes: Uint8Array,
  piece: (name: string, bytes: Uint8Array, isLast: boolean) => void,
  none: () => SourceError,
): void => {
  // What is thrown below goes through the unpacking code, which makes errors of its own out of it.
  let refused: SourceError | null = null;
  let isZip = false;
  const unzip = new Unzip((file) => {
    isZip = true;
    file.ondata = (error, part, isLast) => {
      if (error) throw error;
      try {
        piece(file.name, part, isLast);
      } catch (thrown) {
        if (thrown instanceof SourceError) refused ??= thrown;
        throw thrown;
      }
    };
    file.start();
  });
  unzip.register(UnzipInflate);
  try {
    for (let at = 0; at < bytes.length; at += STRETCH)
      unzip.push(bytes.subarray(at, at + STRETCH), at + STRETCH >= bytes.length);
  } catch {
    throw refused ?? none();
  }
  if (refused) throw refused;
  if (!isZip) throw none();
};
