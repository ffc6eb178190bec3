import { describe, expect, it } from 'vitest';
import type { LineMark, LinkMark, Mark, RectangleMark, TextMark } from '../page/page.ts';
import { phrase, saidValue } from '../problems/phrases.ts';
import { band, definition, field, lay, line, nest, plan, type Rows } from './huts.test-support.ts';
import { prepareReport } from './prepare.ts';
import { POINTS } from './prepared.ts';
import { layoutReport } from './run.ts';
import { testBook } from './shipped.test-support.ts';

const HUTS: Rows = {
  hut: [
    { id: 1, name: 'Lago' },
    { id: 2, name: 'Sino' },
    { id: 3, name: 'Brecha' },
  ],
};
const flat = (more: Record<string, unknown>, report: Record<string, unknown> = {}) =>
  definition({ ...report, body: [{ id: 'huts', name: 'hut', rows: { entity: 'hut' }, ...more }] });
const marksOf = async (report: ReturnType<typeof definition>, rows = HUTS): Promise<Mark[]> =>
  (await lay(report, rows)).pages.flatMap((page) => page.marks);
const laidWithProblems = async (report: ReturnType<typeof definition>) => {
  const { pages, result } = await lay(report, HUTS);
  return { marks: pages.flatMap((page) => page.marks), problems: result.problems };
};
const texts = (marks: Mark[]) => marks.filter((m): m is TextMark => m.kind === 'text');
const words = (more: Record<string, unknown>) => ({ kind: 'text', id: 't', x: 0, y: 0, width: 60, height: 5, ...more });
/** A report of one text. */
const only = (more: Record<string, unknown>, height = 5) => definition({ header: band(height, words(more)) });
const laid = async (more: Record<string, unknown>, height = 5) => marksOf(only(more, height), {});

describe('looks', () => {
  it('come from a style, from those it is based on, and from the item itself', async () => {
    const report = flat(
      { detail: band(5, field('n', 'name', { style: 'Loud', look: { italic: true } })) },
      { styles: { Plain: { size: 12, color: '#112233' }, Loud: { basedOn: 'Plain', bold: true, size: 14 } } },
    );
    expect(texts(await marksOf(report))[0]).toMatchObject({ size: 14, color: '#112233', font: 'Source Sans 3/700' });
    const circle = flat({}, { styles: { A: { basedOn: 'B', size: 9 }, B: { basedOn: 'A' }, C: { basedOn: 'Gone' } } });
    expect(plan(circle).problems.map((p) => p.code)).toEqual(['style-in-circle', 'style-in-circle', 'unknown-style']);
  });

  it('change by highlights, in their order, or hide', async () => {
    const highlights = [
      { when: 'id >= 2', look: { bold: true, color: '#b3402e' } },
      { when: 'id = 3', look: { color: '#1f5c4d' } },
      { when: 'name = "Lago"', hide: true },
    ];
    const marks = texts(await marksOf(flat({ detail: band(5, field('n', 'name', { highlights })) })));
    expect(marks.map((m) => [m.text, m.color, m.font.slice(-3)])).toEqual([
      ['Sino', '#b3402e', '700'],
      ['Brecha', '#1f5c4d', '700'],
    ]);
  });

  it('are decided on by formulas for each row; blank and unfit values change nothing', async () => {
    const formulas = {
      color: 'IF(id = 2; "#b3402e"; IF(id = 3; "javascript"; ""))',
      size: 'IF(id = 2; 14; "large")',
      x: 'id * 10',
      bold: 'id = 3',
    };
    const marks = texts(await marksOf(flat({ detail: band(5, field('n', 'name', { formulas })) })));
    expect(marks.map((m) => [m.color, m.size, Math.round(m.x / POINTS) - 15, m.font.slice(-3)])).toEqual([
      ['#1f2a2e', 10, 10, '400'],
      ['#b3402e', 14, 20, '400'],
      ['#1f2a2e', 10, 30, '700'],
    ]);
    const bar = { kind: 'rectangle', id: 'r', x: 0, y: 0, width: 1, height: 2, formulas: { width: 'id * 7' } };
    const bars = (await marksOf(flat({ detail: band(5, { ...bar, fill: '#1f5c4d' }) }))).filter(
      (m): m is RectangleMark => m.kind === 'rectangle',
    );
    expect(bars.map((m) => Math.round(m.width / POINTS))).toEqual([7, 14, 21]);
    const wrong = flat({ detail: band(5, field('n', 'name', { formulas: { color: 'colour' } })) });
    expect(plan(wrong).problems).toMatchObject([
      { code: 'unknown-name', place: { path: 'body/0/detail/items/0/formulas/color' } },
    ]);
  });

  it('let formulas decide on format, style, edges and padding too, and say what is unfit', async () => {
    const styles = { loud: { bold: true, size: 16 } };
    const formulas = {
      style: 'IF(id = 1; "loud"; IF(id = 2; "lou"))',
      format: 'IF(id = 2; "0.000"; IF(id = 3; "[what"; "0"))',
      borderColor: 'IF(id = 2; "#b3402e"; "#1f5c4d")',
      borderWidth: 'id / 10',
      padding: 'IF(id = 3; "wide"; id * 2)',
    };
    const report = flat({ detail: band(5, field('n', 'id', { formulas })) }, { styles });
    const { marks, problems } = await laidWithProblems(report);
    expect(texts(marks).map((m) => [m.text, m.size, m.font.slice(-3), Math.round(m.x / POINTS) - 15])).toEqual([
      ['1', 16, '700', 2],
      ['2.000', 10, '400', 4],
      ['3', 10, '400', 0],
    ]);
    const frames = marks.filter((m): m is RectangleMark => m.kind === 'rectangle');
    expect(frames.map((m) => [m.stroke, Number((m.thickness! / POINTS).toFixed(3))])).toEqual([
      ['#1f5c4d', 0.1],
      ['#b3402e', 0.2],
      ['#1f5c4d', 0.3],
    ]);
    expect(problems.map((p) => [p.code, p.place.item, saidValue(p.data.setting!), p.data.given])).toEqual([
      ['unfit-setting', 'n', 'style', 'lou'],
      ['unfit-setting', 'n', 'format', '[what'],
      ['unfit-setting', 'n', 'padding', 'wide'],
    ]);
  });

  it('let formulas decide on pictures, barcodes, lines and frames', async () => {
    const place = { x: 0, y: 0, width: 20, height: 8 };
    const items = [
      {
        kind: 'barcode',
        id: 'b',
        ...place,
        formula: 'id',
        formulas: { code: 'IF(id = 1; "qr"; "code-128")', color: '"#1f5c4d"' },
      },
      { kind: 'line', id: 'l', ...place, height: 0, formulas: { thickness: 'id', dash: 'IF(id = 2; "dotted")' } },
      { kind: 'rectangle', id: 'r', ...place, stroke: '#b98524', formulas: { radius: 'id', opacity: 'id / 4' } },
    ];
    const marks = await marksOf(flat({ detail: band(10, ...items) }));
    const shapes = marks.filter((m) => m.kind === 'shape');
    expect(shapes.map((m) => [m.color, Math.round(m.width / POINTS)])).toEqual([
      ['#1f5c4d', 8],
      ['#1f5c4d', 20],
      ['#1f5c4d', 20],
    ]);
    const lines = marks.filter((m): m is LineMark => m.kind === 'line');
    expect(lines.map((m) => [Math.round(m.thickness / POINTS), m.dash !== undefined])).toEqual([
      [1, false],
      [2, true],
      [3, false],
    ]);
    const frames = marks.filter((m): m is RectangleMark => m.kind === 'rectangle');
    expect(frames.map((m) => [Math.round(m.radius! / POINTS), m.opacity])).toEqual([
      [1, 0.25],
      [2, 0.5],
      [3, 0.75],
    ]);
  });

  it('tell what is unfit of a nested report with that report’s name', async () => {
    const inner = definition({
      name: 'Inner',
      header: band(5, words({ content: ['x'], formulas: { size: '"large"' } })),
    });
    const { result } = await lay(flat({ detail: band(9, nest('inner')) }), HUTS, { inner });
    // Once, though it is laid out for each of three rows.
    expect(result.problems).toMatchObject([
      {
        code: 'unfit-setting',
        place: { report: 'Inner', item: 't' },
        data: { setting: phrase('setting-size'), given: 'large' },
      },
    ]);
  });

  it('let formulas decide on the height and background of a band', async () => {
    const formulas = { background: 'IF(id = 2; "#ffeedd"; IF(id = 3; "pale"))', height: 'id * 10' };
    const report = flat({ alternate: '#eeeeee', detail: { ...band(5, field('n', 'name')), formulas } });
    const { marks, problems } = await laidWithProblems(report);
    const fills = marks.filter((m): m is RectangleMark => m.kind === 'rectangle');
    expect(fills.map((m) => [m.fill, Math.round(m.height / POINTS)])).toEqual([['#ffeedd', 20]]);
    const tops = texts(marks).map((m) => Math.round(m.y / POINTS));
    expect([tops[1]! - tops[0]!, tops[2]! - tops[1]!]).toEqual([10, 20]);
    expect(problems).toMatchObject([
      {
        code: 'unfit-setting',
        place: { path: 'body/0/detail/formulas/background' },
        data: { given: 'pale', expected: phrase('color-code') },
      },
    ]);
  });

  it('notes the items whose text is cut off at their box', async () => {
    const long = 'a long line of words that needs more room than there is';
    const report = definition({
      header: band(
        12,
        words({ content: [long], width: 20, grow: false }),
        words({ id: 'u', content: ['short'], y: 6, grow: false }),
      ),
    });
    const prepared = prepareReport(plan(report), testBook);
    await layoutReport(prepared, { parameters: {}, source: () => [], onPage: () => {} });
    expect([...prepared.cutOff]).toEqual(['t']);
  });

  it('give every second row a background, unless a highlight of the band says otherwise', async () => {
    const highlights = [{ when: 'id = 2', look: { background: '#ffeedd' } }];
    const fills = async (more: Record<string, unknown>) =>
      (await marksOf(flat({ alternate: '#eeeeee', detail: { ...line('n', 'name'), ...more } }))).flatMap((m) =>
        m.kind === 'rectangle' ? [m.fill] : [],
      );
    expect(await fills({})).toEqual(['#eeeeee']);
    expect(await fills({ highlights })).toEqual(['#ffeedd']);
  });

  it('draw borders by side, all four as one frame, with rounded corners and padding', async () => {
    const edge = { width: 0.5, color: '#b98524' };
    const look = { border: { bottom: edge, left: { ...edge, dash: 'dashed' } }, padding: { left: 3, top: 1 } };
    const marks = await laid({ content: ['x'], look });
    expect(
      marks.filter((m): m is LineMark => m.kind === 'line').map((m) => [m.y === m.y2, m.dash !== undefined]),
    ).toEqual([
      [true, false],
      [false, true],
    ]);
    expect(texts(marks)[0]!.x).toBeCloseTo(18 * POINTS, 3);
    const frame = await laid({
      content: ['x'],
      look: { border: { top: edge, right: edge, bottom: edge, left: edge }, radius: 2, opacity: 0.5 },
    });
    const rectangles = frame.filter((m): m is RectangleMark => m.kind === 'rectangle');
    expect(rectangles).toMatchObject([{ stroke: '#b98524', radius: 2 * POINTS, opacity: 0.5 }]);
  });
});

describe('text', () => {
  it('has words and fields of several looks in one item', async () => {
    const content = [
      'Half ',
      { text: 'board', look: { bold: true, underline: true } },
      ' for ',
      { formula: '1 + 1', look: { italic: true, strike: true } },
    ];
    const marks = await laid({ content });
    expect(texts(marks).map((m) => m.text)).toEqual(['Half ', 'board', ' for ', '2']);
    expect(texts(marks)[1]!.font).toBe('Source Sans 3/700');
    expect(marks.filter((m) => m.kind === 'line').length).toBe(2);
    const [a, b] = texts(marks);
    expect(b!.x).toBeCloseTo(a!.x + a!.width, 3);
  });

  it('is set to both edges, except for the last line', async () => {
    const content = ['The hut stands below the north face where two ridges meet and a spring never freezes'];
    const marks = texts(await laid({ content, look: { align: 'justify' } }, 40));
    const right = new Map<number, number>();
    for (const m of marks) right.set(m.y, Math.max(right.get(m.y) ?? 0, m.x + m.width));
    const edges = [...right.values()];
    expect(edges.length).toBeGreaterThan(2);
    for (const edge of edges.slice(0, -1)) expect(edge).toBeCloseTo(75 * POINTS, 0);
    expect(edges.at(-1)).toBeLessThan(73 * POINTS);
  });

  it('gets smaller to fit its box, and no smaller than needed', async () => {
    const one = { content: ['A name that is far too long for its label'], height: 5, width: 40, fit: 'shrink' };
    const marks = texts(await laid(one));
    expect(marks.length).toBe(1);
    expect(marks[0]!.width).toBeLessThanOrEqual(40 * POINTS + 0.01);
    expect(marks[0]!.size).toBeGreaterThan(4);
    expect(texts(await laid({ ...one, content: ['short'] }))[0]!.size).toBe(10);
  });

  it('turns in its box, and stays on the paper', async () => {
    const marks = texts(await laid({ content: ['Upright words'], width: 6, height: 40, look: { turn: -90 } }, 40));
    expect(marks.map((m) => [m.text, m.turn])).toEqual([['Upright words', -90]]);
    expect(marks[0]!.x).toBeGreaterThan(15 * POINTS);
    expect(marks[0]!.x).toBeLessThan(21 * POINTS);
    expect(marks[0]!.y).toBeCloseTo(55 * POINTS, 0);
  });

  it('neither grows nor runs over when it must not', async () => {
    const content = ['one two three four five six seven eight nine ten eleven twelve'];
    const report = flat({
      detail: band(10, { ...words({ content, width: 30, height: 5, grow: false }) }, field('below', 'name', { y: 5 })),
    });
    const marks = texts(await marksOf(report, { hut: [{ name: 'below' }] }));
    expect(marks.filter((m) => m.item === 't').length).toBe(1);
    expect(marks.find((m) => m.item === 'below')!.y).toBeLessThan(27 * POINTS);
  });

  it('makes lines and rectangles stretch with their band', async () => {
    const content = ['one two three four five six seven eight nine ten eleven twelve'];
    const at = { x: 0, y: 0, width: 60, height: 5 };
    const report = definition({
      header: band(
        5,
        { kind: 'rectangle', id: 'r', ...at, stroke: '#000000', stretch: true },
        { kind: 'line', id: 'l', ...at, width: 0, stretch: true },
        { kind: 'line', id: 'u', ...at, y: 5, height: 0, stretch: true },
        words({ content, width: 30 }),
      ),
    });
    const marks = await marksOf(report, {});
    const region = marks.find((m) => m.kind === 'region')!;
    expect(region.height).toBeGreaterThan(10 * POINTS);
    expect(marks.find((m) => m.kind === 'rectangle')).toMatchObject({ height: region.height });
    const lines = marks.filter((m): m is LineMark => m.kind === 'line');
    expect(lines[0]!.y2 - lines[0]!.y).toBeCloseTo(region.height, 3);
    expect(lines[1]!.y).toBeCloseTo(15 * POINTS + region.height, 3);
  });
});

describe('pages are links', () => {
  it('to addresses and e-mail, anchors and other reports; never to what could run', async () => {
    const links = async (link: unknown) =>
      (await marksOf(flat({ first: 1, detail: band(5, field('n', 'name', { link })) })))
        .filter((m): m is LinkMark => m.kind === 'link')
        .map((m) => m.to);
    expect(await links({ address: '"https://cumeeira.example/huts/" & id' })).toEqual([
      { address: 'https://cumeeira.example/huts/1' },
    ]);
    expect(await links({ address: '"office@cumeeira.example"' })).toEqual([
      { address: 'mailto:office@cumeeira.example' },
    ]);
    expect(await links({ anchor: '"hut" & id' })).toEqual([{ anchor: 'hut1' }]);
    expect(await links({ report: 'ledger', parameters: { hut: 'id', day: 'DATE(2025;7;1)' } })).toEqual([
      { report: 'ledger', parameters: { hut: 1, day: '2025-07-01' } },
    ]);
    for (const address of [
      'javascript:alert(1)',
      ' JaVaScRiPt:x',
      'data:text/html,x',
      'https://a b',
      'file:///etc/passwd',
    ])
      expect(await links({ address: `"${address}"` })).toEqual([]);
  });

  it('with anchors, and an outline of headings at several levels', async () => {
    const report = flat({
      detail: band(5, field('n', 'name', { outline: 1, anchor: '"hut" & id' })),
      detailFooter: band(5, field('m', '"about " & name', { outline: 2 })),
    });
    const marks = await marksOf(report);
    expect(marks.flatMap((m) => (m.kind === 'outline' ? [`${m.level} ${m.title}`] : []))).toEqual([
      '1 Lago',
      '2 about Lago',
      '1 Sino',
      '2 about Sino',
      '1 Brecha',
      '2 about Brecha',
    ]);
    expect(marks.flatMap((m) => (m.kind === 'anchor' ? [m.name] : []))).toEqual(['hut1', 'hut2', 'hut3']);
  });
});
