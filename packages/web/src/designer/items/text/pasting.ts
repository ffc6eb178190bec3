import { Fragment, Slice } from 'prosemirror-model';
import { nodesOf } from './rich-text.ts';

const BLOCKS = 'p, div, li, tr, h1, h2, h3, h4, h5, h6, blockquote, pre';

/** Markup of another application with a line break between its innermost blocks: a text knows lines alone. */
export const withLines = (html: string): string => {
  const page = new DOMParser().parseFromString(html, 'text/html');
  const blocks = [...page.querySelectorAll(BLOCKS)].filter((block) => !block.querySelector(BLOCKS));
  for (const block of blocks.slice(0, -1)) block.append(page.createElement('br'));
  return page.body.innerHTML;
};

/** Plain text of the clipboard, as it is. */
export const sliceOfText = (text: string): Slice => new Slice(Fragment.from(nodesOf(text)), 0, 0);
