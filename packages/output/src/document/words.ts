import type { ContentPart, LinkTarget, TextRun } from '@gaveta/core/internal';
import { wellFormed } from '../values.ts';
import type { DocumentNode, RowNode } from './nodes.ts';

/** Control characters, which mean something to whoever shows plain text. */
const CONTROL = /(?![\t\n])\p{Cc}|[\u2028\u2029]/gu;

/** Words as plain text may hold them. */
export const plainWords = (text: string): string => wellFormed(text).replace(CONTROL, ' ');

/** How a stretch of text is written. */
export type Wording = (words: string, run: TextRun, to: LinkTarget | undefined) => string;

const AS_IT_IS: Wording = (words) => words;

/** The words of a part: its text, or what a picture says to who does not see it. Numbers of pages have none. */
export const wordsOf = ({ content, to }: ContentPart, wording: Wording = AS_IT_IS): string => {
  switch (content.kind) {
    case 'text': {
      const mark = content.listed ? `${content.listed.mark} ` : '';
      return mark + content.runs.map((run) => wording(plainWords(run.text), run, run.to ?? to)).join('');
    }
    case 'picture':
    case 'drawing':
      return content.alternative === '' ? '' : `[${plainWords(content.alternative)}]`;
    case 'contents':
      return '';
    default:
      return content satisfies never;
  }
};

/** The words of nodes, a line for each paragraph and each row. */
export const linesOf = (nodes: readonly DocumentNode[], wording: Wording = AS_IT_IS): string[] =>
  nodes.flatMap((node) => {
    if (node.kind === 'paragraph') return [wordsOf(node.part, wording)];
    return node.kind === 'row' ? [rowWords(node, wording)] : [];
  });

/** The words of a row on one line. */
export const rowWords = ({ cells }: RowNode, wording: Wording = AS_IT_IS): string =>
  cells
    .map(({ nodes }) => linesOf(nodes, wording).join(' '))
    .filter((words) => words !== '')
    .join('  ');
