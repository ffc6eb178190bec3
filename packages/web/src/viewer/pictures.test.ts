import type { Mark, Page } from '@gaveta/core/internal';
import { expect, it, vi } from 'vitest';
import { PagePictures } from './pictures.ts';

const picture = (hash: string): Mark => ({
  kind: 'picture',
  x: 0,
  y: 0,
  width: 9,
  height: 9,
  picture: hash,
  alternative: '',
});
const page = (...hashes: string[]): Page => ({ number: 1, width: 10, height: 10, marks: hashes.map(picture) });

it('fetches each picture once for all pages that show it, and lets go of all at the end', async () => {
  const made = vi.spyOn(URL, 'createObjectURL').mockImplementation(() => `blob:${made.mock.calls.length}`);
  const gone = vi.spyOn(URL, 'revokeObjectURL').mockImplementation(() => {});
  const asked: string[] = [];
  const pictures = new PagePictures(async (hash) => {
    asked.push(hash);
    if (hash === 'lost') throw new Error('gone');
    return new Blob([hash]);
  });
  await Promise.all([pictures.load([page('a', 'b', 'a'), page('a')]), pictures.load([page('b', 'lost')])]);
  expect(asked.sort()).toEqual(['a', 'b', 'lost']);
  expect([pictures.address('a'), pictures.address('b')]).toEqual(['blob:1', 'blob:2']);
  expect(pictures.address('lost')).toBe('data:,');
  await pictures.load([page('lost')]);
  expect(asked).toHaveLength(4);
  pictures.close();
  expect(gone.mock.calls.flat()).toEqual(['blob:1', 'blob:2']);
  vi.restoreAllMocks();
});
