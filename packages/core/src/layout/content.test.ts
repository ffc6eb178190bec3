import { describe, expect, it } from 'vitest';
import type { ContentBlock, ContentEvent, ContentPart, ContentSection } from '../content/content.ts';
import type { TextContent } from '../content/pieces.ts';
import { readParameters } from '../data/parameters.ts';
import type { Report } from '../definition/schema.ts';
import { preparedReport } from '../run/prepared-report.ts';
import type { FoldState } from '../shape/folds.ts';
import { layContent } from './content-run.ts';
import { band, definition, field, lay, line, nest, plan, type Rows, rowsOf } from './huts.test-support.ts';
import { testBook } from './shipped.test-support.ts';

const ROWS: Rows = {
  hut: [
    { id: 1, name: 'Brecha' },
    { id: 2, name: 'Pedra Longa' },
  ],
  stay: [
    { in: 1, id: 11, guest: 'Ana', nights: 2, arrival: '2025-06-01' },
    { in: 1, id: 12, guest: 'Rui', nights: 3, arrival: '2025-06-02' },
    { in: 2, id: 13, guest: 'Bea', nights: null, arrival: null },
  ],
};

const eventsOf = async (
  report: Report,
  { nested = {}, folds }: { nested?: Record<string, Report>; folds?: FoldState } = {},
): Promise<ContentEvent[]> => {
  const events: ContentEvent[] = [];
  await layContent(await preparedReport(plan(report, nested), testBook), {
    parameters: readParameters(report, {}).values,
    source: rowsOf(ROWS),
    listener: (event) => void events.push(event),
    folds,
  });
  return events;
};

const blocks = (events: readonly ContentEvent[]): ContentBlock[] =>
  events.flatMap((event) => (event.kind === 'block' ? [event] : []));
const sections = (events: readonly ContentEvent[]): ContentSection[] =>
  events.flatMap((event) => (event.kind === 'section' ? [event] : []));
const text = ({ content }: ContentPart): TextContent => {
  if (content.kind !== 'text') throw new Error(`a ${content.kind}`);
  return content;
};
const words = (part: ContentPart): string =>
  text(part)
    .runs.map((run) => run.text)
    .join('');
const wordsOf = (block: ContentBlock | null | undefined): string[] => block?.parts.map(words) ?? [];

const stays = (more: Record<string, unknown> = {}) => ({
  id: 'stays',
  name: 'stay',
  rows: { relation: 'stays' },
  detail: band(
    5,
    field('guest', 'guest'),
    field('nights', 'nights', { x: 60, width: 20, format: '0.0', look: { align: 'right' } }),
    field('arrival', 'arrival', { x: 90, width: 30, format: 'd mmm yyyy' }),
  ),
  footer: band(5, field('sum', 'SUM(nights)', { x: 60, width: 20, format: '0.0' })),
  ...more,
});
const huts = (inner: object[], more: Record<string, unknown> = {}, report: Record<string, unknown> = {}) =>
  definition({
    body: [{ id: 'huts', name: 'hut', rows: { entity: 'hut' }, detail: line('name', 'name'), drawers: inner, ...more }],
    ...report,
  });

describe('what documents are told', () => {
  it('is each band before it is put on a page, with the values behind its texts', async () => {
    const events = await eventsOf(huts([stays()]));
    const said = blocks(events).map(wordsOf);
    expect(said).toEqual([
      ['Brecha'],
      ['Ana', '2.0', '1 Jun 2025'],
      ['Rui', '3.0', '2 Jun 2025'],
      ['5.0'],
      ['Pedra Longa'],
      ['Bea'],
      ['0.0'],
    ]);
    const [, first] = blocks(events);
    const [guest, nights, arrival] = first!.parts.map(text);
    expect([guest!.value, nights!.value, String(arrival!.value)]).toEqual(['Ana', 2, '2025-06-01']);
    expect([nights!.format, nights!.align]).toEqual(['0.0', 'right']);
    expect(first!.bands).toHaveLength(1);
    expect(first!.bands[0]).toMatchObject({ x: 0, y: 0, height: first!.height });
  });

  it('names the formula of each value, and what a total counts', async () => {
    const [, first, second, total] = blocks(await eventsOf(huts([stays()])));
    const source = (block: ContentBlock | undefined, at: number) => text(block!.parts[at]!).source;
    expect(source(first, 1)).toBe(source(second, 1));
    expect(source(first, 1)).not.toBe(source(first, 0));
    expect(text(total!.parts[0]!).total).toEqual({ name: 'SUM', of: source(first, 1) });
  });

  it('has as many events of a part that begins as of parts that end, around their blocks', async () => {
    const events = await eventsOf(huts([stays({ groups: [{ name: 'g', by: 'guest', header: line('gh', 'guest') }] })]));
    let depth = 0;
    for (const event of events) {
      if (event.kind === 'begins') depth++;
      if (event.kind === 'ends') depth--;
      expect(depth).toBeGreaterThanOrEqual(0);
    }
    expect(depth).toBe(0);
    // A hut, its stays under it, and under the heading of each group.
    const depths = blocks(events).map((block) => block.depth);
    expect(depths.slice(0, 3)).toEqual([0, 1, 2]);
  });

  it('tells of what is closed as well, and says so', async () => {
    const report = huts([stays({ fold: { closed: true }, header: line('caption', '"Stays"') })]);
    const told = blocks(await eventsOf(report));
    const heading = told.find((block) => wordsOf(block)[0] === 'Stays')!;
    expect(heading.isCollapsed).toBe(true);
    expect(told.some((block) => wordsOf(block)[0] === 'Ana' && block.depth > heading.depth)).toBe(true);
    const open = blocks(await eventsOf(report, { folds: { base: 'open', turned: [] } }));
    expect(open.some(({ isCollapsed }) => isCollapsed)).toBe(false);
    expect(open.map(wordsOf)).toEqual(told.map(wordsOf));
  });

  it('lays a footer that is hidden with what is closed under its heading, and any other beside it', async () => {
    const depthsOf = async (fold: object): Promise<(number | undefined)[]> => {
      const of = (name: string, by: object): object => ({
        name,
        by: 'guest',
        ...by,
        header: line(`${name}-head`, '"Head"'),
        footer: line(`${name}-foot`, '"Foot"'),
      });
      const report = huts([stays({ fold, header: line('caption', '"Stays"'), groups: [of('guests', { fold })] })]);
      const told = blocks(await eventsOf(report));
      const depth = (words: string): number | undefined => told.find((block) => wordsOf(block)[0] === words)?.depth;
      return [depth('Stays'), depth('5.0'), depth('Head'), depth('Foot')];
    };
    expect(await depthsOf({ closed: true })).toEqual([1, 1, 2, 2]);
    expect(await depthsOf({ closed: true, hidesFooter: true })).toEqual([1, 2, 2, 3]);
  });

  it('says which texts head the columns of a drawer', async () => {
    const told = blocks(await eventsOf(huts([stays({ header: line('caption', '"Guest"') })])));
    const roles = told.slice(1, 3).map((block) => text(block.parts[0]!).as);
    expect(roles).toEqual(['header', undefined]);
  });

  it('keeps texts whole that pages break, as high as they are there', async () => {
    const long = 'A path that is long enough to go on over many lines of its narrow box, and over some more of them.';
    const report = huts([], { detail: band(5, field('long', `"${long}"`, { width: 25 })) });
    const told = blocks(await eventsOf(report));
    expect(wordsOf(told[0])).toEqual([long]);
    const { pages } = await lay(report, ROWS);
    const regions = pages[0]!.marks.flatMap((mark) => (mark.kind === 'region' ? [mark.height] : []));
    expect(told.map(({ height }) => height)).toEqual(regions);
  });

  it('gives paper its bands, with fields for numbers of pages', async () => {
    const report = huts(
      [],
      {},
      {
        page: { paper: 'A5', orientation: 'landscape' },
        pageHeader: line('head', '"Huts"'),
        firstPageHeader: line('first', '"Title"'),
        pageFooter: band(
          5,
          {
            kind: 'text',
            id: 'foot',
            x: 0,
            y: 0,
            width: 60,
            height: 5,
            content: ['Page ', { formula: 'page.number' }],
          },
          field('of', '"of " & page.count & " pages"', { x: 60 }),
          field('rest', 'page.room', { x: 120 }),
        ),
      },
    );
    const [section] = sections(await eventsOf(report));
    expect(section!.width).toBeGreaterThan(section!.height);
    expect(wordsOf(section!.header)).toEqual(['Huts']);
    expect(wordsOf(section!.first?.header)).toEqual(['Title']);
    expect(section!.even).toBeUndefined();
    const runs = section!.footer!.parts.map((part) => text(part).runs.map((run) => run.field ?? run.text));
    expect(runs).toEqual([
      ['Page ', 'page'],
      ['of ', 'pages', ' pages'],
    ]);
  });

  it('tells of new pages once something stands on them, and of other paper', async () => {
    const broken = await eventsOf(huts([], { detail: line('name', 'name', { pageBreak: 'between' }) }));
    expect(broken.flatMap(({ kind }) => (kind === 'block' || kind === 'break' ? [kind] : []))).toEqual([
      'block',
      'break',
      'block',
    ]);
    const empty = await eventsOf(definition({ body: [] }));
    expect(empty.map(({ kind }) => kind)).toEqual(['section']);
  });

  it('puts nested reports where they stand, beside one another as columns', async () => {
    const inner = definition({
      body: [{ id: 'inner', name: 'stay', rows: { entity: 'stay' }, detail: line('guest', 'guest') }],
    });
    const report = huts([], {
      detail: band(20, nest('i', { id: 'a', width: 40 }), nest('i', { id: 'b', x: 90, width: 40 })),
    });
    const told = blocks(await eventsOf(report, { nested: { i: inner } }));
    const block = told.find(({ parts }) => parts.length > 1)!;
    const columns = block.bands.filter(({ key }) => key === null);
    expect(columns).toHaveLength(2);
    expect(columns[0]!.x + columns[0]!.width).toBeLessThan(columns[1]!.x + 1);
  });

  it('has looks, links, places and headings with the texts that they belong to', async () => {
    const report = huts([], {
      detail: band(
        6,
        field('name', 'name', {
          look: { bold: true, background: '#eeeeee', border: { bottom: { width: 0.5, color: '#333333' } } },
          outline: 2,
          anchor: '"hut " & id',
        }),
        field('more', '"more"', { x: 80, link: { address: '"https://huts.example/" & id' } }),
      ),
    });
    const [first] = blocks(await eventsOf(report));
    const [name, more] = first!.parts;
    expect(name).toMatchObject({ heading: { level: 2, title: 'Brecha' }, anchor: 'hut 1' });
    expect(text(name!)).toMatchObject({ as: 'heading', background: '#eeeeee', runs: [{ look: { bold: true } }] });
    expect(text(name!).border?.bottom?.color).toBe('#333333');
    expect(more!.to).toEqual({ address: 'https://huts.example/1' });
  });

  it('draws barcodes as one piece, and parts formatted text into paragraphs', async () => {
    const html = '<h2>Door</h2><p>Bring a <b>lamp</b></p><ul><li>Key</li></ul>';
    const report = huts([], {
      detail: band(
        30,
        { kind: 'barcode', id: 'code', x: 0, y: 0, width: 20, height: 20, code: 'qr', formula: 'name' },
        { kind: 'formatted', id: 'form', x: 40, y: 0, width: 80, height: 20, formula: `"${html}"` },
      ),
    });
    const [first] = blocks(await eventsOf(report));
    const [code, ...paragraphs] = first!.parts;
    expect(code!.content).toMatchObject({ kind: 'drawing' });
    expect(paragraphs.map(words)).toEqual(['Door', 'Bring a lamp', 'Key']);
    expect(text(paragraphs[0]!).level).toBe(2);
    expect(text(paragraphs[1]!).runs.map(({ look }) => look.bold)).toEqual([false, true]);
    expect(text(paragraphs[2]!).listed).toEqual({ mark: '•', depth: 0 });
  });
});
