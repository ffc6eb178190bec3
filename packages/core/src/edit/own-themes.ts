import { PALETTE } from '../chart/colors.ts';
import { color, size } from '../definition/basics.ts';
import { bandSchema, pageSchema, styleSchema } from '../definition/schema.ts';
import { z } from '../definition/zod.ts';
import { FURNITURE, type Furniture, STYLE_OF, THEMES, type Theme, themeFrom } from './themes.ts';

const name = z.string().trim().min(1).max(80);
const INK = '#1f2a2e';
const QUIET = '#5b6f68';

/** A theme as a host writes it: a name and an accent are enough. Sizes of type in points, lengths in millimetres. */
export const ownThemeSchema = z.strictObject({
  name,
  /** Family of everything, and of titles and headings. */
  font: name.default('Source Sans 3'),
  titleFont: name.optional(),
  /** Size of values. */
  size: size.min(4).max(40).optional(),
  /** Colours of text, of titles and headings, and of notes. */
  ink: color.default(INK),
  accent: color,
  quiet: color.default(QUIET),
  /** What these styles have besides; a style of its own wins over the settings above. */
  title: styleSchema.default({}),
  heading: styleSchema.default({}),
  caption: styleSchema.default({ bold: true }),
  total: styleSchema.default({}),
  /** Further styles, by the names that makers see. */
  styles: z.record(name, styleSchema).optional(),
  /** Colour of lines; the accent when left out. */
  rule: color.optional(),
  /** Background of every second row, and of captions. */
  alternate: color.optional(),
  captionBand: color.optional(),
  /** Colours of series in charts. */
  palette: z.array(color).min(1).max(20).optional(),
  /** Paper of new reports, for which `furniture` is drawn; A4 when left out. */
  page: pageSchema.optional(),
  /** Bands that come with the theme, as in a definition: a letterhead, a footer with page numbers, a watermark. */
  furniture: z.partialRecord(z.enum(FURNITURE), bandSchema).optional(),
});

/** A theme as a host writes it. */
export type OwnTheme = z.input<typeof ownThemeSchema>;

/**
 * The themes of a host, as reports take them. Throws an error that names the theme and its mistake. `families`: those of the fonts
 * that there are; null where that is not known.
 */
export const ownThemes = (themes: readonly OwnTheme[], families: readonly string[] | null): Theme[] => {
  const made: Theme[] = [];
  for (const [i, given] of themes.entries()) {
    const read = ownThemeSchema.safeParse(given);
    const called = typeof given?.name === 'string' ? `“${given.name}”` : `number ${i + 1}`;
    if (!read.success) throw new Error(`The theme ${called} cannot be used:\n${z.prettifyError(read.error)}`);
    const theme = themeOf(read.data);
    if ([...THEMES, ...made].some((other) => other.name === theme.name))
      throw new Error(`There is a second theme ${called}. Give one of them another name.`);
    const taken = Object.values(STYLE_OF).find((role) => theme.further?.[role]);
    if (taken)
      throw new Error(`The theme ${called} names a style “${taken}”: that is set by “${taken.toLowerCase()}” itself.`);
    const unknown = families && fontsOf(theme).find((family) => !families.includes(family));
    if (families && unknown)
      throw new Error(
        `The theme ${called} names the font “${unknown}”, which is not there. There is: ${families.join(', ')}.`,
      );
    made.push(theme);
  }
  return made;
};

const themeOf = ({ name: called, styles, furniture, page, ...settings }: z.output<typeof ownThemeSchema>): Theme => ({
  ...themeFrom(called, { ...settings, rule: settings.rule ?? settings.accent, palette: settings.palette ?? PALETTE }),
  ...(styles ? { further: styles } : {}),
  ...(furniture ? { furniture: furniture as Furniture } : {}),
  ...(page ? { page } : {}),
});

/** Families that a theme names anywhere. */
const fontsOf = ({ styles, further = {}, furniture = {} }: Theme): string[] => {
  const looks = Object.values(furniture).flatMap((band) =>
    (band?.items ?? []).flatMap((item) => ('look' in item && item.look ? [item.look] : [])),
  );
  return [...Object.values(styles), ...Object.values(further), ...looks].flatMap(({ font }) => font ?? []);
};
