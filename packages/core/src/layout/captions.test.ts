import { expect, it } from 'vitest';
import { structureOf } from '../page/page.ts';
import { band, definition, field, lay } from './huts.test-support.ts';

const words = (id: string, text: string, x: number, more: object = {}) => ({
  kind: 'text',
  id,
  content: [text],
  x,
  y: 0,
  width: 30,
  height: 5,
  ...more,
});
const HUTS = { hut: [{ id: 1, name: 'Pedra Longa' }] };

/** What the texts of a group's header are, by their items. */
const headerOf = async (...items: object[]): Promise<Record<string, string>> => {
  const { pages } = await lay(
    definition({
      body: [
        {
          id: 'h',
          name: 'hut',
          rows: { entity: 'hut' },
          groups: [{ name: 'initial', by: 'LEFT(name)', header: band(8, ...items) }],
          detail: band(6, field('id', 'id', { width: 30 }), field('name', 'name', { x: 40, width: 30 })),
        },
      ],
    }),
    HUTS,
  );
  const ids = new Set(items.map((item) => (item as { id: string }).id));
  return Object.fromEntries(
    pages[0]!.marks.flatMap((mark) =>
      mark.kind === 'text' && ids.has(mark.item ?? '') ? [[mark.item!, structureOf(mark)]] : [],
    ),
  );
};

it('takes words of a group’s header that line up with values below them for captions, at either edge', async () => {
  expect(await headerOf(words('a', 'No.', 0), words('b', 'Name', 50, { width: 20 }))).toEqual({
    a: 'header',
    b: 'header',
  });
});

it('takes words that line up with nothing, a single one, and what rows decide on for what they are', async () => {
  expect(await headerOf(words('a', 'No.', 0), words('b', 'Name', 90))).toEqual({ a: 'content', b: 'content' });
  expect(await headerOf(words('a', 'No.', 0))).toEqual({ a: 'content' });
  expect(await headerOf(words('a', 'No.', 0), field('b', 'LEFT(name)', { x: 40, width: 30 }))).toEqual({
    a: 'content',
    b: 'content',
  });
});

it('takes words of a column set for captions, wherever they stand', async () => {
  const column = (name: string) => ({ column: { set: 'huts', name } });
  const { pages } = await lay(
    definition({
      body: [
        {
          id: 'h',
          name: 'hut',
          rows: { entity: 'hut' },
          groups: [
            {
              name: 'initial',
              by: 'LEFT(name)',
              header: band(8, words('a', 'No.', 5, column('id')), words('b', 'Name', 77, column('name'))),
            },
          ],
          detail: band(
            6,
            field('id', 'id', { width: 30, ...column('id') }),
            field('name', 'name', { x: 40, width: 30, ...column('name') }),
          ),
        },
      ],
    }),
    HUTS,
  );
  const said = pages[0]!.marks.flatMap((mark) => (mark.kind === 'text' ? [`${mark.item} ${structureOf(mark)}`] : []));
  expect(said).toEqual(['a header', 'b header', 'id content', 'name content']);
});
