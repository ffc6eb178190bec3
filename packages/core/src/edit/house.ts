import { type Item, type Report, reportSchema, widthBetween } from '../definition/schema.ts';
import { z } from '../definition/zod.ts';
import { pictureSize } from '../items/picture/pictures.ts';
import { pictureSource } from '../items/picture/schema.ts';
import { applyEdit } from './edit.ts';
import { furnishedBands } from './furniture.ts';
import { ownThemeSchema, themeOf } from './own-themes.ts';
import { dressed, FURNITURE, type Role, type Theme, themeStyles } from './themes.ts';

const name = z.string().trim().min(1).max(200);

/** A picture that many reports show, as a logo: a change of it changes them all. */
export const housePictureSchema = z.strictObject({
  gavetaPicture: z.literal(1),
  name,
  /** A PNG or JPEG as a `data:` address. */
  source: pictureSource,
});
export type HousePicture = z.output<typeof housePictureSchema>;

/** A theme that makers keep: the settings of a host’s own theme. */
export const houseThemeSchema = ownThemeSchema.extend({ gavetaTheme: z.literal(1) });
export type HouseTheme = z.output<typeof houseThemeSchema>;

/** What the library keeps that reports are made with. */
export type HouseThing = HousePicture | HouseTheme;

export const isHouseThing = (definition: object): definition is HouseThing =>
  'gavetaPicture' in definition || 'gavetaTheme' in definition;

/** Reads a picture or theme that somebody sent or stored; null for what is neither, with what is wrong. */
export const readHouseThing = (
  json: unknown,
): { thing: HouseThing; error: null } | { thing: null; error: z.ZodError } => {
  const isTheme = typeof json === 'object' && json !== null && 'gavetaTheme' in json;
  const read = (isTheme ? houseThemeSchema : housePictureSchema).safeParse(json);
  return read.success ? { thing: read.data, error: null } : { thing: null, error: read.error };
};

/** The theme that reports take from a theme of the library. */
export const houseTheme = ({ gavetaTheme: _, ...settings }: HouseTheme): Theme => themeOf(settings);

/** The settings of a theme that looks as a report does now, for a theme of that kind to begin with. */
export const houseThemeOf = (report: Report, called: string): HouseTheme => {
  const {
    Title: title = {},
    Heading: heading = {},
    Caption: caption = {},
    Value: value = {},
    Total: total = {},
    Note: note = {},
  } = report.styles;
  const bands = FURNITURE.flatMap((band) => (report[band] ? [[band, report[band]] as const] : []));
  const accent = title.color ?? heading.color ?? '#1f5c4d';
  const font = value.font ?? title.font ?? 'Source Sans 3';
  return houseThemeSchema.parse({
    gavetaTheme: 1,
    name: called,
    accent,
    font,
    ...(title.font && title.font !== font ? { titleFont: title.font } : {}),
    ...(value.size ? { size: value.size } : {}),
    ...(value.color ? { ink: value.color } : {}),
    ...(note.color ? { quiet: note.color } : {}),
    ...{ title, heading, caption, total },
    page: report.page,
    ...(bands.length > 0 ? { furniture: Object.fromEntries(bands) } : {}),
  });
};

/** Words of a page on which a theme is seen, in the language of whoever sees it. */
export interface SampleWords {
  title: string;
  heading: string;
  captions: readonly [string, string, string];
  rows: readonly (readonly [string, string, string])[];
  total: string;
  note: string;
}

const SAMPLE: SampleWords = {
  title: 'Season ledger',
  heading: 'North ridge',
  captions: ['Hut', 'Nights', 'Charges'],
  rows: [
    ['Abrigo da Fonte', '128', '2,304.00'],
    ['Casa do Vento', '96', '1,728.50'],
    ['Refúgio Alto', '211', '3,960.75'],
    ['Curral Novo', '54', '972.00'],
  ],
  total: '489',
  note: 'Rates by night, without food.',
};

/** A report without rows that shows what a theme does, or a picture on a page of its own size. Lengths in millimetres. */
export const houseSample = (thing: HouseThing, words: SampleWords = SAMPLE): Report =>
  'gavetaPicture' in thing ? pictureSample(thing) : themeSample(houseTheme(thing), words);

const pictureSample = ({ name: called, source }: HousePicture): Report => {
  const size = pictureSize(source) ?? { width: 3, height: 2 };
  const width = 200;
  const height = Math.min(400, Math.max(50, (width * size.height) / size.width));
  const margins = { top: 0, right: 0, bottom: 0, left: 0 };
  return reportSchema.parse({
    gaveta: 2,
    name: called,
    page: { paper: 'custom', width, height, margins },
    pageBackground: {
      height,
      items: [{ kind: 'picture', id: 'picture', x: 0, y: 0, width, height, source, alternative: called }],
    },
  });
};

export const themeSample = (theme: Theme, words: SampleWords = SAMPLE): Report => {
  const frame = reportSchema.parse({
    gaveta: 2,
    name: theme.name,
    theme: theme.name,
    styles: themeStyles(theme),
    ...(theme.page ? { page: theme.page } : {}),
  });
  const room = widthBetween(frame.page);
  const items: Item[] = [];
  const columns = [0, room * 0.5, room * 0.75] as const;
  const text = (role: Role, content: string, y: number, column = 0, height = 5): void => {
    const x = columns[column]!;
    const width = (columns[column + 1] ?? room) - x - (column === 2 ? 0 : 2);
    items.push({
      kind: 'text',
      id: `text_${items.length}`,
      ...{ x, y, width, height, content: [content], grow: true },
      ...dressed(frame, role, column > 0 ? { align: 'right' } : {}),
    } as unknown as Item);
  };
  const line = (y: number): void =>
    void items.push({
      kind: 'line',
      id: `line_${items.length}`,
      ...{ x: 0, y, width: room, height: 0, color: theme.rule, thickness: 0.3, dash: 'solid' },
    } as unknown as Item);
  const fill = (y: number, height: number, color: string | null, x = 0, width = room): void => {
    if (color !== null)
      items.push({
        kind: 'rectangle',
        id: `fill_${items.length}`,
        ...{ x, y, width, height, fill: color },
      } as unknown as Item);
  };
  text('title', words.title, 0, 0, 10);
  text('heading', words.heading, 16, 0, 7);
  fill(25, 6, theme.captionBand);
  for (const [i, caption] of words.captions.entries()) text('caption', caption, 25.5, i);
  line(31);
  for (const [r, row] of words.rows.entries()) {
    if (r % 2 === 1) fill(32 + r * 6, 6, theme.alternate);
    for (const [i, value] of row.entries()) text('value', value, 32.5 + r * 6, i);
  }
  const below = 33 + words.rows.length * 6;
  line(below);
  text('total', words.total, below + 1, 1);
  text('note', words.note, below + 9);
  for (const [i, color] of theme.palette.entries()) fill(below + 20, 14, color, i * 16, 14);
  const report = { ...frame, header: { height: below + 36, items } } as Report;
  return applyEdit(report, { do: 'report', settings: furnishedBands(report, theme) });
};

/** Ids of the library’s pictures that a definition shows, each once. */
export const libraryPicturesIn = (definition: unknown): string[] => {
  const found = new Set<string>();
  const walk = (part: unknown): void => {
    if (typeof part !== 'object' || part === null) return;
    if ('kind' in part && part.kind === 'picture' && 'fromLibrary' in part) found.add(String(part.fromLibrary));
    for (const inner of Object.values(part)) walk(inner);
  };
  walk(definition);
  return [...found];
};

/** A report with the library’s pictures in it; those that are not found stay names. The same report where it shows none. */
export const withLibraryPictures = (report: Report, source: (id: string) => string | null): Report => {
  if (libraryPicturesIn(report).length === 0) return report;
  const put = (part: unknown): unknown => {
    if (Array.isArray(part)) return part.map(put);
    if (typeof part !== 'object' || part === null) return part;
    const inner = Object.fromEntries(Object.entries(part).map(([key, value]) => [key, put(value)]));
    if (inner.kind !== 'picture' || typeof inner.fromLibrary !== 'string') return inner;
    const found = source(inner.fromLibrary);
    return found === null ? inner : { ...inner, source: found };
  };
  return put(report) as Report;
};
