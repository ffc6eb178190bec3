import type { Page } from '@gaveta/core/internal';
import { expect, it } from 'vitest';
import { everyPage, pageNumbers } from './page-numbers.ts';
import { somePages } from './some-pages.ts';

it('pages are named one by one and from one to another, each is printed once', () => {
  expect(pageNumbers('1-3, 7', 9)).toEqual([1, 2, 3, 7]);
  expect(pageNumbers('7; 2 – 3 ,2', 9)).toEqual([2, 3, 7]);
  expect([pageNumbers('-2', 9), pageNumbers('8-', 9), pageNumbers('5-900', 6)]).toEqual([
    [1, 2],
    [8, 9],
    [5, 6],
  ]);
});

it('what names no page is refused', () => {
  for (const text of ['', ' , ', 'x', '0', '3-2', '12', '1-2-3', '-', '1'.repeat(600)])
    expect([text, pageNumbers(text, 9)]).toEqual([text, null]);
});

it('pages that follow one another are fetched together, as many as the server gives', async () => {
  const asked: [number, number][] = [];
  const fetchPages = async (_: string, from: number, count: number): Promise<Page[]> => {
    asked.push([from, count]);
    return everyPage(count).map((i) => ({ number: from + i - 1, width: 1, height: 1, marks: [] }));
  };
  const got: number[] = [];
  for await (const { number } of somePages('run', [...everyPage(23), 40, 41], fetchPages)) got.push(number);
  expect(got).toEqual([...everyPage(23), 40, 41]);
  expect(asked).toEqual([
    [1, 20],
    [21, 3],
    [40, 2],
  ]);
});
