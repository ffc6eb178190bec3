import { always, cutRectangle, extentOf, type LinkTarget, type Made, type MarkRoom } from './mark.ts';
import { escapeText, rectangle } from './svg-text.ts';

export interface LinkMark extends Made {
  kind: 'link';
  x: number;
  y: number;
  width: number;
  height: number;
  to: LinkTarget;
}

/** What a click leads to: an address as it is, anything else as JSON for the page around to follow. */
export const linkAttributes = (to: LinkTarget): string =>
  'address' in to
    ? `href="${escapeText(to.address)}" target="_blank" rel="noopener noreferrer"`
    : `href="#" data-link="${escapeText(JSON.stringify(to))}"`;

export const linkRoom: MarkRoom<LinkMark> = {
  extent: extentOf,
  mayBeCut: always,
  cut: cutRectangle,
  // A cell of a table is a rectangle that takes presses, and no link: there are very many of them.
  svg: (mark, made) =>
    'cell' in mark.to
      ? `<rect ${rectangle(mark)} fill="none" pointer-events="all" data-cell="${mark.to.cell}"${made}/>`
      : `<a ${linkAttributes(mark.to)}><rect ${rectangle(mark)} fill="none" pointer-events="all"${made}/></a>`,
};

/** Schemes that a link may have; anything else, as `javascript:`, is no link. */
const SAFE_ADDRESS = /^(https?:\/\/|mailto:|tel:)/i;

/** An address as a link may have it: an e-mail address becomes `mailto:`. Null when it must not be followed. */
export const safeAddress = (text: string): string | null => {
  const trimmed = text.trim();
  if (/^[^\s@:/]+@[^\s@/]+\.[^\s@/]+$/.test(trimmed)) return `mailto:${trimmed}`;
  return SAFE_ADDRESS.test(trimmed) && !/[\s"<>]/.test(trimmed) ? trimmed : null;
};
