import { PALETTE } from '../chart/colors.ts';
import { color, size } from '../definition/basics.ts';
import { bandSchema, pageSchema, type Style, styleSchema } from '../definition/schema.ts';
import { z } from '../definition/zod.ts';
import { FURNITURE, type Furniture, type FurnitureBand, STYLE_OF, THEMES, type Theme, themeFrom } from './themes.ts';

const name = z.string().trim().min(1).max(80);

/** Paper and bands as they may be written, with what is usual left out. */
type PageInput = z.input<typeof pageSchema>;
type BandInput = z.input<typeof bandSchema>;

/** A theme as a host writes it: a name and an accent are enough. Colours as `#2f4b6e`. */
export interface OwnTheme {
  /** What makers choose it by. */
  name: string;
  /** Colour of titles and headings. */
  accent: string;
  /** Family of all texts; `Source Sans 3` when left out. */
  font?: string;
  /** Family of titles and headings; that of all texts when left out. */
  titleFont?: string;
  /** Size of values, in points; 9.5 when left out. */
  size?: number;
  /** Colour of texts. */
  ink?: string;
  /** Colour of notes, as page numbers. */
  quiet?: string;
  /** What titles have besides, as a style of a definition: it wins over the settings above. */
  title?: Style;
  /** What headings of groups have besides. */
  heading?: Style;
  /** What captions of columns have besides; bold when left out. */
  caption?: Style;
  /** What totals have besides. */
  total?: Style;
  /** Further styles, by the names that makers see. */
  styles?: Readonly<Record<string, Style>>;
  /** Colour of lines; the accent when left out. */
  rule?: string;
  /** Background of every second row; none when left out. */
  alternate?: string;
  /** Background of captions; none when left out. */
  captionBand?: string;
  /** Colours of series in charts, in their order. */
  palette?: readonly string[];
  /** Paper of new reports, for which `furniture` is drawn; A4 when left out. */
  page?: PageInput;
  /** Bands that come with the theme, as in a definition: a letterhead, a footer with page numbers, a watermark. */
  furniture?: Readonly<Partial<Record<FurnitureBand, BandInput>>>;
}

export const ownThemeSchema = z.strictObject({
  name,
  font: name.default('Source Sans 3'),
  titleFont: name.optional(),
  size: size.min(4).max(40).optional(),
  ink: color.default('#1f2a2e'),
  accent: color,
  quiet: color.default('#5b6f68'),
  title: styleSchema.default({}),
  heading: styleSchema.default({}),
  caption: styleSchema.default({ bold: true }),
  total: styleSchema.default({}),
  styles: z.record(name, styleSchema).optional(),
  rule: color.optional(),
  alternate: color.optional(),
  captionBand: color.optional(),
  palette: z.array(color).min(1).max(20).optional(),
  page: pageSchema.optional(),
  furniture: z.partialRecord(z.enum(FURNITURE), bandSchema).optional(),
} satisfies Record<keyof OwnTheme, z.ZodType>);

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
    const unknown = fontsOf(theme).find((family) => families !== null && !families.includes(family));
    if (families && unknown)
      throw new Error(
        `The theme ${called} names the font “${unknown}”, which is not there. There is: ${families.join(', ')}.`,
      );
    made.push(theme);
  }
  return made;
};

/** The theme that settings make. */
export const themeOf = ({
  name: called,
  styles,
  furniture,
  page,
  ...settings
}: z.output<typeof ownThemeSchema>): Theme => ({
  ...themeFrom(called, { ...settings, rule: settings.rule ?? settings.accent, palette: settings.palette ?? PALETTE }),
  ...(styles ? { further: styles } : {}),
  ...(furniture ? { furniture: furniture as Furniture } : {}),
  ...(page ? { page } : {}),
});

/** Families that its styles name, and the texts of its bands. */
const fontsOf = ({ styles, further = {}, furniture = {} }: Theme): string[] => {
  const looks = Object.values(furniture).flatMap((band) =>
    (band?.items ?? []).flatMap((item) => ('look' in item && item.look ? [item.look] : [])),
  );
  return [...Object.values(styles), ...Object.values(further), ...looks].flatMap(({ font }) => font ?? []);
};
