import type { Mark } from '@gaveta/core/internal';
import { expect, it } from 'vitest';
import { fontsOf } from './print.ts';

const text = (font: string): Mark => ({
  kind: 'text',
  x: 0,
  y: 0,
  text: 'x',
  font,
  size: 9,
  color: '#000000',
  width: 5,
});

it('waits for each font of the pages once, by its family, weight and slant', () => {
  const marks = [text('Source Sans 3/400'), text('Source Sans 3/700i'), text('Source Sans 3/400')];
  const page = { number: 1, width: 10, height: 10, marks };
  expect(fontsOf([page, { ...page, marks: [text('Source Serif 4/700')] }])).toEqual([
    '400 12px "Source Sans 3"',
    'italic 700 12px "Source Sans 3"',
    '700 12px "Source Serif 4"',
  ]);
});
