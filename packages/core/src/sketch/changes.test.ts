import { describe, expect, it } from 'vitest';
import { models } from '../recipe/stays.test-support.ts';
import {
  acrossFromGroup,
  changedColumn,
  conditionWithout,
  groupFromAcross,
  keptFromChart,
  movedColumn,
  newSketch,
  questionOf,
  sortedBy,
  withAcross,
  withColumn,
  withCondition,
  withFormula,
  withGroup,
  withoutColumn,
  withoutGroup,
  withRows,
} from './changes.ts';
import { reachOf } from './reach.ts';
import { sketchSchema } from './schema.ts';

const from = { model: 'm', entity: 'stay' };
const reach = reachOf(from, { models, recipe: () => null, queries: [], parameters: [] });
const list = newSketch('Stays', from, reach, { language: 'en', timeZone: 'UTC' });
const grouped = withGroup(list, 'hut.name', reach, 'Stays');

describe('a sketch', () => {
  it('begins as a list of what can be seen of its rows', () => {
    expect(list.rows).toBe(true);
    expect(list.columns.map(({ field, total }) => [field, total])).toEqual([
      ['status', undefined],
      ['nights', 'SUM'],
      ['arrival', undefined],
      ['booked', undefined],
      ['paid', undefined],
    ]);
    expect(sketchSchema.safeParse(list).success).toBe(true);
  });

  it('takes what many rows add up to, and nothing that is out of reach, hidden or a picture', () => {
    expect(withColumn(list, 'charges.amount', reach).columns.at(-1)).toEqual({
      ...{ name: 'charges_amount', field: 'charges.amount', inner: 'SUM', total: 'SUM' },
    });
    for (const path of ['gone', 'hut_id', 'photo', 'hut.stays.nights'])
      expect(withColumn(list, path, reach)).toBe(list);
  });

  it('shows groups with what adds up when the first one comes, and counts rows where nothing does', () => {
    expect([grouped.rows, grouped.groups, grouped.columns.map(({ name }) => name)]).toEqual([
      false,
      [{ name: 'hut', label: 'Hut', field: 'hut.name' }],
      ['nights'],
    ]);
    const bare = { ...list, columns: list.columns.filter(({ total }) => !total) };
    expect(withGroup(bare, 'status', reach, 'Stays').columns).toEqual([
      { name: 'rows', label: 'Stays', total: 'COUNT' },
    ]);
    expect(withGroup(list, 'charges.amount', reach, 'Stays')).toBe(list);
  });

  it('groups a date by months, and inside them by days', () => {
    const months = withGroup(grouped, 'arrival', reach, '');
    expect(withGroup(months, 'arrival', reach, '').groups.slice(1)).toEqual([
      { name: 'arrival', field: 'arrival', per: 'month' },
      { name: 'arrival2', field: 'arrival', per: 'day' },
    ]);
  });

  it('keeps nothing that is said of what is gone', () => {
    const said = { ...grouped, order: [{ by: 'nights' }, { by: 'hut' }], first: { of: 'hut', count: 3 } };
    expect(withoutColumn(said, 'nights').order).toEqual([{ by: 'hut' }]);
    expect(withoutGroup(said, 'hut')).toMatchObject({ groups: [], order: [{ by: 'nights' }] });
    expect(withoutGroup(said, 'hut').first).toBeUndefined();
  });

  it('is sorted by one thing, or not at all', () => {
    expect(sortedBy(grouped, 'nights', true).order).toEqual([{ by: 'nights', descending: true }]);
    expect(sortedBy(grouped, 'hut', false).order).toEqual([{ by: 'hut' }]);
    expect(sortedBy(sortedBy(grouped, 'hut', false), 'hut', null).order).toEqual([]);
  });

  it('works columns out, under a name that formulas can have', () => {
    const { columns } = withFormula(grouped, '2nd try: per night', 'nights * 2', true);
    expect(columns.at(-1)).toEqual({
      name: 'value_2nd_try_per_night',
      label: '2nd try: per night',
      ofLine: 'nights * 2',
    });
    expect(withFormula(grouped, 'Nights', 'nights', false).columns.at(-1)).toMatchObject({
      name: 'nights2',
      total: 'SUM',
    });
  });

  it('keeps what was pressed in the chart in one condition, with blanks, until nothing is', () => {
    const group = { field: 'arrival', per: 'month' } as const;
    const one = keptFromChart(grouped, group, ['2025-03-01', null]);
    expect(one.only).toEqual([
      {
        ...{
          field: 'arrival',
          per: 'month',
          is: 'oneOf',
          to: { values: ['2025-03-01'] },
          orBlank: true,
          fromChart: true,
        },
      },
    ]);
    expect(keptFromChart(one, group, ['2025-04-01']).only).toHaveLength(1);
    expect(keptFromChart(one, group, [null]).only).toEqual([{ field: 'arrival', is: 'blank', fromChart: true }]);
    expect(keptFromChart(one, group, []).only).toEqual([]);
  });

  it('asks the same question however it looks', () => {
    const looks = changedColumn({ ...grouped, stripes: true, name: 'Other' }, 'nights', { bars: true, width: 90 });
    expect(questionOf(looks)).toEqual(questionOf(grouped));
    expect(questionOf(sortedBy(grouped, 'hut', false))).not.toEqual(questionOf(grouped));
  });

  it('changes columns where they stand', () => {
    expect(changedColumn(grouped, 'nights', { label: 'Nights', total: undefined }).columns[0]).toEqual({
      ...{ name: 'nights', field: 'nights', label: 'Nights' },
    });
    expect(
      movedColumn(list, 'nights', 0)
        .columns.map(({ name }) => name)
        .slice(0, 2),
    ).toEqual(['nights', 'status']);
    const only = withCondition(grouped, 0, { field: 'status', is: 'notBlank' });
    expect([only.only, withCondition(only, 0, null).only]).toEqual([[{ field: 'status', is: 'notBlank' }], []]);
  });
});

it('goes on without what is kept by a column or group that goes', () => {
  const kept = { column: 'nights', is: 'greater' as const, to: { value: 5 } };
  const about = { ...grouped, only: [kept, { ...kept, of: 'hut' }] };
  expect(withoutColumn(about, 'nights').only).toEqual([]);
  expect(withoutGroup(about, 'hut').only).toEqual([kept]);
});

describe('a field across', () => {
  const crossed = withAcross(grouped, 'arrival', reach, 'Stays');

  it('takes the place of the one before, of dates by months, and shows totals instead of rows', () => {
    expect(crossed.across).toEqual({ name: 'arrival', field: 'arrival', per: 'month' });
    expect(withAcross(crossed, 'status', reach, 'Stays').across).toEqual({ name: 'status', field: 'status' });
    const bare = withAcross(list, 'status', reach, 'Stays');
    expect([bare.rows, bare.groups, bare.columns.map(({ name }) => name)]).toEqual([false, [], ['nights']]);
    for (const path of ['gone', 'photo', 'charges.amount']) expect(withAcross(list, path, reach, 'Stays')).toBe(list);
  });

  it('changes places with a group, and goes where rows come back', () => {
    const turned = acrossFromGroup(crossed, 'hut', 'Stays');
    expect([turned.groups.map(({ name }) => name), turned.across?.name]).toEqual([['arrival'], 'hut']);
    expect(groupFromAcross(turned).groups.map(({ name }) => name)).toEqual(['arrival', 'hut']);
    const rows = withRows({ ...crossed, order: [{ by: 'arrival', descending: true }, { by: 'nights' }] }, true);
    expect([rows.rows, rows.across, rows.order]).toEqual([true, undefined, [{ by: 'nights' }]]);
    expect(sketchSchema.safeParse({ ...crossed, rows: true }).error?.issues[0]?.path).toEqual(['across']);
  });

  it('takes what is said of it along when it goes, and never makes more groups than there may be', () => {
    const latest = { ...crossed, order: [{ by: 'arrival', descending: true }] };
    expect(withAcross(latest, 'status', reach, 'Stays').order).toEqual([]);
    const one = crossed.groups[0]!;
    const full = { ...crossed, groups: Array.from({ length: 8 }, (_, i) => ({ ...one, name: `group_${i}` })) };
    expect(groupFromAcross(full)).toBe(full);
    expect(withGroup(full, 'status', reach, 'Stays')).toBe(full);
    expect(groupFromAcross({ ...full, groups: full.groups.slice(1) }).groups).toHaveLength(8);
  });

  it('is asked anew where it is another, and leaves out a value with what is blank kept', () => {
    expect(questionOf(crossed)).not.toEqual(questionOf(grouped));
    expect(questionOf({ ...crossed, across: { ...crossed.across!, withoutTotal: true } })).toEqual(questionOf(crossed));
    expect(conditionWithout(crossed.across!, '2025-07-01')).toEqual({
      ...{ field: 'arrival', per: 'month', is: 'notOneOf', to: { values: ['2025-07-01'] }, orBlank: true },
    });
    expect(conditionWithout({ field: 'status' }, null)).toEqual({ field: 'status', is: 'notBlank' });
  });
});
