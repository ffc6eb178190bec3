import { promisify } from 'node:util';
import { deflate } from 'node:zlib';
import { convertIndexedToRgb, decode } from 'fast-png';

const pack = promisify(deflate);

/** A picture as a PDF holds it: packed samples of one byte each, its transparency apart. */
export interface PackedPicture {
  width: number;
  height: number;
  /** Samples of each pixel: 1 for grey, 3 for red, green and blue. */
  samples: 1 | 3;
  colors: Uint8Array;
  /** One sample for each pixel; null where every pixel is opaque. */
  alpha: Uint8Array | null;
}

/** Unpacks a PNG of any kind and packs it as a PDF needs it. Throws when the file is damaged. */
export const packPng = async (bytes: Uint8Array): Promise<PackedPicture> => {
  const decoded = decode(bytes);
  const { width, height } = decoded;
  const channels = decoded.palette ? decoded.palette[0]!.length : decoded.channels;
  const data = decoded.palette ? convertIndexedToRgb(decoded) : decoded.data;
  const shift = data instanceof Uint16Array ? 8 : 0;
  // Grey of 1, 2 or 4 bits is spread over the whole byte.
  const scale = !decoded.palette && decoded.depth < 8 ? 255 / (2 ** decoded.depth - 1) : 1;
  const samples = channels < 3 ? 1 : 3;
  const pixels = width * height;
  const colors = new Uint8Array(pixels * samples);
  const alpha = channels > samples ? new Uint8Array(pixels) : null;
  const whole = scale === 1 ? data : spread(data, decoded.depth, width, height);
  let isOpaque = true;
  for (let i = 0, from = 0, to = 0; i < pixels; i++, from += channels) {
    for (let s = 0; s < samples; s++) colors[to++] = (whole[from + s]! * scale) >> shift;
    if (!alpha) continue;
    alpha[i] = whole[from + samples]! >> shift;
    if (alpha[i] !== 255) isOpaque = false;
  }
  return {
    width,
    height,
    samples,
    colors: await pack(colors),
    alpha: alpha && !isOpaque ? await pack(alpha) : null,
  };
};

/** Samples of less than a byte, taken apart; each row begins with a byte of its own. */
const spread = (
  data: Uint8Array | Uint8ClampedArray | Uint16Array,
  depth: number,
  width: number,
  height: number,
): Uint8Array => {
  const row = Math.ceil((width * depth) / 8);
  const out = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const bit = x * depth;
      const byte = data[y * row + (bit >> 3)]!;
      out[y * width + x] = (byte >> (8 - depth - (bit & 7))) & (2 ** depth - 1);
    }
  }
  return out;
};
