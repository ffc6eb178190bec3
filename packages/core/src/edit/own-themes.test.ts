import { expect, it } from 'vitest';
import { readDefinition } from '../definition/read.ts';
import { pageSchema, type Report, reportSchema } from '../definition/schema.ts';
import { allBands } from '../definition/walk.ts';
import { themeEdit } from './apply-theme.ts';
import { applyEdit } from './edit.ts';
import { reportFrame } from './guided.ts';
import { type OwnTheme, ownThemes } from './own-themes.ts';
import { THEMES } from './themes.ts';

const FAMILIES = ['Source Sans 3', 'Source Serif 4'];
const letterhead: OwnTheme = {
  name: 'House',
  accent: '#2f4b6e',
  styles: { Letterhead: { size: 11, bold: true } },
  furniture: {
    pageHeader: {
      height: 12,
      items: [
        { kind: 'text', id: 'house', x: 0, y: 0, width: 60, height: 6, content: ['Cumeeira'], style: 'Letterhead' },
        { kind: 'line', id: 'rule', x: 0, y: 8, width: 180, height: 0 },
        { kind: 'text', id: 'date', x: 150, y: 0, width: 30, height: 6, content: [{ formula: 'report.run_at' }] },
      ],
    },
    pageBackground: {
      height: 297,
      items: [{ kind: 'rectangle', id: 'edge', x: 0, y: 0, width: 210, height: 4, fill: '#2f4b6e' }],
    },
  },
};
const house = ownThemes([letterhead], FAMILIES)[0]!;
const words = { page: 'Page', of: 'of' };
const places = (report: Report, band: 'pageHeader' | 'pageBackground') =>
  report[band]!.items.map(({ x, width }) => [x, width]);

it('a name and an accent make a whole theme', () => {
  const [plain] = ownThemes([{ name: 'Blue', accent: '#0000aa' }], FAMILIES);
  expect(plain).toMatchObject({ name: 'Blue', rule: '#0000aa', styles: { title: { color: '#0000aa', bold: true } } });
  expect(Object.keys(plain!.styles).sort()).toEqual(Object.keys(THEMES[0]!.styles).sort());
});

it('bands of the house stand in new reports, in the place of those that they had', () => {
  const made = reportFrame('Huts', undefined, words, house);
  expect(reportSchema.safeParse(made).success).toBe(true);
  expect(made.styles.Letterhead).toEqual({ size: 11, bold: true });
  expect(made.pageFooter!.items[0]).toMatchObject({ id: 'pages1' });
  expect(places(made, 'pageHeader')).toEqual([
    [0, 60],
    [0, 180],
    [150, 30],
  ]);
});

it('they fit the paper of the report that takes the theme, and give way to the next theme’s', () => {
  const wide = reportFrame('Huts', pageSchema.parse({ orientation: 'landscape' }), words);
  const dressed = applyEdit(wide, themeEdit(wide, house));
  expect(dressed.theme).toBe('House');
  expect(places(dressed, 'pageHeader')).toEqual([
    [0, 60],
    [0, 267],
    [237, 30],
  ]);
  expect(places(dressed, 'pageBackground')).toEqual([[0, 297]]);
  // Once more, or over another theme, it is the same: no id is used twice, nothing is left over.
  expect(applyEdit(dressed, themeEdit(dressed, house))).toEqual(dressed);
  const ids = [...allBands(dressed)].flatMap(({ band }) => band.items.map(({ id }) => id));
  expect(new Set(ids).size).toBe(ids.length);
  const [other] = ownThemes([{ ...letterhead, name: 'Other', furniture: { pageHeader: { height: 5 } } }], FAMILIES);
  expect(applyEdit(dressed, themeEdit(dressed, other!)).pageHeader).toEqual({ height: 5, items: [] });
});

it('a mistake is told with the name of the theme and what it may be', () => {
  const told = (...themes: unknown[]): string => {
    try {
      ownThemes(themes as OwnTheme[], FAMILIES);
      return '';
    } catch (error) {
      return (error as Error).message;
    }
  };
  expect(told(letterhead)).toBe('');
  expect(told({ name: 'Blue', accent: 'blue' })).toMatch(/“Blue” cannot be used:[\s\S]*accent/);
  expect(told({ name: 'Blue', acent: '#0000aa' })).toContain('acent');
  expect(told({ accent: '#0000aa' })).toContain('The theme number 1');
  expect(told(null)).toContain('The theme number 1');
  expect(told({ ...letterhead, font: 'Hut Sans' })).toContain('the font “Hut Sans”, which is not there');
  expect(told(letterhead, letterhead)).toContain('a second theme “House”');
  expect(told({ name: 'Pine', accent: '#0000aa' })).toContain('a second theme “Pine”');
  expect(told({ name: 'Blue', accent: '#0000aa', styles: { Title: {} } })).toContain('is set by “title” itself');
  expect(told({ name: 'Blue', accent: '#0000aa', furniture: { pageHeader: { height: 'tall' } } })).toContain('height');
});

it('leaves how a text is aligned as the style had it that gives way', () => {
  const read = readDefinition({
    ...{ gaveta: 2, name: 'r', styles: { Money: { align: 'right', bold: true, color: '#123456' } } },
    footer: {
      height: 10,
      items: [{ kind: 'field', id: 'sum', formula: 'SUM(x)', style: 'Money', x: 0, y: 0, width: 30, height: 5 }],
    },
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  const dressed = applyEdit(read.report, themeEdit(read.report, THEMES[1]!));
  expect(dressed.footer?.items[0]).toMatchObject({ style: 'Total', look: { align: 'right' } });
  expect(dressed.footer?.items[0]).not.toMatchObject({ look: { color: '#123456' } });
});
