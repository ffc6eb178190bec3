import { expect, it } from 'vitest';
import { readDefinition } from '../definition/read.ts';
import { problemText } from '../problems/problem.ts';
import type { Model } from './model.ts';
import { planReport } from './plan.ts';
import { levelKeys } from './signature.ts';

const fields = (...names: string[]): Model['entities'][number]['fields'] =>
  names.map((name) => ({ name, label: name, type: 'text' }));
const model: Model = {
  name: 'm',
  label: 'M',
  entities: [
    {
      name: 'hut',
      label: 'Hut',
      plural: 'Huts',
      key: 'name',
      fields: fields('name', 'place'),
      relations: [
        { name: 'stays', label: 'Stays', to: 'stay', kind: 'many', on: [{ here: 'name', there: 'hut' }] },
        { name: 'tours', label: 'Tours', to: 'stay', kind: 'many', on: [{ here: 'name', there: 'guest' }] },
      ],
    },
    { name: 'stay', label: 'Stay', plural: 'Stays', key: 'guest', fields: fields('guest', 'hut'), relations: [] },
  ],
};
const item = (formula: string, i: number): object => ({
  kind: 'field',
  id: `f${i}`,
  x: i * 10,
  y: 0,
  width: 10,
  height: 5,
  formula,
});
const keys = (shown: string[], inner: string[] = []): string[] => {
  const drawer = (relation: string): object => ({
    id: relation,
    name: relation,
    rows: { relation },
    detail: { height: 5, items: [{ ...item('guest', 0), id: `in-${relation}` }] },
  });
  const read = readDefinition({
    gaveta: 1,
    name: 'x',
    model: 'm',
    body: {
      id: 'd',
      name: 'hut',
      rows: { entity: 'hut' },
      detail: { height: 5, items: shown.map(item) },
      drawers: inner.map(drawer),
    },
  });
  if (!read.ok) throw new Error(read.problems.map(problemText).join(' '));
  return [...levelKeys(planReport(read.report, { models: [model], report: () => null })).values()];
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
