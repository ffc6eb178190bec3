import type { Parameter } from '@gaveta/core/internal';
import { expect, it } from 'vitest';
import type { ParameterValues } from '../../api/client.ts';
import { setOf, stage, withStaged } from './staged.ts';

const season = { name: 'season', label: 'Season', type: 'number', default: '2025' } as Parameter;

it('what is chosen and not run yet is kept apart, and is no change once it is as the run has it', () => {
  const given = { region: 'Alto Norte' };
  let staged = stage({}, given, 'season', '2024', season);
  staged = stage(staged, given, 'region', null);
  expect(withStaged(given, staged)).toEqual({ region: null, season: '2024' });
  staged = stage(staged, given, 'season', '2025', season);
  expect(staged).toEqual({ region: null });
  expect(stage(staged, given, 'region', 'Alto Norte')).toEqual({});
});

it('values are known by the name that they were given, whatever their order and what is left out', () => {
  const sets: { name: string; values: ParameterValues }[] = [
    { name: 'north', values: { region: 'Alto Norte', season: 2025 } },
    { name: 'none', values: {} },
  ];
  expect(setOf(sets, { season: '2025', region: 'Alto Norte' })?.name).toBe('north');
  expect(setOf(sets, { region: '' })?.name).toBe('none');
  expect(setOf(sets, { season: '2024' })).toBeNull();
});
