import type { LinkTarget } from '../page/page.ts';

/** Kinds of charts, in the order in which they are offered. */
export const CHART_TYPES = [
  'column',
  'bar',
  'line',
  'area',
  'pie',
  'ring',
  'scatter',
  'bubble',
  'heat',
  'box',
  'histogram',
  'waterfall',
  'range',
] as const;
export type ChartType = (typeof CHART_TYPES)[number];

/** One position along the axis. */
export interface ChartPlace {
  /** Where it stands on an axis of numbers or of time (milliseconds since 1970); null where it has no place there. */
  at: number | null;
  label: string;
  /** Stands for all those past the first ones. */
  isOthers?: boolean;
}

/** What is known of one place of one split, in one panel. */
export interface ChartCell {
  /** By measure; null where there is no number. */
  values: readonly (number | null)[];
  /** The same as they are shown. */
  texts: readonly string[];
  /** Colours that conditions give, by measure. */
  colors?: readonly (string | null)[] | undefined;
  /** Values of its rows with how often each comes, in ascending order, for what shows how they are spread. */
  spread?: readonly (readonly [value: number, times: number])[];
  link?: LinkTarget | null;
}

export interface ChartPanel {
  title: string;
  /** By split, then by place. */
  cells: readonly (readonly (ChartCell | null)[])[];
}

export interface ChartMeasure {
  caption: string;
  /** What it is drawn as, where that differs from the chart’s type. */
  drawnAs: 'column' | 'line' | 'area' | null;
  /** Measured on the second scale. */
  isSecond: boolean;
  color: string | null;
  /** Number format. */
  format: string;
}

export interface ChartSplit {
  label: string;
  color: string | null;
  isOthers?: boolean;
}

/** A scale of values. */
export interface ScaleSettings {
  title: string;
  /** Number format of its ticks; empty when they suit its steps. */
  format: string;
  log: boolean;
  from: number | null;
  to: number | null;
  grid: boolean;
  hidden: boolean;
}

export interface AlongSettings {
  kind: 'categories' | 'numbers' | 'days' | 'time';
  title: string;
  format: string;
  log: boolean;
  from: number | null;
  to: number | null;
  grid: boolean;
  hidden: boolean;
}

/** A line across the chart at a value. */
export interface ChartLine {
  at: number;
  caption: string;
  color: string;
  dash: 'solid' | 'dashed' | 'dotted';
  isSecond: boolean;
}

/** A coloured stretch of the scale; open at an end that is null. */
export interface ChartZone {
  from: number | null;
  to: number | null;
  caption: string;
  color: string;
  isSecond: boolean;
}

export type Side = 'right' | 'left' | 'top' | 'bottom';

export interface ChartSettings {
  type: ChartType;
  title: string;
  stack: 'beside' | 'stacked' | 'full';
  curve: 'straight' | 'steps' | 'smooth';
  /** What a line does where there is no value. */
  missing: 'gap' | 'zero' | 'across';
  /** Symbols at the points of lines; null where it goes by how many there are. */
  symbols: boolean | null;
  /** Patterns and dashes as a second sign. */
  patterns: boolean;
  labels: 'none' | 'value' | 'share' | 'name';
  legend: Side | 'none';
  palette: readonly string[];
  along: AlongSettings;
  scales: readonly [ScaleSettings, ScaleSettings];
  lines: readonly ChartLine[];
  zones: readonly ChartZone[];
  /** Panels side by side; null where it goes by their shape. */
  panelColumns: number | null;
  /** Most bins of a histogram; null where it goes by how many values there are. */
  bins: number | null;
  /** Colours from the least to the greatest value, of a heat grid. */
  ramp: readonly [string, string];
  /** Adds the sum of a waterfall as its last column; empty without. */
  totalCaption: string;
  /** What is said when there is nothing to show. */
  empty: string;
}

/** Shows numbers and times as the report’s language has them. */
export interface Saying {
  number: (value: number, format: string) => string;
  /** Milliseconds since 1970, as places along an axis of time have it. */
  time: (ms: number, format: string) => string;
  /** What clocks show at a time, as milliseconds counted as if their zone were UTC. */
  wallClock: (ms: number) => number;
}

/** All that a chart shows: no more is asked of rows, formulas or fonts. */
export interface Chart {
  settings: ChartSettings;
  places: readonly ChartPlace[];
  splits: readonly ChartSplit[];
  measures: readonly ChartMeasure[];
  panels: readonly ChartPanel[];
  saying: Saying;
  /** By which the reader switches entries of the legend off, by their names; none where nobody can. */
  switches?: ReadonlyMap<string, { key: string; isOff: boolean }> | undefined;
}
