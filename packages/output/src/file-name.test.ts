import { expect, it } from 'vitest';
import { fileName, patternName } from './file-name.ts';

it('makes names of patterns, without the parts that are empty or unknown', () => {
  const values = { report: 'Ledger', season: '2025', region: '' };
  expect(patternName('{report} {season}', values)).toEqual({ name: 'Ledger 2025', unknown: [] });
  expect(patternName('{report} {region} of {season}', values).name).toBe('Ledger of 2025');
  expect(patternName('{report} {toString}{x}', values)).toEqual({ name: 'Ledger', unknown: ['toString', 'x'] });
  expect(patternName('all', values).name).toBe('all');
});

it('makes names that files may have everywhere', () => {
  expect(fileName('a/b\\c:*?"<>|\u0000.', 'x')).toBe('a_b_c_________');
  expect([fileName(' ', 'x'), fileName('..', 'x'), fileName('CON', 'x')]).toEqual(['x', '_', 'x']);
  expect(fileName('é'.repeat(300), 'x')).toHaveLength(120);
});
