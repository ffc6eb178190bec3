import { extentOf, type MarkRoom, never, type Seen } from './mark.ts';
import { escapeText, n, rectangle } from './svg-text.ts';

export interface PictureMark extends Seen {
  kind: 'picture';
  x: number;
  y: number;
  width: number;
  height: number;
  /** Hash of the picture, which travels apart and once: see {@link PagePicture}. */
  picture: string;
  alternative: string;
  /** What of it is seen, measured from its own top left corner; all of it when left out. */
  window?: { x: number; y: number; width: number; height: number };
}
/** A picture that pages show, told before the first of them. */
export interface PagePicture {
  /** SHA-256 of `source`, in hexadecimal digits: the same picture has the same hash in every run. */
  hash: string;
  /** A `data:` address of a PNG or JPEG. */
  source: string;
}

export const pictureRoom: MarkRoom<PictureMark> = {
  extent: extentOf,
  mayBeCut: never,
  cut: (mark, { at, full }) => {
    // Taller than a page: shown whole, as large as the page allows.
    const scale = Math.min(1, full / mark.height);
    const [width, height] = [mark.width * scale, Math.min(mark.height * scale, at - mark.y)];
    return [{ ...mark, width, height }, null];
  },
  svg: (mark, made, addressOf) => {
    const content = `preserveAspectRatio="none" href="${escapeText(addressOf(mark.picture))}"`;
    const title = `<title>${escapeText(mark.alternative)}</title>`;
    if (!mark.window) return `<image ${rectangle(mark)} ${content}${made}>${title}</image>`;
    // A picture of which a part is seen, as a window onto it.
    const { x, y, width, height } = mark.window;
    const place = rectangle({ x: mark.x + x, y: mark.y + y, width, height });
    return `<svg ${place} viewBox="${n(x)} ${n(y)} ${n(width)} ${n(height)}"${made}><image width="${n(mark.width)}" height="${n(mark.height)}" ${content}>${title}</image></svg>`;
  },
};
