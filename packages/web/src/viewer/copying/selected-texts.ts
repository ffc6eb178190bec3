import type { PlacedText } from './table-text.ts';

const numberOf = (element: Element, name: string): number => Number(element.getAttribute(name) ?? 0);

const isHidden = (text: SVGTextElement): boolean => text.closest('[aria-hidden="true"]') !== null;

/** A part of a text of a page where it stands; in points, by its own page. */
export const placed = (text: SVGTextElement, from: number, to: number): PlacedText | null => {
  const whole = text.textContent ?? '';
  const part = whole.slice(from, to);
  const page = text.closest('[data-page]');
  if (part.trim() === '' || !page || isHidden(text)) return null;
  const size = numberOf(text, 'font-size');
  const count = Math.min(to, text.getNumberOfChars());
  const start = from < count ? text.getStartPositionOfChar(from).x : numberOf(text, 'x');
  const width = from < count ? text.getSubStringLength(from, count - from) : 0;
  const isLeftwards = text.getAttribute('direction') === 'rtl';
  return {
    page: Number(page.getAttribute('data-page')),
    x: isLeftwards ? start - width : start,
    y: numberOf(text, 'y'),
    width,
    size,
    text: part,
  };
};

/** The texts of pages that are selected, or the parts of them. */
export const selectedTexts = (selection: Selection, pages: Element): PlacedText[] => {
  if (selection.isCollapsed || selection.rangeCount === 0) return [];
  const range = selection.getRangeAt(0);
  const found: PlacedText[] = [];
  for (const text of pages.querySelectorAll<SVGTextElement>('svg text')) {
    const node = text.firstChild;
    if (!node || !range.intersectsNode(node)) continue;
    const length = node.textContent?.length ?? 0;
    const from = range.startContainer === node ? range.startOffset : 0;
    const to = range.endContainer === node ? range.endOffset : length;
    const part = placed(text, from, to);
    if (part) found.push(part);
  }
  return found;
};

/** All texts of the bands of one kind on a page, with those of headings above them. */
export const tableAround = (text: Element): PlacedText[] => {
  const svg = text.closest('svg');
  if (!svg) return [];
  return [...svg.querySelectorAll<SVGTextElement>('text')].flatMap((one) => {
    const part = placed(one, 0, one.textContent?.length ?? 0);
    return part ? [part] : [];
  });
};
