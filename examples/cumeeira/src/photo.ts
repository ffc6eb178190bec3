import { deflateSync } from 'node:zlib';
import type { Random } from './random.ts';

const crcTable = Array.from({ length: 256 }, (_, i) => {
  let c = i;
  for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
  return c >>> 0;
});

const crc = (data: Buffer): number => {
  let c = 0xffffffff;
  for (const byte of data) c = crcTable[(c ^ byte) & 255]! ^ (c >>> 8);
  return (c ^ 0xffffffff) >>> 0;
};

const chunk = (type: string, data: Buffer): Buffer => {
  const body = Buffer.concat([Buffer.from(type, 'latin1'), data]);
  const out = Buffer.alloc(body.length + 8);
  out.writeUInt32BE(data.length, 0);
  body.copy(out, 4);
  out.writeUInt32BE(crc(body), body.length + 4);
  return out;
};

/** A drawn hut under its ridge, as a PNG of 120 by 84 pixels. */
export const drawHut = (random: Random): Buffer => {
  const [width, height] = [120, 84];
  const sky = random.pick([
    [196, 214, 222],
    [226, 208, 190],
    [206, 219, 205],
    [214, 208, 224],
  ] as const);
  const rock = random.pick([
    [122, 128, 130],
    [134, 120, 106],
    [104, 120, 116],
  ] as const);
  const wall = random.pick([
    [150, 98, 66],
    [176, 140, 88],
    [120, 76, 64],
  ] as const);
  const [a, b, c] = [random.whole(5, 20), random.whole(2, 9), random.unit() * 6];
  const peak = random.whole(24, 96);
  const hutX = random.whole(34, 70);
  const raw = Buffer.alloc(height * (1 + width * 3));
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const ridge = 30 + Math.abs(x - peak) * 0.35 - a * Math.sin(x / 17 + c) * 0.5 - b * Math.sin(x / 5 + c);
      const meadow = 62 + 3 * Math.sin(x / 23 + c);
      const inWall = x >= hutX && x < hutX + 26 && y >= 52 && y < 68;
      const inRoof = y >= 42 && y < 52 && Math.abs(x - hutX - 13) <= (y - 41) * 1.8;
      const inDoor = x >= hutX + 10 && x < hutX + 16 && y >= 58 && y < 68;
      const pixel = inDoor
        ? [60, 44, 38]
        : inWall
          ? wall
          : inRoof
            ? [84, 58, 54]
            : y > meadow
              ? [126, 146, 104]
              : y > ridge
                ? y < ridge + 6 && ridge < 32
                  ? [238, 240, 240]
                  : rock
                : [sky[0] + y * 0.3, sky[1] + y * 0.3, sky[2] + y * 0.2];
      const at = y * (1 + width * 3) + 1 + x * 3;
      for (let i = 0; i < 3; i++) raw[at + i] = Math.min(255, Math.round(pixel[i]!));
    }
  }
  const header = Buffer.alloc(13);
  header.writeUInt32BE(width, 0);
  header.writeUInt32BE(height, 4);
  header.set([8, 2, 0, 0, 0], 8);
  return Buffer.concat([
    Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]),
    chunk('IHDR', header),
    chunk('IDAT', deflateSync(raw, { level: 9 })),
    chunk('IEND', Buffer.alloc(0)),
  ]);
};
