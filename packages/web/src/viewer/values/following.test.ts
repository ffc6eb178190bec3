import type { Parameter } from '@gaveta/core/internal';
import { expect, it } from 'vitest';
import { type AskAmong, unfitAfter } from './following.ts';

const choice = (name: string, type: 'choice' | 'choices', where?: string): Parameter => ({
  name,
  label: name,
  type,
  choicesFrom: { rows: 'rows', value: 'name', ...(where ? { where } : {}) },
});
const parameters = [
  choice('region', 'choice'),
  choice('huts', 'choices', 'region.name = region'),
  choice('room', 'choice', 'ONEOF(hut.name; huts)'),
  choice('season', 'choice'),
];

it('values that are not offered for what was chosen are taken back, and those that follow them', async () => {
  const asked: string[] = [];
  const ask: AskAmong = async ({ name }, others, among) => {
    asked.push(`${name} for ${others.region}, ${others.huts}`);
    return name === 'huts' ? among.filter((hut) => hut === 'Longa') : [];
  };
  const values = { region: 'South', huts: 'Longa,Brecha', room: '7', season: '2025' };
  expect((await unfitAfter(parameters, values, 'region', ask)).map((u) => [u.parameter.name, u.gone, u.left])).toEqual([
    ['huts', ['Brecha'], 'Longa'],
    ['room', ['7'], null],
  ]);
  expect(asked).toEqual(['huts for South, undefined', 'room for South, Longa']);
});

it('values that fit are left, as are those of which it cannot be told, and nothing is asked for nothing', async () => {
  const values = { region: 'South', huts: 'Longa' };
  expect(await unfitAfter(parameters, values, 'region', async (_, __, among) => among)).toEqual([]);
  expect(await unfitAfter(parameters, values, 'region', async () => null)).toEqual([]);
  const never: AskAmong = () => {
    throw new Error('asked');
  };
  expect(await unfitAfter(parameters, { region: 'South', huts: null }, 'region', never)).toEqual([]);
  expect(await unfitAfter(parameters, values, 'season', never)).toEqual([]);
});
