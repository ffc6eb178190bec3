import type { Mark } from '@gaveta/core/internal';

/** A text of an item, about as wide as its letters. */
export const textMark = (item: string, words: string, x: number, y: number, more: object = {}): Mark => ({
  kind: 'text',
  item,
  text: words,
  x,
  y,
  width: words.length * 5,
  size: 10,
  font: 'Source Sans 3/400',
  color: '#1f2a2e',
  ...more,
});
