import { describe, expect, it } from 'vitest';
import { band, definition, line } from '../layout/huts.test-support.ts';
import { readDefinition } from './read.ts';
import { styleLook } from './schema.ts';
import { allBands, bandKey, findBand, sameBand } from './walk.ts';

const report = definition({
  pageBackground: band(297),
  pageHeader: band(8),
  pageOverlay: band(297),
  header: band(8),
  body: [
    {
      id: 'huts',
      name: 'hut',
      rows: { entity: 'hut' },
      first: 3,
      header: band(5),
      groups: [
        { name: 'outer', by: 'name', header: band(5), footer: band(5) },
        { name: 'inner', by: 'id', header: band(5), footer: band(5) },
      ],
      detail: band(5),
      others: band(5),
      footer: band(5),
      drawers: [{ id: 'stays', name: 'stay', rows: { relation: 'stays' }, detail: band(5) }],
    },
  ],
});

describe('bands', () => {
  it('come in the order of the board, groups around the rows', () => {
    expect([...allBands(report)].map((b) => bandKey(b.address))).toEqual([
      'pageBackground',
      'pageHeader',
      'header',
      'huts/header',
      'huts/outer/header',
      'huts/inner/header',
      'huts/detail',
      'stays/detail',
      'huts/inner/footer',
      'huts/outer/footer',
      'huts/others',
      'huts/footer',
      'pageOverlay',
    ]);
  });

  it('are found by their address, a group’s by the group too', () => {
    const address = { drawer: 'huts', group: 'inner', band: 'footer' } as const;
    expect(findBand(report, address)).toBe(report.body[0]!.groups![1]!.footer);
    expect(findBand(report, { drawer: 'huts', group: 'gone', band: 'footer' })).toBeNull();
    expect(sameBand(address, { drawer: 'huts', band: 'footer' })).toBe(false);
  });
});

it('a style takes what it does not say from those it is based on, and a circle ends', () => {
  const styles = {
    base: { size: 9, color: '#112233' },
    loud: { basedOn: 'base', bold: true, size: 12 },
    a: { basedOn: 'b', italic: true },
    b: { basedOn: 'a', size: 7 },
  };
  expect(styleLook(styles, 'loud')).toEqual({ size: 12, color: '#112233', bold: true });
  expect(styleLook(styles, 'a')).toEqual({ size: 7, italic: true });
  expect(styleLook(styles, 'gone')).toEqual({});
  expect(styleLook(styles, undefined)).toEqual({});
});

describe('what a file gets wrong is named by its place', () => {
  const body = { id: 'huts', name: 'hut', rows: { entity: 'hut' } };
  it.each([
    ['a group without a name', { body: [{ ...body, groups: [{ by: 'name' }] }] }, 'body/0/groups/0/name'],
    [
      'a grouping that is none',
      { body: [{ ...body, groups: [{ name: 'g', by: 'name', per: 'moon' }] }] },
      'body/0/groups/0/per',
    ],
    ['no columns', { body: [{ ...body, columns: { count: 0 } }] }, 'body/0/columns/count'],
    ['a colour that is none', { body: [{ ...body, alternate: 'red' }] }, 'body/0/alternate'],
    ['a paper that is none', { page: { paper: 'A77' } }, 'page/paper'],
    ['an opacity past 1', { styles: { x: { opacity: 2 } } }, 'styles/x/opacity'],
    [
      'a heading of level 0',
      { header: band(5, { ...(line('x', '1').items[0] as object), outline: 0 }) },
      'header/items/0',
    ],
    ['first of less than one row', { body: [{ ...body, first: 0 }] }, 'body/0/first'],
  ])('%s', (_what, json, path) => {
    const read = readDefinition({ gaveta: 2, name: 'Test', model: 'huts', ...json });
    expect(read.ok).toBe(false);
    if (!read.ok) expect(read.problems[0]!.place.path).toContain(path);
  });
});
