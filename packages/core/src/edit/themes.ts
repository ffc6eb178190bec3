import { mix, PALETTE } from '../chart/colors.ts';
import {
  type Band,
  type Item,
  isWords,
  type Look,
  type PageSetup,
  type Report,
  type Style,
} from '../definition/schema.ts';
import { type BandAddress, isPageBand, REPORT_BANDS, type ReportBand } from '../definition/walk.ts';

/** What a text is for on a page; each has a named style. */
export type Role = 'title' | 'heading' | 'caption' | 'value' | 'total' | 'note';

/** Names of the styles that themes set, as they stand in definitions. */
export const STYLE_OF: Readonly<Record<Role, string>> = {
  title: 'Title',
  heading: 'Heading',
  caption: 'Caption',
  value: 'Value',
  total: 'Total',
  note: 'Note',
};

/** Bands of the page that every report of a house has, as its letterhead. */
export type FurnitureBand = Exclude<ReportBand, 'header' | 'footer'>;
export const FURNITURE = REPORT_BANDS.filter((band): band is FurnitureBand => isPageBand(band));
export type Furniture = Readonly<Partial<Record<FurnitureBand, Band>>>;

export interface Theme {
  name: string;
  styles: Record<Role, Style>;
  /** Colour of lines. */
  rule: string;
  /** Background of every second row; null for none. */
  alternate: string | null;
  /** Background of header bands of drawers; null for none. */
  captionBand: string | null;
  /** Colours of series, in their order; the first is that of gauges and maps as well. */
  palette: readonly string[];
  /** Further styles, by their names. */
  further?: Readonly<Record<string, Style>>;
  /** Bands that all its reports have, drawn for `page`. */
  furniture?: Furniture;
  /** Paper that new reports begin with. */
  page?: PageSetup;
  /** Id of it in the library, where it stands there. */
  fromLibrary?: string;
}

export interface ThemeSettings {
  font: string;
  titleFont?: string | undefined;
  ink: string;
  accent: string;
  quiet: string;
  size?: number | undefined;
  title: Style;
  heading?: Style | undefined;
  caption: Style;
  total?: Style | undefined;
  rule: string;
  alternate?: string | undefined;
  captionBand?: string | undefined;
  palette: readonly string[];
}

/** A theme from the few settings that make its styles. Sizes in points. */
export const themeFrom = (name: string, s: ThemeSettings): Theme => ({
  name,
  styles: {
    title: { font: s.titleFont ?? s.font, size: 20, bold: true, color: s.accent, ...s.title },
    heading: { font: s.titleFont ?? s.font, size: 12, bold: true, color: s.accent, ...s.heading },
    caption: { font: s.font, size: (s.size ?? 9.5) - 0.5, color: s.ink, ...s.caption },
    value: { font: s.font, size: s.size ?? 9.5, color: s.ink },
    total: { font: s.font, size: s.size ?? 9.5, bold: true, color: s.ink, ...s.total },
    note: { font: s.font, size: 8, color: s.quiet },
  },
  rule: s.rule,
  alternate: s.alternate ?? null,
  captionBand: s.captionBand ?? null,
  palette: s.palette,
});

const SANS = 'Source Sans 3';
const SERIF = 'Source Serif 4';
const MONO = 'Source Code Pro';

/** Looks for a whole report. */
export const THEMES: readonly Theme[] = [
  themeFrom('Plain paper', {
    font: SANS,
    titleFont: SERIF,
    ink: '#1f2a2e',
    accent: '#1f2a2e',
    quiet: '#686f69',
    title: {},
    caption: { bold: true },
    rule: '#1f2a2e',
    palette: PALETTE,
  }),
  themeFrom('Pine', {
    font: SANS,
    ink: '#1f2a2e',
    accent: '#1f5c4d',
    quiet: '#5b6f68',
    title: { size: 22 },
    caption: { bold: true, color: '#1f5c4d' },
    rule: '#1f5c4d',
    alternate: '#eff6f2',
    palette: ['#1f5c4d', '#d9a441', '#62a98c', '#8a5a2b', '#9fd0bb', '#5c6f68'],
  }),
  themeFrom('Brass plate', {
    font: SERIF,
    ink: '#33291a',
    accent: '#7a5410',
    quiet: '#7d6f57',
    title: { size: 22 },
    caption: { italic: true, color: '#7a5410' },
    rule: '#b98524',
    captionBand: '#f8f0dd',
    palette: ['#7a5410', '#d9a441', '#5d6d4e', '#c9a06a', '#33291a', '#a8895a'],
  }),
  themeFrom('Night train', {
    font: SANS,
    ink: '#1b2333',
    accent: '#26365c',
    quiet: '#667089',
    title: { size: 21 },
    caption: { bold: true, color: '#ffffff' },
    rule: '#26365c',
    alternate: '#f1f4f9',
    captionBand: '#26365c',
    palette: ['#26365c', '#e0a458', '#7a9cc6', '#8a3b2e', '#c7d3e3', '#5e5a2f'],
  }),
  themeFrom('Terracotta', {
    font: SANS,
    titleFont: SERIF,
    ink: '#36261f',
    accent: '#9c4326',
    quiet: '#84685b',
    title: { italic: true },
    caption: { bold: true, color: '#9c4326' },
    total: { color: '#9c4326' },
    rule: '#d3a48f',
    alternate: '#fbf3ee',
    palette: ['#9c4326', '#e0a458', '#6b7d5e', '#d3a48f', '#36261f', '#b98b6a'],
  }),
  themeFrom('Logbook', {
    font: MONO,
    ink: '#222222',
    accent: '#222222',
    quiet: '#707070',
    size: 8.5,
    title: { size: 16 },
    caption: { underline: true },
    rule: '#8a8a8a',
    palette: ['#222222', '#8b8b8b', '#555555', '#bdbdbd', '#3a3a3a', '#d8d8d8'],
  }),
  themeFrom('Fresh snow', {
    font: SANS,
    ink: '#203040',
    accent: '#2b6f93',
    quiet: '#5a6b78',
    title: { size: 26, bold: false },
    caption: { size: 8, color: '#5a6b78', spacing: 1.4 },
    total: { color: '#2b6f93' },
    rule: '#c8d8e2',
    palette: ['#2b6f93', '#e0a458', '#203040', '#9fc3d5', '#8a5a2b', '#5a6b78'],
  }),
];

/** Null where none of them has the name. */
export const findTheme = (name: string | undefined, themes: readonly Theme[] = THEMES): Theme | null =>
  themes.find((t) => t.name === name) ?? null;

/** The styles of a theme under their names in definitions. */
export const themeStyles = (chosen: Theme): Record<string, Style> => ({
  ...Object.fromEntries(Object.entries(chosen.styles).map(([role, style]) => [STYLE_OF[role as Role], style])),
  ...chosen.further,
});

/** How roles look in a report whose styles have no name for them. */
const PLAIN: Partial<Record<Role, Look>> = {
  title: { size: 20, bold: true },
  heading: { size: 12, bold: true },
  caption: { bold: true },
  total: { bold: true },
  note: { size: 8 },
};

/** The style of a role where the report has it, and a plain look of its own where not. */
export const dressed = (report: Report, role: Role, look: Look = {}): { style?: string; look?: Look } => {
  const named = report.styles[STYLE_OF[role]] !== undefined;
  const own = named ? look : { ...PLAIN[role], ...look };
  return { ...(named ? { style: STYLE_OF[role] } : {}), ...(Object.keys(own).length > 0 ? { look: own } : {}) };
};

/** What a text is for, from where it stands and what it shows. */
export const roleOf = (item: Item, address: BandAddress): Role | null => {
  if (!isWords(item)) return null;
  const named = (Object.keys(STYLE_OF) as Role[]).find((role) => STYLE_OF[role] === item.style);
  if (named) return named;
  const { drawer, band } = address;
  const size = item.look?.size ?? 10;
  if (drawer === null) {
    if (band === 'header') return size >= 14 ? 'title' : 'note';
    return band === 'footer' ? 'total' : 'note';
  }
  if ('group' in address && address.group !== undefined && band === 'header') return 'heading';
  if (band === 'header') return 'caption';
  if (band === 'footer' || band === 'detailFooter' || band === 'others') return 'total';
  if (size >= 11 && item.look?.bold) return 'heading';
  return band === 'empty' ? 'note' : 'value';
};

/** The type of a style alone: what items that write by themselves take of it. */
const typeOf = ({ font, size, color }: Style): Look => ({
  ...(font ? { font } : {}),
  ...(size ? { size } : {}),
  ...(color ? { color } : {}),
});

/** The type of words in pictures of numbers: smaller than that of values. */
const figureType = ({ styles }: Theme): Look => typeOf({ ...styles.value, size: 8 });

const styleOf = ({ styles }: Theme, role: Role): Look => {
  const { basedOn: _, ...look } = styles[role];
  return look;
};

/** How a theme dresses items that write by themselves; nothing for those that named styles dress. */
export const themedItem = (kind: Item['kind'], chosen: Theme | null): Record<string, unknown> => {
  if (!chosen) return {};
  const { captionBand, alternate, rule } = chosen;
  switch (kind) {
    case 'crosstab':
      return {
        look: typeOf(chosen.styles.value),
        headingLook: { ...styleOf(chosen, 'caption'), ...(captionBand ? { background: captionBand } : {}) },
        totalLook: { ...styleOf(chosen, 'total'), ...(alternate ? { background: alternate } : {}) },
        line: rule,
      };
    case 'chart':
      return { look: figureType(chosen), palette: [...chosen.palette] };
    case 'gauge':
      return { look: figureType(chosen), color: chosen.palette[0] };
    case 'sparkline':
      return { color: chosen.palette[0] };
    case 'map': {
      const [color = chosen.rule] = chosen.palette;
      return { look: figureType(chosen), ramp: { from: mix(color, '#ffffff', 0.85), to: color } };
    }
    case 'contents':
    case 'formatted':
      return { look: typeOf(chosen.styles.value) };
    case 'panel':
      return { ...(alternate ? { fill: alternate } : {}), stroke: rule };
    default:
      return {};
  }
};
