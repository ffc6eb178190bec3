import { describe, expect, it } from 'vitest';
import { addressOf, isRun } from './address.ts';

describe('where a thing of the library is opened', () => {
  it('is the screen of its kind, by the key that the screen knows it by', () => {
    expect(addressOf({ kind: 'report', id: 'ledger' })).toBe('/reports/ledger');
    expect(addressOf({ kind: 'recipe', id: 'recipe:stays of 2025' })).toBe('/data/recipes/stays%20of%202025');
    expect(addressOf({ kind: 'connection', id: 'connection:tariffs' })).toBe('/data/connections/tariffs');
    expect(addressOf({ kind: 'theme', id: 't' })).toBe('/house/themes/t');
    expect(addressOf({ kind: 'picture', id: 'p' })).toBe('/house/pictures/p');
  });

  it('has readers where it is a report or sketch', () => {
    expect((['report', 'sketch', 'recipe', 'picture'] as const).map((kind) => isRun({ kind }))).toEqual([
      ...[true, true, false, false],
    ]);
  });
});
