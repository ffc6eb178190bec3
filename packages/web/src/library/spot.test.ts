import { describe, expect, it } from 'vitest';
import { readSpot, stepOf, withSpot } from './spot.ts';

const read = (address: string, kept: string | null = null) => readSpot(new URLSearchParams(address), kept);

describe('where somebody is in the library', () => {
  it('is everything by name at first, and as the address says', () => {
    expect(read('')).toMatchObject({ spot: 'all', looking: { place: 'all', sort: 'name', descending: false } });
    expect(read('folder=season&thing=ledger')).toMatchObject({
      ...{ spot: 'folder', selected: 'ledger', looking: { place: 'folder', folder: 'season' } },
    });
    expect(read('in=bin')).toMatchObject({ spot: 'bin', looking: { place: 'all' } });
    expect(read('kind=theme').looking.kind).toBe('theme');
  });

  it('is in the order that was chosen last; what was opened last comes first where that is asked for', () => {
    expect(read('', 'changed')).toMatchObject({ sort: 'changed', looking: { sort: 'changed', descending: true } });
    expect(read('in=recent').looking).toMatchObject({ sort: 'opened', descending: true });
    expect(read('sort=name', 'changed').looking.sort).toBe('name');
  });

  it('has what fits the words best first while something is looked for', () => {
    expect(read('find=nights', 'changed').looking).toMatchObject({ find: 'nights', sort: 'best', descending: false });
  });

  it('leaves out what it does not know', () => {
    expect(read('in=nowhere&kind=folder&sort=size')).toMatchObject({ spot: 'all', kind: null, sort: 'name' });
    expect(read('in=folder').spot).toBe('all');
  });

  it('keeps the rest of the address when a part of it changes', () => {
    expect(withSpot(new URLSearchParams('in=mine&find=x'), { find: null, thing: 'a' }).toString()).toBe(
      'in=mine&thing=a',
    );
  });
});

describe('keys among things', () => {
  it('go on by one, by a row of tiles, or to an end', () => {
    expect(['ArrowRight', 'ArrowLeft', 'ArrowDown', 'ArrowUp'].map((key) => stepOf(key, 'tiles', 5))).toEqual([
      ...[1, -1, 5, -5],
    ]);
    expect(['ArrowDown', 'ArrowUp'].map((key) => stepOf(key, 'list', 5))).toEqual([1, -1]);
    expect([stepOf('Home', 'list', 1), stepOf('End', 'list', 1), stepOf('a', 'list', 1)]).toEqual([
      ...['first', 'last', null],
    ]);
  });
});
