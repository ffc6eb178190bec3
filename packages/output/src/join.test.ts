import type { Mark, Page } from '@gaveta/core/internal';
import { expect, it } from 'vitest';
import { joinedPage } from './join.ts';

it('puts reports one after another: pages numbered on, anchors of their own, their outlines under their titles', () => {
  const marks: Mark[] = [
    { kind: 'anchor', name: 'a', x: 0, y: 0 },
    { kind: 'link', x: 0, y: 0, width: 1, height: 1, to: { anchor: 'a' } },
    { kind: 'link', x: 0, y: 0, width: 1, height: 1, to: { address: 'https://a.example' } },
    { kind: 'outline', level: 1, title: 'Alminhas', x: 5, y: 5 },
  ];
  const page: Page = { number: 1, width: 10, height: 10, marks };
  const part = { title: 'Hut handbook', index: 1, offset: 4 };
  expect(joinedPage(page, part)).toEqual({
    number: 5,
    partNumber: 1,
    width: 10,
    height: 10,
    marks: [
      { kind: 'outline', level: 1, title: 'Hut handbook', x: 0, y: 0 },
      { kind: 'anchor', name: '1 a', x: 0, y: 0 },
      { kind: 'link', x: 0, y: 0, width: 1, height: 1, to: { anchor: '1 a' } },
      { kind: 'link', x: 0, y: 0, width: 1, height: 1, to: { address: 'https://a.example' } },
      { kind: 'outline', level: 2, title: 'Alminhas', x: 5, y: 5 },
    ],
  });
  const second = joinedPage({ ...page, number: 2, marks: [] }, part);
  expect(second).toMatchObject({ number: 6, partNumber: 2, marks: [] });
});
