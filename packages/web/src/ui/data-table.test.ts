// @vitest-environment happy-dom
import i18next from 'i18next';
import { act, createElement } from 'react';
import { createRoot, type Root } from 'react-dom/client';
import { afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { type DataColumn, DataTable } from './data-table.tsx';

(globalThis as { IS_REACT_ACT_ENVIRONMENT?: boolean }).IS_REACT_ACT_ENVIRONMENT = true;

type Row = readonly [hut: string, nights: number];
const ROWS: readonly Row[] = [
  ['Alminhas', 12],
  ['Brecha', 9],
];

let root: Root;
let place: HTMLElement;
beforeAll(() => i18next.init({ lng: 'en', showSupportNotice: false, resources: {} }));
beforeEach(() => {
  place = document.createElement('div');
  root = createRoot(place);
});
afterEach(() => act(() => root.unmount()));

const columns = (more: Partial<DataColumn<Row>> = {}): DataColumn<Row>[] => [
  { id: 'hut', head: 'Hut', isRight: false, cell: ([hut]) => hut },
  { id: 'nights', head: 'Nights', isRight: true, cell: ([, nights]) => createElement('b', null, nights), ...more },
];
const show = (given: DataColumn<Row>[], rows = ROWS): void =>
  act(() =>
    root.render(
      createElement(DataTable<Row>, { label: 'Huts', columns: given, rows, headLook: 'head', cellLook: 'cell' }),
    ),
  );
const texts = (css: string): string[] => [...place.querySelectorAll(css)].map((one) => one.textContent ?? '');

describe('a table', () => {
  it('has a head and a cell for each column, numbers at the right', () => {
    show(columns());
    expect(place.querySelector('table')?.getAttribute('aria-label')).toBe('Huts');
    expect(texts('th')).toEqual(['Hut', 'Nights']);
    expect(texts('tbody td')).toEqual(['Alminhas', '12', 'Brecha', '9']);
    const sides = [...place.querySelectorAll('tbody tr:first-child td')].map(({ className }) =>
      className.includes('text-end'),
    );
    expect(sides).toEqual([false, true]);
  });

  it('tells of its columns in a line of its own where there is something to tell', () => {
    show(columns());
    expect(place.querySelectorAll('thead tr')).toHaveLength(1);
    show(columns({ facts: '9 to 12' }));
    expect(texts('thead td')).toEqual(['', '9 to 12']);
  });

  it('marks a cell that is unlike the others, and says why', () => {
    show(columns({ unlike: ([, nights]) => (nights < 10 ? { look: 'odd', title: 'few' } : null) }));
    const odd = place.querySelectorAll('td.odd');
    expect([odd.length, odd[0]?.textContent, odd[0]?.getAttribute('title')]).toEqual([1, '9', 'few']);
  });

  it('keeps what stands in its cells when it is drawn anew with columns that are made anew', () => {
    show(columns());
    const before = [...place.querySelectorAll('tbody td, tbody b')];
    show(columns(), [...ROWS]);
    expect([...place.querySelectorAll('tbody td, tbody b')]).toEqual(before);
    for (const [i, one] of [...place.querySelectorAll('tbody b')].entries())
      expect(one).toBe(before.filter(({ tagName }) => tagName === 'B')[i]);
  });

  it('shows other rows and columns when it gets them', () => {
    show(columns());
    show(columns().slice(0, 1), [['Lagoa', 1]]);
    expect([texts('th'), texts('tbody td')]).toEqual([['Hut'], ['Lagoa']]);
    show(columns(), []);
    expect(texts('tbody td')).toEqual([]);
  });
});
