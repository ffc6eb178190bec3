import { describe, expect, it } from 'vitest';
import { models } from '../recipe/stays.test-support.ts';
import {
  changedColumn,
  movedColumn,
  newSketch,
  sortedBy,
  withColumn,
  withCondition,
  withGroup,
  withoutColumn,
  withoutGroup,
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
      ['id', 'SUM'],
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
      [{ name: 'hut', field: 'hut.name' }],
      ['id', 'nights'],
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

  it('is sorted one way, the other way, and not at all', () => {
    const once = sortedBy(grouped, 'nights', true);
    const twice = sortedBy(once, 'nights', true);
    expect([once.order, twice.order, sortedBy(twice, 'nights', true).order]).toEqual([
      [{ by: 'nights', descending: true }],
      [{ by: 'nights' }],
      [],
    ]);
    expect(sortedBy(once, 'hut', false).order).toEqual([{ by: 'hut' }]);
  });

  it('changes columns where they stand', () => {
    expect(changedColumn(grouped, 'nights', { label: 'Nights', total: undefined }).columns[1]).toEqual({
      ...{ name: 'nights', field: 'nights', label: 'Nights' },
    });
    expect(movedColumn(grouped, 'nights', 0).columns.map(({ name }) => name)).toEqual(['nights', 'id']);
    const only = withCondition(grouped, 0, { field: 'status', is: 'notBlank' });
    expect([only.only, withCondition(only, 0, null).only]).toEqual([[{ field: 'status', is: 'notBlank' }], []]);
  });
});
