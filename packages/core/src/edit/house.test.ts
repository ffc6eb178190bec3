import { describe, expect, it } from 'vitest';
import { readDefinition } from '../definition/read.ts';
import type { Report } from '../definition/schema.ts';
import { themeEdit } from './apply-theme.ts';
import { applyEdit } from './edit.ts';
import {
  houseSample,
  houseTheme,
  houseThemeOf,
  houseThemeSchema,
  libraryPicturesIn,
  readHouseThing,
  withLibraryPictures,
} from './house.ts';
import { THEMES } from './themes.ts';

const DOT =
  'data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==';
const reportOf = (json: object): Report => {
  const read = readDefinition({ gaveta: 2, name: 'r', ...json });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.report;
};
const picture = (id: string, more: object = {}) => ({
  ...{ kind: 'picture', id, x: 0, y: 0, width: 10, height: 10 },
  ...more,
});

describe('what the library keeps for reports', () => {
  it('is read as what it says that it is, with what is wrong', () => {
    expect(readHouseThing({ gavetaPicture: 1, name: 'Mark', source: DOT }).thing).toMatchObject({ name: 'Mark' });
    expect(readHouseThing({ gavetaTheme: 1, name: 'House', accent: '#123456' }).thing).toMatchObject({
      font: 'Source Sans 3',
    });
    expect(readHouseThing({ gavetaPicture: 1, name: 'Mark', source: 'data:text/html;base64,AAAA' }).thing).toBeNull();
    expect(readHouseThing({ gavetaTheme: 1, name: 'House', accent: 'blue' }).error!.issues[0]!.path).toEqual([
      'accent',
    ]);
    expect(readHouseThing(null).thing).toBeNull();
  });

  it('shows a theme on a page without rows, with its bands', () => {
    const theme = houseThemeSchema.parse({
      ...{ gavetaTheme: 1, name: 'House', accent: '#2f4b6e', palette: ['#111111', '#222222'] },
      furniture: { pageFooter: { height: 8, items: [] } },
    });
    const sample = houseSample(theme);
    expect(sample.theme).toBe('House');
    expect(sample.pageFooter?.height).toBe(8);
    const fills = sample.header!.items.flatMap((item) => (item.kind === 'rectangle' ? [item.fill] : []));
    expect(fills.slice(-2)).toEqual(['#111111', '#222222']);
    const title = sample.header!.items[0]!;
    expect(title).toMatchObject({ kind: 'text', style: 'Title' });
  });

  it('makes a theme of the look of a report, which leaves that report as it is', () => {
    const plain = reportOf({ header: { height: 20, items: [{ ...picture('p'), fromLibrary: 'mark' }] } });
    const dressed = applyEdit(plain, themeEdit(plain, THEMES[2]!));
    const made = houseThemeOf({ ...dressed, pageFooter: { height: 9, items: [] } }, 'Made');
    expect(made).toMatchObject({ accent: '#7a5410', furniture: { pageFooter: { height: 9 } } });
    const again = applyEdit(plain, themeEdit(plain, houseTheme(made)));
    expect(again.styles).toEqual(dressed.styles);
  });
});

describe('pictures of the library', () => {
  const report = reportOf({
    header: { height: 20, items: [picture('a', { fromLibrary: 'mark' }), picture('b', { source: DOT })] },
    footer: { height: 20, items: [{ ...picture('c'), fromLibrary: 'gone' }] },
  });

  it('are found wherever a definition names them, each once', () => {
    expect(libraryPicturesIn(report)).toEqual(['mark', 'gone']);
    expect(libraryPicturesIn({ body: [{ kind: 'panel', items: [picture('x', { fromLibrary: 'deep' })] }] })).toEqual([
      'deep',
    ]);
  });

  it('are put in where they are there, and leave the definition itself alone', () => {
    const whole = withLibraryPictures(report, (id) => (id === 'mark' ? DOT : null));
    expect(whole.header!.items[0]).toMatchObject({ fromLibrary: 'mark', source: DOT });
    expect(whole.footer!.items[0]).not.toHaveProperty('source');
    expect(report.header!.items[0]).not.toHaveProperty('source');
    const without = reportOf({});
    expect(withLibraryPictures(without, () => DOT)).toBe(without);
  });
});
