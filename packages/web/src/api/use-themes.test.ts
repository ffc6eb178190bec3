import { THEMES } from '@gaveta/core/internal';
import { expect, it } from 'vitest';
import { knownThemes, themeFor } from './use-themes.ts';

const house = { ...THEMES[0]!, name: 'House' };

it('a new report has the theme that was chosen, else that of the house, else the one that Gaveta begins with', () => {
  const [plain, pine] = [THEMES[0]!, THEMES[1]!];
  const known = knownThemes([house, { ...house, name: 'Second' }]);
  expect(known.all.slice(0, 3).map(({ name }) => name)).toEqual(['House', 'Second', plain.name]);
  expect(themeFor(known, null, pine)).toBe(house);
  expect(themeFor(known, pine.name, plain)).toBe(pine);
  // One that is gone from the host's options is no reason to show nothing.
  expect(themeFor(known, 'Gone', pine)).toBe(house);
  expect(themeFor(knownThemes([]), null, pine)).toBe(pine);
  // Those of the library are chosen by makers, and come to no report by themselves.
  const kept = { ...house, fromLibrary: 'letters' };
  expect(themeFor(knownThemes([kept]), null, pine)).toBe(pine);
  expect(knownThemes([kept, { ...house, name: 'Second' }]).house?.name).toBe('Second');
});
