import { linkAttributes } from './marks/link.ts';
import type { PictureAddress } from './marks/mark.ts';
import { escapeText, n } from './marks/svg-text.ts';
import { type Mark, roomOf } from './marks.ts';
import type { Page } from './page.ts';

/** A mark as an element; `level`: of a heading, to those who have it read, or null where nothing is said of it. */
export const markToSvg = (mark: Mark, addressOf: PictureAddress, level: number | null = null): string => {
  let made = mark.item ? ` data-item="${escapeText(mark.item)}"` : '';
  if ('opacity' in mark && mark.opacity !== undefined) made += ` opacity="${n(mark.opacity)}"`;
  if ('tip' in mark && mark.tip !== undefined) made += ` data-tip="${escapeText(mark.tip)}"`;
  if (level !== null && mark.kind === 'text') {
    if (mark.as === 'heading') made += ` role="heading" aria-level="${mark.level ?? level}"`;
    // What stands on every page is read once.
    if (mark.as === 'artifact') made += ' aria-hidden="true"';
  }
  // The figure that it is drawn for says what is to be said.
  if ('as' in mark && mark.as === 'drawing') made += ' aria-hidden="true"';
  // Words on a shape do not hide it from the pointer.
  if (mark.kind === 'text' && mark.as === 'drawing' && mark.tip === undefined) made += ' pointer-events="none"';
  const to = 'to' in mark && mark.kind !== 'link' ? mark.to : undefined;
  if (to && 'cell' in to) made += ` data-cell="${to.cell}"`;
  const svg = roomOf(mark).svg(mark, made, addressOf);
  return to && !('cell' in to) ? `<a ${linkAttributes(to)}>${svg}</a>` : svg;
};

/** What a browser must do so that text is as wide as the layout measured it, and where, whatever page is around it. */
const TEXT_RULES =
  'direction:ltr;white-space:pre;font-kerning:none;font-variant-ligatures:none;font-optical-sizing:none';

/** One page as the parts of an SVG document: what comes before its marks, and one element for each mark that is seen. */
export interface SvgPage {
  open: string;
  marks: string[];
}

/** How the SVG document of a page begins. */
export const svgOpening = (page: Pick<Page, 'width' | 'height'>): string =>
  `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${n(page.width)} ${n(page.height)}" width="${n(page.width)}pt" height="${n(page.height)}pt" style="${TEXT_RULES}"><rect width="100%" height="100%" fill="#fff"/>`;

export const pageToMarks = (page: Page, addressOf: PictureAddress): SvgPage => ({
  open: svgOpening(page),
  marks: page.marks.map((mark) => markToSvg(mark, addressOf)).filter((mark) => mark !== ''),
});

export const marksToSvg = ({ open, marks }: SvgPage): string => `${open}${marks.join('')}</svg>`;

/** One page as an SVG document whose units are points. Text stays text: it can be selected, searched and read aloud. */
export const pageToSvg = (page: Page, addressOf: PictureAddress): string => marksToSvg(pageToMarks(page, addressOf));
