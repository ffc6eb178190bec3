import type { AskedValue } from '@gaveta/core/internal';

/** A value on a page: what it shows, and how it is asked about. */
export interface ShownValue {
  asked: AskedValue;
  text: string;
  element: Element;
}

interface Region {
  band: string;
  rows: string;
}

const number = (element: Element, name: string): number => Number(element.getAttribute(name));

/** Whether a region reaches over a height. */
const reaches = (element: Element, y: number): boolean => {
  const top = number(element, 'y');
  return top <= y + 1 && top + number(element, 'height') >= y - 1;
};

/** The band and the row that a mark is of: a region follows what stands in it; what comes late stands after all of them. */
const regionOf = (mark: Element, svg: Element, y: number): Region | null => {
  const read = (element: Element): Region => ({
    band: element.getAttribute('data-band') ?? '',
    rows: element.getAttribute('data-rows') ?? '',
  });
  const around = [...svg.querySelectorAll('rect[data-band]')].filter((one) => reaches(one, y));
  const following = around.find((one) => mark.compareDocumentPosition(one) & Node.DOCUMENT_POSITION_FOLLOWING);
  if (following) return read(following);
  const lowest = around.sort((a, b) => number(a, 'height') - number(b, 'height'))[0];
  return lowest ? read(lowest) : null;
};

/** The middle of a mark, in points from the top of its page. */
const heightOf = (mark: Element): number => {
  if (mark.tagName === 'text') return number(mark, 'y');
  const box = (mark as SVGGraphicsElement).getBBox();
  return box.y + box.height / 2;
};

/** The value that an element of a page shows, or is a part of; null where there is none. */
export const valueAt = (target: EventTarget | null): ShownValue | null => {
  if (!(target instanceof Element)) return null;
  const element = target.closest('[data-item]');
  const page = element?.closest('[data-page]');
  const svg = element?.closest<SVGElement>('svg');
  const item = element?.getAttribute('data-item');
  if (!element || !page || !svg || !item) return null;
  const region = regionOf(element, svg, heightOf(element));
  const cell = element.getAttribute('data-cell');
  return {
    asked: {
      item,
      band: region?.band ?? null,
      rows: region?.rows ?? null,
      cell: cell === null ? null : Number(cell),
      page: Number(page.getAttribute('data-page')),
    },
    text: element.tagName === 'text' ? (element.textContent ?? '') : (element.getAttribute('data-tip') ?? ''),
    element,
  };
};

/** The value under a point: one that a link lies over as well. */
export const valueUnder = (target: EventTarget | null, x: number, y: number): ShownValue | null => {
  const under = document.elementsFromPoint(x, y).filter((one) => one.closest('[data-page]'));
  const text = under.find((one) => one.tagName === 'text' || one.hasAttribute('data-cell'));
  return valueAt(text ?? target);
};
