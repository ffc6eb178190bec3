import type { LinkTarget, Mark, Page, PictureMark } from './page.ts';

const escapeText = (text: string): string =>
  text
    .replace(/[&<>"]/g, (c) => (c === '&' ? '&amp;' : c === '<' ? '&lt;' : c === '>' ? '&gt;' : '&quot;'))
    // Characters that XML cannot hold.
    // biome-ignore lint/suspicious/noControlCharactersInRegex: these are the ones to take out
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '\ufffd');

const n = (value: number): string => String(Math.round(value * 1000) / 1000);

const splitKey = (key: string): { family: string; weight: string; italic: boolean } => {
  const slash = key.lastIndexOf('/');
  const face = key.slice(slash + 1);
  return { family: key.slice(0, slash), weight: face.replace('i', ''), italic: face.endsWith('i') };
};

const dashes = (dash: number[] | undefined): string => (dash ? ` stroke-dasharray="${dash.map(n).join(' ')}"` : '');

/** What a click leads to: an address as it is, anything else as JSON for the page around to follow. */
const linkAttributes = (to: LinkTarget): string =>
  'address' in to
    ? `href="${escapeText(to.address)}" target="_blank" rel="noopener noreferrer"`
    : `href="#" data-link="${escapeText(JSON.stringify(to))}"`;

/** Where a picture is found, by its hash. */
export type PictureAddress = (hash: string) => string;

/** A picture of which a part is seen, as a window onto it. */
const windowed = (mark: PictureMark, made: string, addressOf: PictureAddress): string => {
  const { x, y, width, height } = mark.window!;
  const place = `x="${n(mark.x + x)}" y="${n(mark.y + y)}" width="${n(width)}" height="${n(height)}"`;
  return `<svg ${place} viewBox="${n(x)} ${n(y)} ${n(width)} ${n(height)}"${made}><image width="${n(mark.width)}" height="${n(mark.height)}" preserveAspectRatio="none" href="${escapeText(addressOf(mark.picture))}"><title>${escapeText(mark.alternative)}</title></image></svg>`;
};

const markToSvg = (mark: Mark, addressOf: PictureAddress): string => {
  const item = mark.item ? ` data-item="${escapeText(mark.item)}"` : '';
  const made = 'opacity' in mark && mark.opacity !== undefined ? `${item} opacity="${n(mark.opacity)}"` : item;
  switch (mark.kind) {
    case 'text': {
      const { family, weight, italic } = splitKey(mark.font);
      const slant = italic ? ' font-style="italic"' : '';
      const bold = weight === '400' ? '' : ` font-weight="${weight}"`;
      // The right-to-left start is the right end of the run.
      const x = mark.rtl ? mark.x + mark.width : mark.x;
      const direction = mark.rtl ? ' direction="rtl"' : '';
      const turn = mark.turn ? ` transform="rotate(${n(mark.turn)} ${n(mark.x)} ${n(mark.y)})"` : '';
      return `<text x="${n(x)}" y="${n(mark.y)}" font-family="'${escapeText(family)}'" font-size="${n(mark.size)}"${bold}${slant}${direction}${turn} fill="${escapeText(mark.color)}"${made}>${escapeText(mark.text)}</text>`;
    }
    case 'line': {
      return `<line x1="${n(mark.x)}" y1="${n(mark.y)}" x2="${n(mark.x2)}" y2="${n(mark.y2)}" stroke="${escapeText(mark.color)}" stroke-width="${n(mark.thickness)}"${dashes(mark.dash)}${made}/>`;
    }
    case 'rectangle': {
      const stroke = mark.stroke ? ` stroke="${escapeText(mark.stroke)}" stroke-width="${n(mark.thickness ?? 1)}"` : '';
      const radius = mark.radius ? ` rx="${n(mark.radius)}"` : '';
      return `<rect x="${n(mark.x)}" y="${n(mark.y)}" width="${n(mark.width)}" height="${n(mark.height)}"${radius} fill="${escapeText(mark.fill ?? 'none')}"${stroke}${dashes(mark.dash)}${made}/>`;
    }
    case 'picture':
      if (mark.window) return windowed(mark, made, addressOf);
      return `<image x="${n(mark.x)}" y="${n(mark.y)}" width="${n(mark.width)}" height="${n(mark.height)}" preserveAspectRatio="none" href="${escapeText(addressOf(mark.picture))}"${made}><title>${escapeText(mark.alternative)}</title></image>`;
    case 'shape': {
      const path = mark.polygons
        .map((p) => p.reduce((d, v, i) => d + (i === 0 ? 'M' : i % 2 === 1 ? ' ' : 'L') + n(v), ''))
        .join('Z');
      return `<path transform="translate(${n(mark.x)} ${n(mark.y)}) scale(${mark.scale.toFixed(5)})" d="${path}Z" fill="${escapeText(mark.color)}" fill-rule="evenodd" shape-rendering="crispEdges"${made}><title>${escapeText(mark.alternative)}</title></path>`;
    }
    case 'region':
      return `<rect x="${n(mark.x)}" y="${n(mark.y)}" width="${n(mark.width)}" height="${n(mark.height)}" fill="none" pointer-events="none" data-band="${escapeText(mark.band)}" data-rows="${escapeText(mark.rows)}"/>`;
    case 'link':
      return `<a ${linkAttributes(mark.to)}><rect x="${n(mark.x)}" y="${n(mark.y)}" width="${n(mark.width)}" height="${n(mark.height)}" fill="none" pointer-events="all"${item}/></a>`;
    case 'anchor':
      return `<g data-anchor="${escapeText(mark.name)}" transform="translate(${n(mark.x)} ${n(mark.y)})"/>`;
    case 'outline':
      return '';
    default:
      return mark satisfies never;
  }
};

/** What a browser must do so that text is as wide as the layout measured it. */
const TEXT_RULES = 'white-space:pre;font-kerning:none;font-variant-ligatures:none;font-optical-sizing:none';

/** One page as the parts of an SVG document: what comes before its marks, and one element for each mark that is seen. */
export interface SvgPage {
  open: string;
  marks: string[];
}

export const pageToMarks = (page: Page, addressOf: PictureAddress): SvgPage => ({
  open: `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${n(page.width)} ${n(page.height)}" width="${n(page.width)}pt" height="${n(page.height)}pt" style="${TEXT_RULES}"><rect width="100%" height="100%" fill="#fff"/>`,
  marks: page.marks.map((mark) => markToSvg(mark, addressOf)).filter((mark) => mark !== ''),
});

export const marksToSvg = ({ open, marks }: SvgPage): string => `${open}${marks.join('')}</svg>`;

/** One page as an SVG document whose units are points. Text stays text: it can be selected, searched and read aloud. */
export const pageToSvg = (page: Page, addressOf: PictureAddress): string => marksToSvg(pageToMarks(page, addressOf));
