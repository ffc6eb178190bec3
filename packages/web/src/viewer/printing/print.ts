import { type Page, pageToSvg } from '@gaveta/core/internal';
import type { PagePictures } from '../pictures.ts';
import { somePages } from './some-pages.ts';

/** Pages that can be put into one print job; more are printed from the PDF. */
export const MOST_PRINTED = 1000;

/** Puts pages, by their 1-based numbers, into the document's print part, opens the browser's print window, and takes them out again. */
export const printRun = async (run: string, numbers: readonly number[], pictures: PagePictures): Promise<void> => {
  const pages: Page[] = [];
  for await (const { page } of somePages(run, numbers)) pages.push(page);
  const first = pages[0];
  if (!first) return;
  const root = document.createElement('div');
  root.id = 'print-root';
  await pictures.load(pages);
  const papers = [...new Set(pages.map(paperOf))];
  root.innerHTML = pages
    .map((page) => `<div class="paper-${papers.indexOf(paperOf(page))}">${pageToSvg(page, pictures.address)}</div>`)
    .join('');
  const style = document.createElement('style');
  style.textContent = papers
    .map((size, i) => `@page paper-${i} { size: ${size}; margin: 0 } .paper-${i} { page: paper-${i} }`)
    .join('\n');
  document.body.append(root, style);
  // A picture that is not unpacked yet would be missing on paper.
  await Promise.all([...root.querySelectorAll('image')].map(unpacked));
  // Those of the pages alone: one of the interface that does not come would hold up the print for ever.
  await Promise.all(fontsOf(pages).map((font) => document.fonts.load(font).catch(() => [])));
  const tidy = (): void => {
    root.remove();
    style.remove();
  };
  window.addEventListener('afterprint', tidy, { once: true });
  window.print();
};

/** The fonts of pages, as CSS names them. */
export const fontsOf = (pages: readonly Page[]): string[] => {
  const keys = new Set(
    pages.flatMap(({ marks }) => marks.flatMap((mark) => (mark.kind === 'text' ? [mark.font] : []))),
  );
  return [...keys].map((key) => {
    const slash = key.lastIndexOf('/');
    const face = key.slice(slash + 1);
    const slant = face.endsWith('i') ? 'italic ' : '';
    return `${slant}${face.replace('i', '')} 12px "${key.slice(0, slash)}"`;
  });
};

const paperOf = ({ width, height }: Page): string => `${width}pt ${height}pt`;

const unpacked = async (image: SVGImageElement): Promise<void> => {
  const copy = new Image();
  copy.src = image.href.baseVal;
  await copy.decode().catch(() => {});
};
