import { CHART_TYPES } from '../../chart/chart.ts';
import { color, dash, format, formula, identifier } from '../../definition/basics.ts';
import { place } from '../../definition/item-parts.ts';
import { lookSchema } from '../../definition/look.ts';
import { ownRowsSchema, rowGroupSchema, shortWords } from '../../definition/row-groups.ts';
import { spoken } from '../../definition/spoken.ts';
import { z } from '../../definition/zod.ts';

/** A label as the chart shows it: of a value, or a caption of its own. */
const seriesLabel = spoken(z.string().max(200), 'follows');

/** One number that is drawn for each group. */
const measure = z.strictObject({
  /** Over the totals of the group; of a box plot or a histogram, the value of a row, or a total of it. */
  formula,
  caption: shortWords.optional(),
  format: format.optional(),
  color: color.optional(),
  /** What it is drawn as in a column chart. */
  drawnAs: z.enum(['column', 'line', 'area']).optional(),
  /** Measured on the second scale. */
  second: z.boolean().optional(),
  /** Another colour where a condition over the totals of the group holds; of several, the last one wins. */
  highlights: z
    .array(z.strictObject({ when: formula, color }))
    .max(20)
    .optional(),
});
export type ChartMeasureSetting = z.infer<typeof measure>;

const axisShape = {
  title: shortWords.optional(),
  format: format.optional(),
  log: z.boolean().optional(),
  from: formula.optional(),
  to: formula.optional(),
  grid: z.boolean().optional(),
  hidden: z.boolean().optional(),
};

const scale = z.strictObject(axisShape);

/** Where a click on a part of a chart leads: another report with values, or this one with other values of parameters. */
export const figureLink = z.union([
  z.strictObject({ report: z.string().min(1).max(120), parameters: z.record(identifier, formula).default({}) }),
  z.strictObject({ set: z.record(identifier, formula) }),
]);

export const referenceLine = z.strictObject({
  at: formula,
  caption: shortWords.optional(),
  color: color.optional(),
  dash: dash.optional(),
  second: z.boolean().optional(),
});

export const zoneSchema = z.strictObject({
  from: formula.optional(),
  to: formula.optional(),
  caption: shortWords.optional(),
  color,
  second: z.boolean().optional(),
});
export type Zone = z.infer<typeof zoneSchema>;

export const chartSchema = z.strictObject({
  kind: z.literal('chart'),
  ...place,
  type: z.enum(CHART_TYPES).default('column'),
  /** Rows of its own; without them it groups those that a total counts where it stands. */
  rows: ownRowsSchema.optional(),
  /** Its axis: a place, slice or point for each value. */
  along: rowGroupSchema.optional(),
  /** A series for each value. */
  split: rowGroupSchema.optional(),
  /** A small chart for each value. */
  panels: rowGroupSchema.optional(),
  panelColumns: z.number().int().min(1).max(20).optional(),
  measures: z.array(measure).max(12).default([]),
  title: shortWords.optional(),
  /** Series beside one another (when left out), on top of one another, or as shares of their sum. */
  stack: z.enum(['beside', 'stacked', 'full']).optional(),
  curve: z.enum(['straight', 'steps', 'smooth']).optional(),
  /** What a line does where there is no value: it is broken (when left out), falls to 0, or goes across. */
  missing: z.enum(['gap', 'zero', 'across']).optional(),
  /** Symbols at the points of lines; they are there while there are few of them when left out. */
  symbols: z.boolean().optional(),
  /** Patterns and dashes besides colours. */
  patterns: z.boolean().optional(),
  labels: z.enum(['none', 'value', 'share', 'name']).optional(),
  legend: z.enum(['right', 'left', 'top', 'bottom', 'none']).optional(),
  palette: z.array(color).min(1).max(24).optional(),
  /** Colours of values of the split, or of the axis where its places have colours of their own, by their labels. */
  colors: z
    .array(z.strictObject({ label: seriesLabel, color }))
    .max(100)
    .optional(),
  /** The axis. Left out, its kind follows from its values. */
  axis: z.strictObject({ ...axisShape, kind: z.enum(['categories', 'stretch']).optional() }).optional(),
  scale: scale.optional(),
  secondScale: scale.optional(),
  lines: z.array(referenceLine).max(20).optional(),
  zones: z.array(zoneSchema).max(20).optional(),
  /** How many bins a histogram has, about. */
  bins: z.number().int().min(1).max(200).optional(),
  /** Colours of a heat grid, from the least to the greatest value. */
  ramp: z.strictObject({ from: color, to: color }).optional(),
  /** Adds the sum of a waterfall as its last column. */
  totalCaption: shortWords.optional(),
  /** What is shown when there are no rows. */
  empty: shortWords.optional(),
  /** Type of its words, and its background and border. */
  look: lookSchema.optional(),
  onPress: figureLink.optional(),
});
