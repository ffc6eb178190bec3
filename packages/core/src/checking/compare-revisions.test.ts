import { describe, expect, it } from 'vitest';
import { type Report, readDefinition } from '../internal.ts';
import type { Mark, Page } from '../page/page.ts';
import { compareRevisions, compareTotals } from './compare-revisions.ts';

const text = (words: string, y: number, item = 't'): Mark => ({
  ...{ kind: 'text', x: 50, y, text: words, font: 'Source Sans 3/400', size: 10, color: '#000000', width: 40, item },
});
const page = (number: number, ...marks: Mark[]): Page => ({ number, width: 595, height: 842, marks }) as Page;

describe('two revisions of a report', () => {
  it('are told apart by places on the pages of each', () => {
    const before = [page(1, text('Huts', 40, 'h'), text('24', 100), text('old', 200, 'o'))];
    const after = [page(1, text('Huts', 40, 'h'), text('23', 100), text('new', 300, 'n'))];
    const { older, newer, steps } = compareRevisions(before, after);
    expect(older).toMatchObject([
      { page: 1, x: 50, width: 40, how: 'changed' },
      { page: 1, how: 'apart' },
    ]);
    expect(older[0]!.y).toBeCloseTo(90.5);
    expect(newer.map(({ how }) => how)).toEqual(['changed', 'apart']);
    expect(steps.map(({ y }) => Math.round(y))).toEqual([91, 191, 291]);
  });

  it('that say the same are marked nowhere', () => {
    const pages = [page(1, text('Huts', 40)), page(2, text('24', 40))];
    expect(compareRevisions(pages, pages)).toEqual({ older: [], newer: [], steps: [] });
  });

  it('mark what moved, which nobody is led to where something else differs', () => {
    const before = [page(1, text('a', 40, 'a'), text('b', 60, 'b'))];
    const after = [page(1, text('a', 40, 'a'), text('c', 50, 'c'), text('b', 80, 'b'))];
    const { newer, steps } = compareRevisions(before, after);
    expect(newer.map(({ how }) => how).sort()).toEqual(['apart', 'moved']);
    expect(steps).toHaveLength(1);
    expect(compareRevisions([page(1, text('a', 40))], [page(1, text('a', 90))]).steps).toHaveLength(1);
  });

  it('are not held to pages that one of them has alone', () => {
    expect(compareRevisions([page(1, text('a', 40)), page(2, text('b', 40))], [page(1, text('a', 40))]).older).toEqual(
      [],
    );
  });
});

describe('totals of two revisions', () => {
  const report = (footer: object[]): Report => {
    const read = readDefinition({ gaveta: 2, name: 'r', footer: { height: 20, items: footer } });
    if (!read.ok) throw new Error(JSON.stringify(read.problems));
    return read.report;
  };
  const total = (id: string, formula: string) => ({
    ...{ kind: 'field', id, formula, x: 0, y: 0, width: 20, height: 5 },
  });

  it('stand side by side, with those that are gone last', () => {
    const older = {
      report: report([total('n', 'SUM(nights)'), total('gone', 'COUNT()')]),
      pages: [page(1, text('12', 40, 'n')), page(2, text('12,000', 40, 'n'), text('7', 60, 'gone'))],
    };
    const newer = {
      report: report([total('new', 'MAX(nights)'), total('n', 'SUM(nights)')]),
      pages: [page(1, text('11,900', 40, 'n'), text('31', 60, 'new'))],
    };
    expect(compareTotals(older, newer).map(({ item, was, is }) => [item.id, was, is])).toEqual([
      ['new', null, '31'],
      ['n', '12,000', '11,900'],
      ['gone', '7', null],
    ]);
  });
});
