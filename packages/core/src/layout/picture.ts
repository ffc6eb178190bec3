import type { ItemOf } from '../definition/schema.ts';
import type { PictureMark } from '../page/page.ts';

/** Width and height in pixels, read from the file's header. Null when it is neither PNG nor JPEG. */
export const pictureSize = (source: string): { width: number; height: number } | null => {
  const known = sizes.get(source);
  if (known !== undefined) return known;
  const size = readSize(source.slice(source.indexOf(',') + 1));
  if (sizes.size > 200) sizes.clear();
  sizes.set(source, size);
  return size;
};

const sizes = new Map<string, { width: number; height: number } | null>();

const readSize = (base64: string): { width: number; height: number } | null => {
  let bytes: Uint8Array;
  try {
    bytes = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
  } catch {
    return null;
  }
  const view = new DataView(bytes.buffer);
  if (bytes.length > 24 && view.getUint32(0) === 0x89504e47)
    return { width: view.getUint32(16), height: view.getUint32(20) };
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

/** Places a picture in its box; null when it cannot be read. Lengths in points. */
export const layPicture = (
  source: string,
  item: ItemOf<'picture'>,
  box: { x: number; y: number; width: number; height: number },
): PictureMark | null => {
  const size = pictureSize(source);
  if (!size || size.width === 0 || size.height === 0) return null;
  const mark: PictureMark = { kind: 'picture', ...box, source, alternative: item.alternative, item: item.id };
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
