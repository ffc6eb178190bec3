import { sha256 } from '@noble/hashes/sha2';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils';
import { Inflate } from 'fflate';
import type { ItemOf } from '../../definition/schema.ts';
import type { PictureMark } from '../../page/page.ts';

interface Size {
  width: number;
  height: number;
}

export type PictureProblem = 'picture-damaged' | 'picture-too-large';

/** Width and height in pixels, read from the file’s header. Null when it is neither PNG nor JPEG. */
export const pictureSize = (source: string): Size | null => looked(source).size;

/**
 * Why a picture cannot be shown; null when it can. `maxPixels`: width times height. The picture data of a PNG are
 * unpacked to see that they are whole, which takes a moment the first time that a picture comes.
 */
export const pictureProblem = (source: string, maxPixels: number): PictureProblem | null => {
  const { size, isWhole } = looked(source);
  if (!size || size.width === 0 || size.height === 0) return 'picture-damaged';
  if (size.width * size.height > maxPixels) return 'picture-too-large';
  return isWhole() ? null : 'picture-damaged';
};

interface Looked {
  size: Size | null;
  isWhole: () => boolean;
  hash: () => string;
}

/** The name by which marks know a picture. Worked out once for as long as the picture keeps coming. */
export const pictureHash = (source: string): string => looked(source).hash();

/** What was found of pictures, the last ones; most reports show the same few again and again. */
const KEPT = 200;
const known = new Map<string, Looked>();

const looked = (source: string): Looked => {
  let found = known.get(source);
  if (found) return found;
  const bytes = bytesOf(source);
  const size = bytes && sizeOf(bytes);
  let whole: boolean | null = null;
  let hash: string | null = null;
  found = {
    size,
    hash: () => {
      hash ??= bytesToHex(sha256(utf8ToBytes(source)));
      return hash;
    },
    isWhole: () => {
      whole ??= bytes !== null && size !== null && isComplete(bytesOf(source)!, size);
      return whole;
    },
  };
  if (known.size >= KEPT) known.clear();
  known.set(source, found);
  return found;
};

const bytesOf = (source: string): Uint8Array | null => {
  const start = /^data:image\/(?:png|jpeg);base64,/.exec(source)?.[0].length;
  if (start === undefined) return null;
  try {
    return Uint8Array.from(atob(source.slice(start)), (c) => c.charCodeAt(0));
  } catch {
    return null;
  }
};

const PNG = [0x89504e47, 0x0d0a1a0a] as const;

const viewOf = (bytes: Uint8Array): DataView => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);

const isPng = (bytes: Uint8Array): boolean => {
  const view = viewOf(bytes);
  return bytes.length > 33 && view.getUint32(0) === PNG[0] && view.getUint32(4) === PNG[1];
};

const sizeOf = (bytes: Uint8Array): Size | null => {
  const view = viewOf(bytes);
  if (isPng(bytes)) return { width: view.getUint32(16), height: view.getUint32(20) };
  if (bytes.length < 4 || view.getUint16(0) !== 0xffd8) return null;
  for (let at = 2; at + 9 < bytes.length; ) {
    if (bytes[at] !== 0xff) return null;
    const marker = bytes[at + 1]!;
    const isFrame = marker >= 0xc0 && marker <= 0xcf && marker !== 0xc4 && marker !== 0xc8 && marker !== 0xcc;
    if (isFrame) return { width: view.getUint16(at + 7), height: view.getUint16(at + 5) };
    at += 2 + view.getUint16(at + 2);
  }
  return null;
};

/** Whether nothing of the file is missing. A JPEG is only asked for its end: readers show what there is of one. */
const isComplete = (bytes: Uint8Array, size: Size): boolean => {
  if (!isPng(bytes)) return bytes.lastIndexOf(0xd9) > bytes.lastIndexOf(0xda);
  return unpackedLength(bytes) >= lengthWanted(bytes, size);
};

const SAMPLES: Readonly<Record<number, number>> = { 0: 1, 2: 3, 3: 1, 4: 2, 6: 4 };

/** Adam7 (PNG, section 8.2): where each pass starts and how far its pixels lie apart. */
const PASSES = [
  [0, 0, 8, 8],
  [4, 0, 8, 8],
  [0, 4, 4, 8],
  [2, 0, 4, 4],
  [0, 2, 2, 4],
  [1, 0, 2, 2],
  [0, 1, 1, 2],
] as const;

/** Bytes that the pixels take before they are packed: each row with a byte that says how it is filtered. */
const lengthWanted = (bytes: Uint8Array, { width, height }: Size): number => {
  const bits = bytes[24]! * (SAMPLES[bytes[25]!] ?? Number.POSITIVE_INFINITY);
  const rows = (across: number, down: number): number => (across > 0 ? down * (1 + Math.ceil((across * bits) / 8)) : 0);
  if (bytes[28] === 0) return rows(width, height);
  return PASSES.reduce((sum, [x, y, dx, dy]) => {
    return sum + rows(Math.ceil((width - x) / dx), Math.max(0, Math.ceil((height - y) / dy)));
  }, 0);
};

/** Bytes that the picture data unpack to; -1 when they cannot be read. */
const unpackedLength = (bytes: Uint8Array): number => {
  const view = viewOf(bytes);
  let length = 0;
  let first = true;
  let isEnded = false;
  const inflate = new Inflate((part) => {
    length += part.length;
  });
  try {
    for (let at = 8; at + 12 <= bytes.length; ) {
      const size = view.getUint32(at);
      const type = view.getUint32(at + 4);
      if (at + 12 + size > bytes.length) return -1;
      if (type === 0x49454e44) isEnded = true;
      else if (type === 0x49444154 && size > 0) {
        // The first two bytes say how the stream was packed; the four at its end are its check sum.
        inflate.push(bytes.subarray(at + 8 + (first ? 2 : 0), at + 8 + size));
        first = false;
      }
      at += 12 + size;
    }
  } catch {
    return -1;
  }
  return isEnded ? length : -1;
};

/** Places a picture in its box. Lengths in points. */
export const layPicture = (
  source: string,
  item: ItemOf<'picture'>,
  box: { x: number; y: number; width: number; height: number },
): PictureMark => {
  const size = pictureSize(source)!;
  const mark: PictureMark = {
    kind: 'picture',
    ...box,
    picture: pictureHash(source),
    alternative: item.alternative,
    item: item.id,
  };
  if (item.opacity !== undefined && item.opacity < 1) mark.opacity = item.opacity;
  if (item.fit === 'stretch') return mark;
  const across = box.width / size.width;
  const down = box.height / size.height;
  const scale = item.fit === 'real' ? 72 / 96 : item.fit === 'fill' ? Math.max(across, down) : Math.min(across, down);
  mark.width = size.width * scale;
  mark.height = size.height * scale;
  mark.x += (box.width - mark.width) / 2;
  mark.y += (box.height - mark.height) / 2;
  const over = { x: Math.max(0, box.x - mark.x), y: Math.max(0, box.y - mark.y) };
  if (over.x > 0.01 || over.y > 0.01) {
    const seen = { width: Math.min(mark.width, box.width), height: Math.min(mark.height, box.height) };
    mark.window = { ...over, ...seen };
  }
  return mark;
};
