import { expect, it } from 'vitest';
import { type Mark, type Page, safeAddress } from './page.ts';
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

/** Pictures are found at an address that is their hash. */
const svgOf = (shown: Page): string => pageToSvg(shown, (hash) => hash);

it('writes marks as text that can be read and selected', () => {
  const svg = svgOf(page(text('Lago Frio', { item: 'name1' })));
  expect(svg).toContain(
    `<text x="10" y="20" font-family="'Source Sans 3'" font-size="9" font-weight="700" font-style="italic" fill="#1f2a2e" data-item="name1">Lago Frio</text>`,
  );
  expect(svg).toContain('viewBox="0 0 595.28 841.89"');
});

it('keeps the spaces at the ends of a text, which browsers leave out by themselves', () => {
  expect(svgOf(page(text(' is ')))).toContain('style="white-space:pre" fill="#1f2a2e"> is </text>');
  expect(svgOf(page(text('it is')))).not.toContain('style="white-space:pre" fill');
});

it('lets no value of a row break out of its place', () => {
  const hostile = '</text><script>alert(1)</script>"onload="x\u0000\u0008';
  const svg = svgOf(
    page(
      text(hostile),
      text('x', { color: hostile, item: hostile, font: `${hostile}/400` }),
      { kind: 'picture', x: 0, y: 0, width: 1, height: 1, picture: hostile, alternative: hostile },
      { kind: 'region', x: 0, y: 0, width: 1, height: 1, band: hostile, rows: hostile },
    ),
  );
  expect(svg).not.toContain('<script');
  expect(svg).not.toContain('"onload');
  expect(svg).not.toContain('\u0000');
});

it('starts right-to-left text at the right end of its run', () => {
  expect(svgOf(page(text('يوسف', { rtl: true })))).toContain('<text x="40" y="20"');
});

it('turns text, shows through marks, and dashes lines', () => {
  const svg = svgOf(
    page(text('up', { turn: -90, opacity: 0.25 }), {
      kind: 'rectangle',
      x: 1,
      y: 2,
      width: 3,
      height: 4,
      stroke: '#b98524',
      dash: [4, 2],
      opacity: 0.5,
    }),
  );
  expect(svg).toContain('transform="rotate(-90 10 20)"');
  expect(svg).toMatch(/opacity="0.25"[^>]*>up</);
  expect(svg).toMatch(/<rect [^>]*stroke-dasharray="4 2" opacity="0.5"/);
});

it('makes links that open apart, or that the page around follows, and no other', () => {
  const link = (to: object): Mark => ({ kind: 'link', x: 1, y: 2, width: 3, height: 4, to }) as Mark;
  const svg = svgOf(page(link({ address: 'https://a.example/?x=1&y="2"' }), link({ anchor: '"><script>' })));
  expect(svg).toContain('href="https://a.example/?x=1&amp;y=&quot;2&quot;" target="_blank" rel="noopener noreferrer"');
  expect(svg).not.toContain('<script');
  expect(svg.match(/data-link=/g)?.length).toBe(1);
  const addresses = [
    'mailto:a@b.example',
    ' https://b.example ',
    'a@b.example',
    'javascript:x',
    'vbscript:x',
    '//evil',
    'https://a"b',
  ];
  expect(addresses.map(safeAddress)).toEqual([
    'mailto:a@b.example',
    'https://b.example',
    'mailto:a@b.example',
    null,
    null,
    null,
    null,
  ]);
});

it('draws paths, says what is pointed at, and follows a press on a shape', () => {
  const svg = svgOf(
    page({
      kind: 'path',
      x: 10,
      y: 20,
      width: 30,
      height: 30,
      path: 'M0 0L30 0C30 10 20 30 0 30Z',
      fill: '#1f5c4d',
      as: 'drawing',
      tip: 'July: "1,215"',
      to: { set: { region: '"><script>' } },
    }),
  );
  expect(svg).toContain('<path transform="translate(10 20)" d="M0 0L30 0C30 10 20 30 0 30Z" fill="#1f5c4d"');
  expect(svg).toContain('data-tip="July: &quot;1,215&quot;" aria-hidden="true"');
  expect(svg).toMatch(/<a href="#" data-link="[^"]*"><path /);
  expect(svg).not.toContain('<script');
});

it('says a figure in a sentence, with its numbers as a table, and nothing of its drawing', () => {
  const figure: Mark = {
    kind: 'figure',
    x: 1,
    y: 2,
    width: 30,
    height: 40,
    alternative: 'Nights <by> month',
    table: [
      ['', 'Nights'],
      ['July', '</td><script>'],
    ],
  };
  const svg = svgOf(page(figure, text('July', { as: 'drawing' })));
  expect(svg).toContain('role="img" aria-label="Nights &lt;by&gt; month"');
  expect(svg).toContain('<th>July</th><td>&lt;/td&gt;&lt;script&gt;</td>');
  expect(svg).toMatch(/aria-hidden="true" pointer-events="none">July</);
});
