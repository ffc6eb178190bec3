import { expect, it } from 'vitest';
import type { Report } from '../definition/schema.ts';
import { band, definition, field, lay, line, type Rows } from '../layout/huts.test-support.ts';
import type { Page, TextMark } from '../page/page.ts';
import { checkFormulas, takeValues, withValues } from './checked-report.ts';
import { comparePages, type Difference, keptPage } from './compare-pages.ts';

const ROWS: Rows = {
  hut: [
    { id: 1, name: 'Pedra Longa' },
    { id: 2, name: 'Vale Frio' },
  ],
  stay: [
    { in: 1, id: 1, nights: 2.005 },
    { in: 1, id: 2, nights: 3 },
    { in: 2, id: 3, nights: 0.1 },
  ],
};

const report = (more: Record<string, unknown> = {}, nights = 'nights'): Report =>
  definition({
    pageFooter: line('foot', '"page " & page.number & " of " & page.count'),
    body: [
      {
        id: 'h',
        name: 'hut',
        rows: { entity: 'hut' },
        detail: band(8, field('name', 'name'), { kind: 'line', id: 'rule', x: 0, y: 7, width: 80, height: 0 }),
        drawers: [
          {
            id: 's',
            name: 'stay',
            rows: { relation: 'stays' },
            detail: band(6, field('nights', nights, { x: 60, width: 20, format: '0.00', look: { align: 'right' } })),
          },
        ],
      },
    ],
    ...more,
  });

const laid = async (
  from: Report,
  formulas: readonly string[] = [],
): Promise<{ pages: Page[]; values: (string | null)[] }> => {
  const { pages } = await lay(withValues(from, formulas), ROWS);
  return takeValues(pages, [], formulas.length);
};

const keptOf = async (from: Report): Promise<Page[]> => (await laid(from)).pages.map(keptPage);

it('formulas are worked out at the end of a report, exactly, and leave its pages as they are', async () => {
  const plain = await laid(report());
  for (const from of [report(), report({ footer: line('end', '"The end"') })]) {
    const { pages, values } = await laid(from, ['SUM(nights)', 'COUNT(hut)', 'page.count', 'MAX(name)', '1 / 0']);
    expect(values).toEqual(['5.105', '2', '1', 'Vale Frio', '#DIV/0!']);
    expect(pages.map(keptPage)).toEqual(await keptOf(from));
  }
  expect(plain.pages).toHaveLength(1);
});

it('a footer that is left out leaves its formulas without a value', async () => {
  expect((await laid(report({ footer: { height: 5, showIf: 'FALSE()' } }), ['SUM(nights)'])).values).toEqual([null]);
});

it('a check is taken apart, so that it can be said why it fails', () => {
  expect(checkFormulas('SUM(amount) = 1821479.53')).toEqual({
    holds: 'IF(SUM(amount) = 1821479.53; 1; 0)',
    sides: ['SUM(amount)'],
  });
  expect(checkFormulas('SUM(a) <= SUM(b) * 2').sides).toEqual(['SUM(a)', 'SUM(b) * 2']);
  expect(checkFormulas('AND(page.count < 30; TRUE())').sides).toEqual([]);
  expect(checkFormulas('SUM(')).toEqual({ holds: 'SUM(', sides: [] });
});

it('the same pages have no differences, whatever marks hold that nobody sees', async () => {
  const { pages } = await laid(report());
  expect(pages[0]!.marks.some(({ kind }) => kind === 'region')).toBe(true);
  const kept = pages.map(keptPage);
  expect(kept[0]!.marks.some(({ kind }) => kind === 'region')).toBe(false);
  expect(comparePages(kept, JSON.parse(JSON.stringify(kept)) as Page[])).toEqual([]);
});

const said = (one: Difference): string => {
  const text = (mark: TextMark): string => mark.text;
  switch (one.kind) {
    case 'text-changed':
      return `${text(one.was)} -> ${text(one.is)}`;
    case 'text-moved':
    case 'text-look':
      return `${one.kind} ${text(one.is)}`;
    case 'text-missing':
      return `missing ${text(one.was)}`;
    case 'text-new':
      return `new ${text(one.is)}`;
    case 'marks':
      return `marks ${one.was.length} ${one.is.length}`;
    default:
      return one.kind;
  }
};

it('tells what was changed, moved, lost and added, and nothing else', async () => {
  const before = await keptOf(report());
  const found = async (after: Report): Promise<string[]> => comparePages(before, await keptOf(after)).map(said);
  // The one number whose width differs is still the same one, on the same line.
  expect(await found(report({}, 'IF(nights = 3; 1234; nights)'))).toEqual(['3.00 -> 1,234.00'.replace(',', '')]);
  expect(await found(report({}, 'IF(nights = 3; ""; nights)'))).toEqual(['missing 3.00']);
  expect(await found(report({ footer: line('end', '"The end"') }))).toEqual(['new The end']);
  const header = await found(report({ header: line('top', '"Huts"') }));
  expect(header).toEqual([
    'text-moved Pedra Longa',
    'new Huts',
    'text-moved 2.01',
    'text-moved 3.00',
    'text-moved Vale Frio',
    'text-moved 0.10',
    'marks 2 2',
  ]);
  const styled = report({ pageFooter: band(5, field('foot', '"page 1 of 1"', { look: { color: '#1f5c4d' } })) });
  expect(await found(styled)).toEqual(['text-look page 1 of 1']);
});

it('tells of paper and of pages that are gone or new', async () => {
  const [page] = await keptOf(report());
  const second = { ...page!, number: 2 };
  expect(comparePages([page!, second], [page!])).toEqual([{ kind: 'page-missing', page: 2 }]);
  expect(comparePages([page!], [page!, second])).toEqual([{ kind: 'page-new', page: 2 }]);
  expect(comparePages([page!], [{ ...page!, height: 500 }])).toEqual([
    { kind: 'page-size', page: 1, was: '595.3 x 841.9', is: '595.3 x 500.0' },
  ]);
});
