import { expect, it } from 'vitest';
import { entityOf, hutDrawer, modelOf, reportOf } from '../data/plans.test-support.ts';
import type { BandAddress } from '../definition/walk.ts';
import type { Relation } from '../model/model.ts';
import { keyLinks, nestedAtFirst } from './nesting-rows.ts';

const relation = (name: string, to: string, kind: Relation['kind'], here: string, there: string): Relation => ({
  name,
  label: name,
  to,
  kind,
  on: [{ here, there }],
});
const model = modelOf(
  entityOf('hut', { id: 'number', name: 'text' }, [relation('stays', 'stay', 'many', 'id', 'hut_id')]),
  entityOf('stay', { id: 'number', hut_id: 'number', guest: 'text' }, [
    relation('hut', 'hut', 'one', 'hut_id', 'id'),
    relation('charges', 'charge', 'many', 'id', 'stay_id'),
  ]),
  entityOf('charge', { id: 'number', stay_id: 'number' }, [relation('stay', 'stay', 'one', 'stay_id', 'id')]),
);
const context = { models: [model], report: () => null };

const stays = { id: 's', name: 'stay', rows: { relation: 'stays' }, detail: { height: 5, items: [] } };
const outer = reportOf({ body: [hutDrawer({ detail: { height: 5, items: [] }, drawers: [stays] })] });
const inHut: BandAddress = { drawer: 'd', band: 'detail' };
const inStay: BandAddress = { drawer: 's', band: 'detail' };

const inner = (entity: string, filter?: string) =>
  reportOf({
    parameters: ['house', 'who'].map((name) => ({ name, label: name, type: name === 'who' ? 'text' : 'number' })),
    body: [{ id: 'i', name: 'row', rows: { entity }, ...(filter ? { filter } : {}) }],
  });

it('a report that chooses its rows by a key is linked by it, whatever its parameter is called', () => {
  const links = (entity: string, filter: string, at: BandAddress) =>
    keyLinks(outer, at, inner(entity, filter), context);
  expect(links('stay', 'hut_id = house', inHut)).toEqual({ house: 'id' });
  expect(links('stay', 'hut.id = parameters.house', inHut)).toEqual({ house: 'id' });
  expect(links('stay', 'OR(ISBLANK(house); WITHIN(hut_id; house))', inHut)).toEqual({ house: 'id' });
  // From the row of a stay, whose hut is known, and from one inside that hut.
  expect(links('stay', 'hut_id = house', inStay)).toEqual({ house: 'hut_id' });
  expect(links('charge', 'stay.hut.id = house', inStay)).toEqual({ house: 'hut_id' });
  expect(links('hut', 'id = house', inHut)).toEqual({ house: 'id' });
  // A name is no key, and a charge is no hut.
  expect(links('stay', 'guest = who', inHut)).toEqual({});
  expect(links('charge', 'id = house', inHut)).toEqual({});
});

it('what chooses no rows by a key shows those of a relation first, or the row itself', () => {
  const first = (entity: string, at: BandAddress, filter?: string) =>
    nestedAtFirst(outer, at, inner(entity, filter), context).rows;
  expect(first('stay', inHut)).toEqual({ relation: 'stays' });
  expect(first('charge', inStay)).toEqual({ relation: 'charges' });
  expect(first('hut', inHut)).toBe('current');
  expect(first('charge', inHut)).toBeNull();
  expect(first('stay', inHut, 'hut_id = house')).toBeNull();
  expect(first('stay', { drawer: 'd', band: 'footer' })).toBeNull();
});
