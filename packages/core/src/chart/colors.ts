/**
 * Colours of series, in their order. Neighbours differ in lightness as well, so that those who see few colours, and a printer
 * without any, tell them apart; a test holds them to that.
 */
export const PALETTE: readonly string[] = [
  '#1f5c4d',
  '#d9a441',
  '#5f86c9',
  '#6b3a17',
  '#4fc3a5',
  '#8f8650',
  '#b3b9e6',
  '#3a2a66',
];

/** Palettes that can be chosen, the usual one first. */
export const CHART_PALETTES = [
  { name: 'range', colors: PALETTE },
  {
    name: 'dusk',
    colors: ['#2f4b6e', '#e0a458', '#7a9cc6', '#8a3b2e', '#c7d3e3', '#5e5a2f', '#b58db0', '#30363d'],
  },
  {
    name: 'pine',
    colors: ['#12382f', '#2d7a5f', '#62a98c', '#9fd0bb', '#d3eadf', '#5c6f68'],
  },
  {
    name: 'ink',
    colors: ['#1f2a2e', '#6b7672', '#a9b1ae', '#d3d8d5', '#454f54', '#8b9592'],
  },
] as const satisfies readonly { name: string; colors: readonly string[] }[];

const GREY = '#9aa3a0';

/** The colour of a series by its place; those past the palette begin anew, lighter. */
export const colorAt = (palette: readonly string[], place: number): string => {
  const list = palette.length > 0 ? palette : PALETTE;
  const color = list[place % list.length]!;
  const round = Math.floor(place / list.length);
  return round === 0 ? color : mix(color, '#ffffff', Math.min(0.7, round * 0.35));
};

const channels = (color: string): [number, number, number] => [
  Number.parseInt(color.slice(1, 3), 16),
  Number.parseInt(color.slice(3, 5), 16),
  Number.parseInt(color.slice(5, 7), 16),
];

/** A colour between two, from 0 to 1. */
export const mix = (from: string, to: string, share: number): string => {
  const [a, b] = [channels(from), channels(to)];
  return `#${a
    .map((one, i) =>
      Math.round(one + (b[i]! - one) * share)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;
};

/** How light a colour is, from 0 to 1 (relative luminance, WCAG 2). */
export const luminance = (color: string): number => {
  const [r, g, b] = channels(color).map((one) => {
    const share = one / 255;
    return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
};

/** Words on a colour that can be read. */
export const inkOn = (color: string): string => (luminance(color) > 0.3 ? '#1f2a2e' : '#ffffff');

/** Lines of a pattern on a colour: seen, and quieter than words. */
export const hatchOn = (color: string): string => mix(color, luminance(color) > 0.3 ? '#1f2a2e' : '#ffffff', 0.55);

export const OTHERS_COLOR = GREY;
