import { type Page, pageToMarks, type SvgPage } from '@gaveta/core/internal';
import { expect, it } from 'vitest';
import { packPage, unpackPage } from './packed-page.ts';

it.each([
  [[]],
  [['<text>Alva</text>']],
  [['<rect/>', '<text>Two\nlines, “quoted”</text>', '<g/>']],
])('a page comes out as it was packed: %j', (marks) => {
  const page: SvgPage = { open: '<svg>', marks };
  expect({ ...unpackPage(packPage(page)) }).toEqual(page);
});

it('a text with signs that no XML can hold does not part its mark', () => {
  const text = { kind: 'text', x: 0, y: 10, text: 'one\u0001two', width: 20, size: 8 } as const;
  const page: Page = {
    number: 1,
    width: 100,
    height: 100,
    marks: [{ ...text, font: 'Source Sans 3/400', color: '#1f2a2e' }],
  };
  expect(unpackPage(packPage(pageToMarks(page, () => ''))).marks).toHaveLength(1);
});
