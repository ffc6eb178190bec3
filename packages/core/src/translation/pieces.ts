import type { TextPiece } from '../definition/schema.ts';

/**
 * The pieces of a text as one line, for those who translate it: `{1} nights at {2}`, its formulas by number, words with a look of their
 * own in braces as well (`Pay by {3:the end of May}`). Braces of the text itself are doubled.
 */
export const lineOfPieces = (content: readonly TextPiece[]): string => {
  let number = 0;
  return content
    .map((piece) => {
      if (typeof piece === 'string') return escaped(piece);
      number++;
      return 'text' in piece ? `{${number}:${escaped(piece.text)}}` : `{${number}}`;
    })
    .join('');
};

const escaped = (text: string): string => text.replace(/[{}]/g, '$&$&');

/** The formulas of a text, by the number that stands for each in its line. */
export const formulasOfLine = (content: readonly TextPiece[]): Map<number, string> => {
  const numbered = content.filter((piece) => typeof piece !== 'string');
  return new Map(numbered.flatMap((piece, i) => ('formula' in piece ? [[i + 1, piece.formula] as const] : [])));
};

/** Pieces as a translated line has them, in its order. A number that the text has not is shown as it is written. */
export const piecesOfLine = (line: string, content: readonly TextPiece[]): TextPiece[] => {
  const numbered = content.filter((piece) => typeof piece !== 'string');
  const pieces: TextPiece[] = [];
  const say = (text: string): void => {
    const last = pieces.at(-1);
    if (typeof last === 'string') pieces[pieces.length - 1] = last + text;
    else if (text !== '') pieces.push(text);
  };
  for (const [part] of line.matchAll(/\{\{|\}\}|\{\d+\}|\{\d+:(?:\{\{|\}\}|[^{}])*\}|[^{}]+|[{}]/g)) {
    const named = /^\{(\d+)(?::(.*))?\}$/s.exec(part);
    const piece = named && numbered[Number(named[1]) - 1];
    if (part === '{{' || part === '}}') say(part[0]!);
    else if (!piece) say(part);
    else if ('formula' in piece) pieces.push(piece);
    else pieces.push({ ...piece, text: unescaped(named[2] ?? piece.text) });
  }
  return pieces;
};

const unescaped = (text: string): string => text.replace(/\{\{|\}\}/g, (two) => two[0]!);

/** The numbers in braces that a line names, smallest first, each once. */
export const numbersIn = (line: string): number[] => {
  const found = [...line.replace(/\{\{|\}\}/g, '').matchAll(/\{(\d+)(?:[:}])/g)].map(([, number]) => Number(number));
  return [...new Set(found)].sort((a, b) => a - b);
};
