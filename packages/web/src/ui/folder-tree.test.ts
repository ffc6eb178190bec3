import { expect, it } from 'vitest';
import type { Folder } from '../api/library.ts';
import { folderLines, folderPath, isAtLeast, isWithin } from './folder-tree.ts';

const folder = (id: string, parent: string | null, more: Partial<Folder> = {}): Folder => ({
  ...{ id, parent, name: id, note: '', owner: null, isPersonal: false, isForeign: false, inherits: true },
  ...{ publishing: 'each-save', ownPublishing: null, may: 'see', things: 0 },
  ...more,
});
const folders = [
  folder('root', null),
  folder('closed', 'season'),
  folder('mine', null, { isPersonal: true }),
  folder('of another', null, { isForeign: true }),
  folder('safety', 'root'),
  folder('season', 'root'),
];

it('puts folders below each other, the own one first and those of others last', () => {
  expect(folderLines(folders).map((line) => [line.folder.id, line.depth])).toEqual([
    ['mine', 0],
    ['safety', 0],
    ['season', 0],
    ['closed', 1],
    ['of another', 0],
  ]);
});

it('knows the way to a folder, and what is in what', () => {
  expect(folderPath(folders, 'closed').map(({ id }) => id)).toEqual(['season', 'closed']);
  expect(folderPath(folders, 'gone')).toEqual([]);
  expect(isWithin(folders, 'closed', 'season')).toBe(true);
  expect(isWithin(folders, 'season', 'closed')).toBe(false);
  expect(isWithin(folders, 'safety', 'root')).toBe(true);
});

it('counts each level of what somebody may with those before it', () => {
  expect(isAtLeast('publish', 'change')).toBe(true);
  expect(isAtLeast('see', 'change')).toBe(false);
});
