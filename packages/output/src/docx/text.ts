import { escapeXml } from '../xml/escape.ts';

/** What a stretch of text is in a document: words, line ends and tabs. */
export const runText = (text: string): string =>
  text
    .split(/(\n|\t)/)
    .map((part) => {
      if (part === '\n') return '<w:br/>';
      if (part === '\t') return '<w:tab/>';
      return part === '' ? '' : `<w:t xml:space="preserve">${escapeXml(part)}</w:t>`;
    })
    .join('');
