import type { ContentEvent, ContentPart, DrawingContent } from '@gaveta/core/internal';
import { XMLValidator } from 'fast-xml-parser';
import { strFromU8, unzipSync } from 'fflate';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { block, documentOf, LOOK, number, section, tableEvents, text } from './content.test-support.ts';
import { obfuscated } from './docx/fonts.ts';
import { padded, placesOf, shared, wrapped } from './text/columns.ts';

const picture = new Uint8Array(
  await sharp({ create: { width: 4, height: 2, channels: 3, background: '#225544' } })
    .png()
    .toBuffer(),
);
const PICTURES = new Map([['hash', picture]]);

const shown: ContentPart = {
  x: 0,
  y: 0,
  width: 40,
  height: 20,
  content: { kind: 'picture', picture: 'hash', alternative: 'A hut “by night”' },
};
const drawn: DrawingContent = {
  kind: 'drawing',
  marks: [{ kind: 'rectangle', x: 0, y: 0, width: 30, height: 10, fill: '#225544' }],
  alternative: 'Column chart of nights',
  table: [
    ['Month', 'Nights'],
    ['Jun', '93'],
  ],
};
const chart: ContentPart = { x: 0, y: 0, width: 60, height: 30, content: drawn };

const heading = (title: string, level = 1): ContentEvent =>
  block([text(title, 0, 200, { look: { bold: true, size: 16 } }, { heading: { level, title }, anchor: title })]);

/** What documents are written of: everything that one can show. */
const EVERYTHING: ContentEvent[] = [
  section({
    footer: block([
      text('', 0, 100, {
        runs: [
          { text: 'Page ', look: LOOK },
          { text: '', look: LOOK, field: 'page' },
        ],
      }),
    ]),
    first: { header: block([text('Only first', 0, 100)]), footer: null },
  }),
  block([text('Huts', 0, 300, { style: 'Caption' })]),
  block([{ ...text('', 0, 300), content: { kind: 'contents', levels: 1 } }]),
  { kind: 'break', parity: null },
  heading('Alto Norte'),
  heading('Brecha', 2),
  block([
    text('', 0, 300, {
      runs: [
        { text: 'The path is ', look: LOOK },
        { text: 'closed', look: { ...LOOK, bold: true, italic: true } },
        { text: ', see ', look: LOOK },
        { text: 'there', look: LOOK, to: { address: 'https://huts.example/a?b=1&c=(2)' } },
      ],
    }),
  ]),
  block([text('Bring a lamp', 0, 300, { listed: { mark: '•', depth: 0 } })]),
  block([text('Second', 0, 300, { listed: { mark: '2.', depth: 0 } })]),
  ...tableEvents([
    ['Brecha', 2],
    ['Lago | Frio', 3],
  ]),
  block([text('To the north', 0, 200, {}, { to: { anchor: 'Alto Norte' } })]),
  block([shown]),
  block([chart]),
  { kind: 'break', parity: 'odd' },
  { kind: 'restart' },
  section({ width: 842, height: 595 }),
  block([text('The end', 0, 100)]),
];

/** Texts that are up to no good, or merely unusual. */
const ODD = [
  '=1+2',
  '<script>alert(1)</script>',
  ']]>&amp;"\'',
  'tab\tline\nnext',
  'bell\u0007 and \u0000 nothing',
  'half \ud83d of a sign',
  '\u202eabc',
  'שלום עולם',
  '👩‍🚀 emoji',
  '__x0041_',
  'x'.repeat(40_000),
  '   ',
  '| pipe | and * star',
  '\ufffe\uffff',
];
const ODD_EVENTS: ContentEvent[] = [
  section(),
  ...ODD.map((words) =>
    block([
      text(words, 0, 200, { value: words }),
      text(words, 200, 200, {}, { to: { address: words }, anchor: words }),
    ]),
  ),
  ...ODD.map((words, i) => block([text(words, 0, 200, {}, { heading: { level: 1 + (i % 6), title: words } })])),
];

const filesOf = (archive: Buffer): Record<string, Uint8Array> => unzipSync(new Uint8Array(archive));
const part = (archive: Buffer, name: string): string => strFromU8(filesOf(archive)[name]!);
const unfit = (archive: Buffer): string[] =>
  Object.entries(filesOf(archive)).flatMap(([name, data]) =>
    /\.(xml|rels|svg)$/.test(name) && XMLValidator.validate(strFromU8(data)) !== true ? [name] : [],
  );

describe('a flowing web page', () => {
  it('says what is a heading, a caption, a list and a link, and lists its headings', async () => {
    const html = (await documentOf('html', EVERYTHING, {}, PICTURES)).toString();
    expect(html).toContain('<html lang="en">');
    expect(html).toContain('<title>A “report” &amp; more</title>');
    expect(html).toMatch(/<h1 id="a-Alto%20Norte"[^>]*>Alto Norte<\/h1>/);
    expect(html).toMatch(/<nav><ol><li[^>]*><a href="#a-Alto%20Norte">Alto Norte<\/a><\/li><\/ol><\/nav>/);
    expect(html.indexOf('<nav>')).toBeLessThan(html.indexOf('<h1'));
    expect(html).toMatch(
      /<thead><tr><th scope="col"[^>]*>Hut<\/th><th scope="col"[^>]*>Nights<\/th><\/tr>\s*<\/thead>/,
    );
    expect(html).toMatch(/<ul><li[^>]*>Bring a lamp<\/li><\/ul><ol><li value="2"[^>]*>Second<\/li><\/ol>/);
    expect(html).toContain('<a href="https://huts.example/a?b=1&amp;c=(2)">there</a>');
    expect(html).toMatch(/<a href="#a-Alto%20Norte">To the north<\/a>/);
    expect(html).toMatch(/<img src="data:image\/png;base64,[^"]+" alt="A hut “by night”"/);
    expect(html).toMatch(/<img src="data:image\/svg\+xml;base64,[^"]+" alt="Column chart of nights"/);
    expect(html).toContain('<header>');
    // There are no pages that could have numbers.
    expect(html).not.toContain('Page ');
    expect(html).not.toContain('<script');
  });

  it('has its looks at each element for mail, with no page around', async () => {
    const html = (
      await documentOf('html', EVERYTHING, { looks: 'inline', whole: 'false', bands: 'no' }, PICTURES)
    ).toString();
    expect(html).not.toContain('class="g');
    expect(html).not.toContain('<style');
    expect(html).not.toContain('<html');
    expect(html).not.toContain('Only first');
    expect(html).not.toContain('svg');
    expect(html).toContain('font-weight:700');
  });

  it('takes texts as texts', async () => {
    const html = (await documentOf('html', ODD_EVENTS)).toString();
    expect(html).not.toContain('<script>alert');
    expect(html).toContain('&lt;script&gt;alert(1)&lt;/script&gt;');
    expect(html).not.toMatch(/href="(?!#|https?:|mailto:)/);
  });
});

describe('a document to write on', () => {
  it('has headings, tables, lists, sections and contents of its own kind', async () => {
    const file = await documentOf('docx', EVERYTHING, { author: 'Office & Co' }, PICTURES);
    expect(unfit(file)).toEqual([]);
    const body = part(file, 'word/document.xml');
    const styles = part(file, 'word/styles.xml');
    expect(body).toMatch(/<w:pStyle w:val="Heading1"\/>.*?Alto Norte/);
    expect(body).toMatch(/<w:pStyle w:val="Heading2"\/>.*?Brecha/);
    expect(styles).toContain('<w:name w:val="Caption"/>');
    expect(body.match(/<w:tblHeader\/>/g)).toHaveLength(1);
    expect(body).toContain(' TOC \\o "1-1" \\h \\u ');
    expect(body).toMatch(/<w:pStyle w:val="TOC1"\/>.*?<w:hyperlink w:anchor="place\d+">.*?Alto Norte/);
    expect(body.indexOf('TOC1')).toBeLessThan(body.indexOf('Heading1'));
    expect(body.match(/<w:sectPr>/g)).toHaveLength(3);
    expect(body).toContain('<w:titlePg/>');
    expect(body).toMatch(/<w:type w:val="oddPage"\/>/);
    expect(body).toMatch(/<w:pgSz w:w="16840" w:h="11900" w:orient="landscape"\/>/);
    expect(body).toContain('descr="Column chart of nights"');
    expect(Object.keys(filesOf(file)).filter((name) => name.startsWith('word/media/'))).toHaveLength(3);
    const footers = Object.keys(filesOf(file)).filter((name) => /^word\/footer\d+\.xml$/.test(name));
    expect(footers.some((name) => part(file, name).includes(' PAGE '))).toBe(true);
    expect(part(file, 'word/_rels/document.xml.rels')).toContain('Target="https://huts.example/a?b=1&amp;c=(2)"');
    expect(part(file, 'docProps/core.xml')).toContain('<dc:creator>Office &amp; Co</dc:creator>');
  });

  it('names every part, and refers to none that is not there', async () => {
    const file = await documentOf('docx', EVERYTHING, {}, PICTURES);
    const names = new Set(Object.keys(filesOf(file)));
    for (const name of names) {
      if (!name.endsWith('.rels')) continue;
      const folder = name.replace(/_rels\/[^/]*$/, '');
      for (const [, target, mode] of part(file, name).matchAll(/Target="([^"]*)"( TargetMode="External")?/g))
        if (!mode) expect(names, `${name}: ${target}`).toContain(`${folder}${target}`);
    }
    for (const [, named] of part(file, '[Content_Types].xml').matchAll(/PartName="\/([^"]*)"/g))
      expect(names).toContain(named);
  });

  it('holds fonts as its standard has them, or none', async () => {
    const file = await documentOf('docx', EVERYTHING, {}, PICTURES);
    const table = part(file, 'word/fontTable.xml');
    const [, key] = /<w:embedRegular r:id="rId\d+" w:fontKey="\{([^}]*)\}"/.exec(table)!;
    const font = obfuscated(filesOf(file)['word/fonts/font1.odttf']!, key!);
    // A TrueType font begins so.
    expect([...font.subarray(0, 4)]).toEqual([0, 1, 0, 0]);
    const without = await documentOf('docx', EVERYTHING, { fonts: 'no' }, PICTURES);
    expect(Object.keys(filesOf(without)).some((name) => name.startsWith('word/fonts/'))).toBe(false);
    expect(without.length).toBeLessThan(file.length / 2);
  });

  it('takes texts as texts, and says what runs from right to left', async () => {
    const file = await documentOf('docx', ODD_EVENTS);
    expect(unfit(file)).toEqual([]);
    expect(part(file, 'word/document.xml')).toMatch(/<w:bidi\/>.*?<w:rtl\/>.*?שלום עולם/);
  });

  it('refuses a table of more columns than programs take', async () => {
    const wide = block(Array.from({ length: 80 }, (_, i) => text(`c${i}`, i * 10, 9)));
    await expect(documentOf('docx', [section(), wide])).rejects.toThrow('A table would have 80 columns');
  });
});

describe('a document of OpenDocument', () => {
  it('has headings, tables, pages and contents of its own kind', async () => {
    const file = await documentOf('odt', EVERYTHING, { author: 'Office & Co' }, PICTURES);
    expect(unfit(file)).toEqual([]);
    // Its kind can be told by its first bytes.
    expect(file.subarray(30, 77).toString('latin1')).toBe('mimetypeapplication/vnd.oasis.opendocument.text');
    const body = part(file, 'content.xml');
    const styles = part(file, 'styles.xml');
    expect(body).toMatch(
      /<text:h [^>]*text:outline-level="1"><text:bookmark text:name="place Alto Norte"\/>Alto Norte<\/text:h>/,
    );
    expect(body).toMatch(/<text:table-of-content .*Alto Norte.*<\/text:table-of-content>.*<text:h /);
    expect(body.match(/<table:table-header-rows>/g)).toHaveLength(1);
    expect(body).toContain('xlink:href="https://huts.example/a?b=1&amp;c=(2)"');
    expect(body).toContain('xlink:href="#place Alto Norte"');
    expect(styles).toContain('style:display-name="Caption"');
    expect(styles).toContain('<text:page-number text:select-page="current">');
    expect(styles.match(/<style:master-page /g)).toHaveLength(4);
    expect(styles).toContain('<style:header-first>');
    expect(part(file, 'meta.xml')).toContain('<dc:creator>Office &amp; Co</dc:creator>');
    const named = [...part(file, 'META-INF/manifest.xml').matchAll(/full-path="([^"]*)"/g)].map(([, name]) => name!);
    const there = Object.keys(filesOf(file)).filter((name) => name !== 'mimetype' && !name.startsWith('META-INF/'));
    expect(named.filter((name) => name !== '/').sort()).toEqual(there.sort());
  });

  it('takes texts as texts, and keeps their spaces', async () => {
    const file = await documentOf('odt', ODD_EVENTS);
    expect(unfit(file)).toEqual([]);
    expect(part(file, 'content.xml')).toContain('<text:s text:c="3"/>');
    expect(part(file, 'content.xml')).toContain('tab<text:tab/>line<text:line-break/>next');
    expect(part(file, 'content.xml')).toContain('style:writing-mode="rl-tb"');
  });
});

describe('Markdown', () => {
  it('has headings, tables, lists and the numbers of charts', async () => {
    const markdown = (await documentOf('markdown', EVERYTHING, {}, PICTURES)).toString();
    expect(markdown).toContain('# Alto Norte\n');
    expect(markdown).toContain('- Alto Norte\n');
    expect(markdown).toContain('The path is ***closed***, see [there](https://huts.example/a?b=1&c=%282%29)');
    expect(markdown).toContain('- Bring a lamp\n');
    expect(markdown).toContain('| Hut | Nights |\n| --- | ---: |\n| Brecha | 2.00 |\n| Lago \\| Frio | 3.00 |');
    expect(markdown).toContain('*Column chart of nights*\n\n| Month | Nights |\n| --- | ---: |\n| Jun | 93 |');
    const pictured = (await documentOf('markdown', EVERYTHING, { pictures: 'yes' }, PICTURES)).toString();
    expect(pictured).toContain('![A hut “by night”](data:image/png;base64,');
  });

  it('takes texts as texts', async () => {
    const markdown = (await documentOf('markdown', ODD_EVENTS)).toString();
    expect(markdown).not.toContain('<script>');
    expect(markdown).not.toMatch(/\]\((?!https?:|mailto:|data:)/);
  });
});

describe('text', () => {
  it('has its columns below one another, no line longer than it may be', async () => {
    const plain = (await documentOf('text', EVERYTHING, { width: '30' })).toString();
    for (const line of plain.split('\n')) expect(placesOf(line)).toBeLessThanOrEqual(30);
    expect(plain).toContain(
      'Hut          Nights\n-----------  ------\nBrecha         2.00\nLago | Frio    3.00\nTotal          5.00',
    );
    expect(plain).toContain('Alto Norte\n==========\n');
    expect(plain).toContain('• Bring a lamp');
  });

  it('counts places as terminals do, and parts what is too long', () => {
    expect(placesOf('e\u0301')).toBe(1);
    expect(placesOf('山小屋')).toBe(6);
    expect(wrapped('one two three', 7)).toEqual(['one two', 'three']);
    expect(wrapped('abcdefgh', 3)).toEqual(['abc', 'def', 'gh']);
    expect(padded('a', 3, 'right')).toBe('  a');
    const [first, second, third] = shared([40, 5, 40], 50);
    expect(first! + second! + third!).toBeLessThanOrEqual(50);
    expect(second).toBe(5);
  });

  it('takes texts as texts', async () => {
    const plain = (await documentOf('text', ODD_EVENTS)).toString();
    expect(plain).not.toMatch(/(?!\n)\p{Cc}/u);
    expect(plain).toContain('=1+2');
  });
});

describe('every document', () => {
  const NAMES = ['html', 'docx', 'odt', 'ods', 'markdown', 'text', 'xlsx'];

  it('is a file also of nothing', async () => {
    for (const name of NAMES) await expect(documentOf(name, [section()]), name).resolves.toBeInstanceOf(Buffer);
  });

  it('ends with what went wrong while it was told, and when it is given up', async () => {
    const abort = new AbortController();
    const broken: ContentEvent[] = [section(), ...tableEvents([['Brecha', 2]])];
    Object.defineProperty(broken, 2, {
      get: () => {
        throw new Error('the rows broke off');
      },
    });
    for (const name of NAMES) await expect(documentOf(name, broken), name).rejects.toThrow('the rows broke off');
    abort.abort(new Error('given up'));
    const many = [
      section(),
      ...Array.from({ length: 4_000 }, (_, i) => block([text(`row ${i}`, 0, 90), number(i, 99, 90)])),
    ];
    for (const name of NAMES)
      await expect(documentOf(name, many, {}, new Map(), abort.signal), name).rejects.toThrow('given up');
  });
});
