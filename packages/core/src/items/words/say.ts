import type { EvaluationContext } from '../../formula/functions/context.ts';
import type { LayingOut } from '../../layout/prepared.ts';
import { problem } from '../../problems/problem.ts';
import { formatValue } from '../../text/format.ts';
import type { Value } from '../../value/value.ts';
import type { PreparedPiece, PreparedText, PreparedValue, TextStyle } from './prepared.ts';

/** Text with its looks, pieces without content left out. */
export interface Said {
  text: string;
  style: TextStyle;
}

export const sayPiece = ({ content }: PreparedPiece, context: EvaluationContext): string => {
  if (typeof content === 'string') return content;
  return sayValue(content.evaluate(context), content, context);
};

/** What a value says. */
export const sayValue = (value: Value, { blank, format }: PreparedValue, { report }: EvaluationContext): string =>
  // A text of nothing, as a file may have, is as blank to who reads it.
  blank !== null && (value === null || value === '') ? blank : formatValue(value, format, report);

/** The text of an item, no longer than it may be. */
export const say = (item: PreparedText, context: EvaluationContext, most: number, tell?: LayingOut['tell']): Said[] => {
  const said = sayAll(item, context);
  let left = most;
  for (const one of said) {
    if (one.text.length > left) {
      one.text = `${one.text.slice(0, left)}…`;
      tell?.(problem('text-too-long', { item: item.id }, { limit: most }, 'warning'));
      left = 0;
    } else left -= one.text.length;
  }
  return said;
};

const sayAll = (item: PreparedText, context: EvaluationContext): Said[] => {
  const [first] = item.pieces;
  if (first && item.pieces.length === 1) return [{ text: sayPiece(first, context), style: first.style }];
  const said: Said[] = [];
  for (const piece of item.pieces) {
    const text = sayPiece(piece, context);
    const { style } = piece;
    const last = said.at(-1);
    if (last && last.style === style) last.text += text;
    else said.push({ text, style });
  }
  return said;
};

export const isBlank = (said: readonly Said[]): boolean => {
  for (const { text } of said) if (text !== '') return false;
  return true;
};
