import { expect, it } from 'vitest';
import { overlapsOn } from '../edit/checks.ts';
import { hutModel, lay, type Rows } from '../layout/huts.test-support.ts';
import { average, report, sum, typedModel } from './index.ts';

interface Huts {
  hut: {
    fields: { id: 'number'; name: 'text' };
    one: Record<never, never>;
    many: { stays: 'stay' };
  };
  stay: {
    fields: { id: 'number'; guest: 'text'; arrival: 'date'; nights: 'number' };
    one: Record<never, never>;
    many: { charges: 'charge' };
  };
  charge: {
    fields: { kind: 'text'; amount: 'number' };
    one: Record<never, never>;
    many: Record<never, never>;
  };
}

const huts = typedModel<Huts>(hutModel);

const ROWS: Rows = {
  hut: [
    { id: 1, name: 'Pedra Longa' },
    { id: 2, name: 'Vale Frio' },
  ],
  stay: [
    { in: 1, id: 1, guest: 'Inês', arrival: '2025-07-01', nights: 2 },
    { in: 1, id: 2, guest: 'Rui', arrival: '2025-08-02', nights: 3 },
    { in: 2, id: 3, guest: 'Ana', arrival: '2025-08-05', nights: 1 },
  ],
  charge: [
    { in: 1, id: 1, kind: 'bunk', amount: '58.10' },
    { in: 1, id: 2, kind: 'linen', amount: '6.50' },
    { in: 3, id: 3, kind: 'bunk', amount: '29.00' },
  ],
};

it('rows in groups and columns, with totals for each group and for all', async () => {
  const made = report('Stays by month', huts, { words: { total: 'Sum' } })
    .rows('stay')
    .group('arrival', { per: 'month' })
    .columns('guest', 'arrival', { field: 'nights', label: 'How long', width: 30, format: '0.0' })
    .total(sum('nights'))
    .sort('guest', 'descending')
    .definition();
  expect(made).toMatchObject({ gaveta: 2, name: 'Stays by month', model: 'huts', language: 'en' });
  expect(JSON.parse(JSON.stringify(made))).toEqual(made);
  const { text, pages, result } = await lay(made, { stay: ROWS.stay!.map((row) => ({ ...row, in: 1 })) });
  const words = text.flat().join(' ');
  expect(result.problems).toEqual([]);
  for (const part of ['July 2025', 'August 2025', 'How long', '3.0', 'Sum July 2025', 'Sum'])
    expect(words).toContain(part);
  expect(words).toMatch(/Sum August 2025 4\.0 Sum 6\.0 Page 1 of 1$/);
  expect(overlapsOn(pages)).toEqual([]);
  const column = made.body[0]!.detail!.items.at(-1)!;
  expect(column.width).toBe(30);
  expect(column.x + column.width).toBeCloseTo(180, 1);
});

it('drawers in drawers, each with columns, calculated fields and totals of its own', async () => {
  const made = report('Ledger', huts)
    .parameter('least', { label: 'Nights', type: 'number', default: 1 })
    .rows('hut')
    .columns('name')
    .inner('stays', (stays) =>
      stays
        .keep('nights >= parameters.least')
        .keep('guest <> ""')
        .calculated('twice', { label: 'Twice', type: 'number', formula: 'nights * 2', format: '0.00' })
        .columns('guest', 'nights', 'twice')
        .total(sum('nights'), average('twice'))
        .inner('charges', (charges) => charges.columns('kind', 'amount').total(sum('amount')).first(5)),
    )
    .onlyWithInner()
    .definition();
  expect(made.parameters[0]!.name).toBe('least');
  const [hut] = made.body;
  const [stay] = hut!.drawers!;
  expect([hut!.onlyWithInner, stay!.filter, stay!.drawers![0]!.first]).toEqual([
    true,
    'AND(nights >= parameters.least; guest <> "")',
    5,
  ]);
  const { text, pages, result } = await lay(made, ROWS);
  expect(result.problems).toEqual([]);
  const words = text.flat().join(' ');
  for (const part of ['Pedra Longa', 'Inês', '4.00', 'Twice', 'bunk', '58.10', '64.60', '5.00'])
    expect(words).toContain(part);
  expect(overlapsOn(pages)).toEqual([]);
});

it('what is begun is not changed by what is made of it', () => {
  const stays = report('Stays', huts).rows('stay').columns('guest');
  const grouped = stays.group('guest').total().columns('nights');
  expect(stays.definition().body[0]!.groups).toBeUndefined();
  expect(grouped.definition().body[0]!.groups).toHaveLength(1);
  expect(grouped.definition()).toEqual(grouped.definition());
});

it('names that the model lacks are refused by the compiler, and said when it is not asked', () => {
  const stays = report('Stays', huts).rows('stay');
  // @ts-expect-error: there is no such field
  expect(() => stays.columns('guesst').definition()).toThrow('field of “stay” “guesst”. Did you mean guest?');
  // @ts-expect-error: there is no such entity
  expect(() => report('Stays', huts).rows('stayz').definition()).toThrow('Did you mean stay?');
  // @ts-expect-error: there is no such relation
  expect(() => stays.inner('payments', (all) => all).definition()).toThrow(
    'There is no relation of “stay” to many rows',
  );
  // @ts-expect-error: hidden fields are none
  expect(() => report('Huts', huts).rows('hut').columns('secret').definition()).toThrow('“secret”');
  // @ts-expect-error: a total of another entity's field
  expect(() => stays.columns('nights').total(sum('amount')).definition()).toThrow('Add it to columns().');
  // @ts-expect-error: not yet calculated
  stays.columns('twice').calculated('twice', { type: 'number', formula: 'nights * 2' });
  expect(() => stays.columns('nights').total(sum('nights')).sort('arrival').keep('nightz > 1').definition()).toThrow(
    /cannot be used:\n {2}error: body\/0\/filter.*“nightz”.*Did you mean nights\?/,
  );
  const house = { name: 'House', accent: '#2f4b6e', furniture: { pageHeader: { height: 12 } } };
  const housed = report('Stays', huts, { theme: house }).rows('stay').columns('nights').definition();
  expect([housed.theme, housed.pageHeader?.height, housed.styles.Title!.color]).toEqual(['House', 12, '#2f4b6e']);
  expect(() => report('Stays', huts, { theme: 'Mud' }).rows('stay').definition()).toThrow('There is no theme “Mud”');
});
