import type { Page } from '@gaveta/core/internal';

/** Without case and accents, as people type what they look for. */
const plain = (text: string): string => text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase();

const occurrences = (text: string, sought: string): number => {
  let count = 0;
  for (let at = text.indexOf(sought); at >= 0; at = text.indexOf(sought, at + sought.length)) count++;
  return count;
};

/** How often a text stands on a page, ignoring case and accents: in one text of it, or in texts that follow each other in a line. */
export const countOnPage = (page: Page, sought: string): number => {
  const wanted = plain(sought).trim();
  if (wanted === '') return 0;
  const texts = page.marks.flatMap((mark) => (mark.kind === 'text' ? [plain(mark.text)] : []));
  const alone = texts.reduce((sum, text) => sum + occurrences(text, wanted), 0);
  return alone > 0 ? alone : occurrences(texts.join(' '), wanted);
};

/** How often a text stands on pages, and on which ones. */
export const findOnPages = async (
  pages: AsyncIterable<{ page: Page; number: number }>,
  text: string,
): Promise<{ count: number; pages: number[] }> => {
  const found: number[] = [];
  let count = 0;
  for await (const { page, number } of pages) {
    const here = countOnPage(page, text);
    if (here > 0) found.push(number);
    count += here;
  }
  return { count, pages: found };
};
