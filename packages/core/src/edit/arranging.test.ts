import { describe, expect, it } from 'vitest';
import { band, definition, field, lay, type Rows, words } from '../layout/huts.test-support.ts';
import { type Arrangement, AS_MADE, arranged, readerColumns } from './arranging.ts';

const column = (name: string) => ({ column: { set: 'stays', name } });
const at = (x: number, more: object = {}) => ({ x, width: 30, ...more });

const report = definition({
  header: band(20, words('title', 'Stays', 0)),
  body: [
    {
      id: 'huts',
      name: 'hut',
      rows: { entity: 'hut' },
      detail: band(6, field('hut', 'name', at(0))),
      drawers: [
        {
          id: 'stays',
          name: 'stay',
          rows: { relation: 'stays' },
          sort: [{ by: 'id' }],
          header: band(
            6,
            words('c-guest', 'Guest', 0, column('guest')),
            words('c-nights', 'Nights', 40, column('nights')),
            words('c-so-far', 'So far', 80, column('sofar')),
          ),
          detail: band(
            6,
            field('guest', 'guest', at(0, column('guest'))),
            field('nights', 'nights', at(40, column('nights'))),
            field('sofar', 'RUNNING(nights)', at(80, column('sofar'))),
          ),
          footer: band(6, field('total', 'SUM(nights)', at(40, column('nights')))),
        },
      ],
    },
  ],
});
const rows: Rows = {
  hut: [{ name: 'a' }, { name: 'b' }],
  stay: [
    { in: 1, id: 1, guest: 'Zoë', nights: 2 },
    { in: 1, id: 2, guest: 'Ana', nights: 5 },
    { in: 1, id: 3, guest: 'Rui', nights: 2 },
    { in: 2, id: 4, guest: 'Eva', nights: 1 },
  ],
};
const textOf = async (arrangement: Partial<Arrangement>): Promise<string> => {
  const { text } = await lay(arranged(report, { ...AS_MADE, ...arrangement }), rows);
  return text.flat().join(' ');
};

describe('the columns that a reader sees', () => {
  it('are those whose captions stand above values that can be put in order', () => {
    expect(readerColumns(report)).toEqual([
      { id: 'guest', label: 'Guest', drawer: 'stays', captions: ['c-guest'], mayBeHidden: true },
      { id: 'nights', label: 'Nights', drawer: 'stays', captions: ['c-nights'], mayBeHidden: true },
    ]);
  });

  it('are found by where they stand, when nobody has tied captions to values', () => {
    const loose = definition({
      pageHeader: band(6, words('c1', 'Guest', 0), words('c2', 'Nights', 40)),
      body: [
        {
          id: 'stays',
          name: 'stay',
          rows: { entity: 'stay' },
          detail: band(6, field('guest', 'guest', at(0.4)), field('nights', 'nights', { x: 45, width: 25 })),
        },
      ],
    });
    expect(readerColumns(loose).map(({ id, label, mayBeHidden }) => [id, label, mayBeHidden])).toEqual([
      ['guest', 'Guest', true],
      ['nights', 'Nights', true],
    ]);
    const { body, pageHeader } = arranged(loose, { ...AS_MADE, hidden: ['nights'] });
    expect([body[0]!.detail!.items, pageHeader!.items].map((items) => items.map(({ id }) => id))).toEqual([
      ['guest'],
      ['c1'],
    ]);
  });
});

describe('rows in the way of their reader', () => {
  it('are sorted by a column, and by what the report sorts them by within it', async () => {
    const sorted = (descending: boolean) => textOf({ sorts: [{ column: 'nights', descending }] });
    expect(await sorted(false)).toContain('a Guest Nights So far Zoë 2 2 Rui 2 4 Ana 5 9 9');
    expect(await sorted(true)).toContain('Ana 5 5 Zoë 2 7 Rui 2 9');
    expect(await textOf({ sorts: [{ column: 'guest', descending: false }] })).toContain('Ana 5 5 Rui 2 7 Zoë 2 9');
  });

  it('are only those that have a value, and totals are theirs', async () => {
    const filtered = await textOf({ filters: [{ column: 'nights', type: 'number', value: 2 }] });
    expect(filtered).toContain('Zoë 2 2 Rui 2 4 4');
    expect(filtered).not.toContain('Ana');
    const named = await textOf({ filters: [{ column: 'guest', type: 'text', value: 'Ana' }] });
    expect(named).toContain('Guest Nights So far Ana 5 5 5');
    expect(await textOf({ filters: [{ column: 'guest', type: 'text', value: 'a "quoted" one' }] })).not.toContain(
      'Guest',
    );
  });

  it('do without columns, which the others close up over, but never without all of them', async () => {
    expect(await textOf({ hidden: ['nights'] })).toContain('a Guest So far Zoë 2 Ana 7 Rui 9');
    expect(await textOf({ hidden: ['nights', 'guest', 'sofar'] })).toContain('So far 2 7 9');
  });

  it('pass over columns that there are not, and values that are none', async () => {
    const made = await textOf({});
    const lost = { column: 'gone', descending: true };
    expect(await textOf({ sorts: [lost], hidden: ['gone', 'title'] })).toBe(made);
    expect(await textOf({ filters: [{ column: 'nights', type: 'number', value: '2); 1' }] })).toBe(made);
  });
});
