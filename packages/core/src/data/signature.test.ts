import { expect, it } from 'vitest';
import type { Relation } from '../model/model.ts';
import { planReport } from './plan.ts';
import { entityOf, fieldItem, hutDrawer, modelOf, reportOf } from './plans.test-support.ts';
import { levelKeys } from './signature.ts';

const many = (name: string, there: string): Relation => ({
  name,
  label: name,
  to: 'stay',
  kind: 'many',
  on: [{ here: 'name', there }],
});
const model = modelOf(
  entityOf('hut', { name: 'text', place: 'text' }, [many('stays', 'hut'), many('tours', 'guest')]),
  entityOf('stay', { guest: 'text', hut: 'text' }),
);
const keys = (shown: string[], inner: string[] = []): string[] => {
  const drawers = inner.map((relation) => ({
    id: relation,
    name: relation,
    rows: { relation },
    detail: { height: 5, items: [fieldItem(`in-${relation}`, 'guest')] },
  }));
  const items = shown.map((formula, i) => fieldItem(`f${i}`, formula, i * 10));
  const report = reportOf({ body: [hutDrawer({ detail: { height: 5, items }, drawers })] });
  return [...levelKeys(planReport(report, { models: [model], report: () => null })).values()];
};

it('rows have the same key exactly when they bring the same columns in the same order', () => {
  expect(keys(['name', 'place'])).toEqual(keys(['name', 'place']));
  const all = [['name'], ['place'], ['name', 'place'], ['place', 'name']].map((shown) => keys(shown)[0]);
  expect(new Set(all).size).toBe(4);
});

it('drawers that stand in each other’s place never pass for one another', () => {
  const [, first, second] = keys(['name'], ['stays', 'tours']);
  const [, turned] = keys(['name'], ['tours', 'stays']);
  expect(new Set([first, second]).size).toBe(2);
  expect(turned).not.toBe(first);
});
