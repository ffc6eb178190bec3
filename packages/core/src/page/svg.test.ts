import { expect, it } from 'vitest';
import type { Mark, Page } from './page.ts';
import { pageToSvg } from './svg.ts';

const page = (...marks: Mark[]): Page => ({ number: 1, width: 595.28, height: 841.89, marks });
const text = (words: string, more: object = {}): Mark => ({
  kind: 'text',
  x: 10,
  y: 20,
  text: words,
  font: 'Source Sans 3/700i',
  size: 9,
  color: '#1f2a2e',
  width: 30,
  ...more,
});

it('writes marks as text that can be read and selected', () => {
  const svg = pageToSvg(page(text('Lago Frio', { item: 'name1' })));
  expect(svg).toContain(
    `<text x="10" y="20" font-family="'Source Sans 3'" font-size="9" font-weight="700" font-style="italic" fill="#1f2a2e" data-item="name1">Lago Frio</text>`,
  );
  expect(svg).toContain('viewBox="0 0 595.28 841.89"');
});

it('lets no value of a row break out of its place', () => {
  const hostile = '</text><script>alert(1)</script>"onload="x\u0000\u0008';
  const svg = pageToSvg(
    page(
      text(hostile),
      text('x', { color: hostile, item: hostile, font: `${hostile}/400` }),
      { kind: 'picture', x: 0, y: 0, width: 1, height: 1, source: hostile, alternative: hostile },
      { kind: 'region', x: 0, y: 0, width: 1, height: 1, band: hostile, rows: hostile },
    ),
  );
  expect(svg).not.toContain('<script');
  expect(svg).not.toContain('"onload');
  expect(svg).not.toContain('\u0000');
});

it('starts right-to-left text at the right end of its run', () => {
  expect(pageToSvg(page(text('يوسف', { rtl: true })))).toContain('<text x="40" y="20"');
});
