import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { band, definition, lay, plan } from '../../layout/huts.test-support.ts';
import type { TextMark } from '../../page/page.ts';
import { type FormBlock, formOf, loadReaders } from './form.ts';

beforeAll(loadReaders);

/** Blocks in short: headings by #, items of lists by their mark, ways of writing by signs. */
const short = ({ blocks }: { blocks: FormBlock[] }): string[] =>
  blocks.map((block) => {
    const said = (runs: { text: string; bold?: boolean; italic?: boolean; address?: string }[]): string =>
      runs
        .map(({ text, bold, italic, address }) => {
          const words = `${bold ? '*' : ''}${italic ? '/' : ''}${text}${italic ? '/' : ''}${bold ? '*' : ''}`;
          return address ? `[${words}](${address})` : words;
        })
        .join('');
    const inside = '  '.repeat(block.indent);
    if (block.kind === 'rule') return `${inside}---`;
    if (block.kind === 'table')
      return block.rows.map(({ isHead, cells }) => `${isHead ? '!' : ''}|${cells.map(said).join('|')}|`).join(' ');
    return `${inside}${'#'.repeat(block.level)}${block.mark ? `${block.mark} ` : ''}${said(block.runs)}`;
  });

describe('the form of a text', () => {
  it('is read from HTML: headings, ways of writing, links, lists in lists, breaks, quotations, tables', () => {
    const html = `<h2>Notice</h2><p>Bring <b>warm <i>clothes</i></b>,\n  and <a href="https://cumeeira.example/huts">read on</a>.<br>Thank you</p>
      <ol start="3"><li>one<ul><li>inner</li></ul></li><li>two</li></ol><blockquote>Said</blockquote><hr>
      <table><tr><th>Month</th><th>Nights</th></tr><tr><td>July</td><td>4 &amp; more</td></tr></table>`;
    expect(short(formOf(html))).toEqual([
      '##Notice',
      'Bring *warm **/clothes/*, and [read on](https://cumeeira.example/huts).\nThank you',
      '  3. one',
      '    • inner',
      '  4. two',
      '  Said',
      '---',
      '!|*Month*|*Nights*| |July|4 & more|',
    ]);
    expect(formOf(html).unknown).toEqual([]);
  });

  it('is read from Markdown, and a plain text is a plain text', () => {
    expect(short(formOf('# Title\n\nSome *words*, **bold**\nnext line\n\n- a\n- b\n'))).toEqual([
      '#Title',
      'Some /words/, *bold*\nnext line',
      '  • a',
      '  • b',
    ]);
    expect(short(formOf('5 < 6 and A > B'))).toEqual(['5 < 6 and A > B']);
    expect(short(formOf('Nothing special'))).toEqual(['Nothing special']);
  });

  it('shows what is no part of it as it is written, and names it', () => {
    const form = formOf('<p>Hello</p><script>alert("x")</script><iframe src="https://a.example"></iframe>');
    expect(short(form).join(' ')).toContain('alert("x")');
    expect(form.unknown).toEqual(['script', 'iframe']);
  });

  it('leads to addresses that are safe alone', () => {
    expect(short(formOf('<a href="javascript:alert(1)">x</a> <a href="mailto:a@b.example">y</a>'))).toEqual([
      'x [y](mailto:a@b.example)',
    ]);
  });

  it('comes to an end whatever is written, and loses no word', () => {
    const piece = fc.oneof(
      fc.constantFrom(
        '<b>',
        '</b>',
        '<ul>',
        '<li>',
        '</ul>',
        '<table>',
        '<tr>',
        '<td>',
        '</table>',
        '<h1>',
        '</h1>',
        '<p',
      ),
      fc.constantFrom(
        '<a href="x">',
        '</a>',
        '<script>',
        '</script>',
        '&amp;',
        '<blockquote>',
        '</p>',
        '<pre>',
        '<br>',
        '>',
      ),
      fc.constantFrom('word', 'Hütte', ' ', '\n'),
    );
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 60 }), (pieces) => {
        const { blocks } = formOf(pieces.join(''), 'html');
        const words = JSON.stringify(blocks).match(/Hütte/g)?.length ?? 0;
        const inTag = /<(p|a|table|ul)[^>]*Hütte/.test(pieces.join(''));
        const inTable = pieces.includes('<table>');
        if (!inTag && !inTable) expect(words).toBe(pieces.filter((one) => one === 'Hütte').length);
      }),
      { numRuns: 400, seed: 20_261_128 },
    );
  });

  it('takes a deep or a long text in good time', () => {
    const started = performance.now();
    expect(formOf('<ul><li>'.repeat(20_000)).blocks.length).toBeLessThanOrEqual(5_000);
    expect(formOf(`${'<b>'.repeat(50_000)}x`).blocks).toHaveLength(1);
    const signs = ['> ', '*', '_', '[', '`a', '- ', '1. ', '<', '&', '![', '**a ', '|', '    ', '~~'];
    for (const sign of signs) expect(formOf(`${sign.repeat(4_000)}x`, 'markdown').blocks.length).toBeGreaterThan(0);
    expect(performance.now() - started).toBeLessThan(20_000);
  });
});

const item = (formula: string, more: object = {}) => ({
  kind: 'formatted',
  id: 'f',
  x: 0,
  y: 0,
  width: 60,
  height: 5,
  formula,
  ...more,
});
const quoted = (text: string): string => `"${text.replaceAll('"', '""')}"`;
const laid = async (text: string, more: object = {}) => {
  const { pages, result } = await lay(
    definition({ header: band(5, item(quoted(text), more)), body: [], footer: band(5, item('"below"', { id: 'g' })) }),
    {},
  );
  const marks = pages.flatMap((page) => page.marks);
  const words = marks.filter((mark): mark is TextMark => mark.kind === 'text');
  return { marks, words, problems: result.problems.map(({ code, place }) => [code, place.item]) };
};

describe('formatted text', () => {
  it('is set in its ways of writing, and moves what stands below', async () => {
    const { words, marks } = await laid('<h1>Big</h1><p>plain <b>bold</b></p><ul><li>one</li><li>two</li></ul>');
    expect(words.map(({ text }) => text.trim())).toEqual(['Big', 'plain', 'bold', 'one', '•', 'two', '•', 'below']);
    const of = (text: string): TextMark => words.find((mark) => mark.text.trim() === text)!;
    expect(of('Big').size).toBeCloseTo(16);
    expect(of('Big').as).toBe('heading');
    expect(of('bold').font).toMatch(/700/);
    expect(of('plain').font).toMatch(/400/);
    expect(of('below').y).toBeGreaterThan(of('two').y + 10);
    expect(of('one').x).toBeGreaterThan(of('plain').x);
    expect(marks.some(({ kind }) => kind === 'link')).toBe(false);
  });

  it('has links where they are written', async () => {
    const { marks } = await laid('See [the huts](https://cumeeira.example/huts).');
    const [link] = marks.filter((mark) => mark.kind === 'link');
    expect(link).toMatchObject({ to: { address: 'https://cumeeira.example/huts' } });
  });

  it('tells once what it shows as it is written, and the rest of the report comes out', async () => {
    const { problems, words } = await laid('<p>Fine</p><script>alert(1)</script>');
    expect(problems).toEqual([['form-shown-as-text', 'f']]);
    expect(words.map(({ text }) => text).join(' ')).toContain('below');
  });

  it('refuses what is no text, at the item', () => {
    const report = definition({
      body: [{ id: 's', name: 'stay', rows: { entity: 'stay' }, detail: band(5, item('photo')) }],
    });
    expect(plan(report).problems.map(({ code, place }) => [code, place.item])).toEqual([['wrong-type', 'f']]);
  });
});
