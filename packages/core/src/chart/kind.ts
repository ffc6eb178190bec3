import type { Chart } from './chart.ts';
import type { Box, Drawing } from './drawing.ts';
import type { LaidLegend, LegendEntry } from './legend.ts';
import type { ChartWriter } from './writer.ts';

/** What a measure means to a kind of chart. */
export type MeasureRole = 'value' | 'x' | 'y' | 'size' | 'from' | 'to' | 'color' | 'spread';

/** Everything that the engine needs of one kind of chart. */
export interface ChartKind {
  /** What its measures mean, in their order; those past the last are left out, unless it is `value`, of which there may be more. */
  roles: readonly MeasureRole[];
  /** Which of its parts it takes. */
  takes: { along: boolean; split: boolean };
  /** Whether the values of rows are grouped here, instead of a total of them. */
  isSpread?: boolean;
  /** Whether its places stand where their numbers and times say, unless the chart says that they are categories. */
  isStretched?: boolean;
  legend: (chart: Chart) => readonly LegendEntry[];
  /** A legend of its own, in place of entries. */
  ramp?: (chart: Chart, side: 'right' | 'left' | 'top' | 'bottom', box: Box, writer: ChartWriter) => LaidLegend;
  /** Draws all panels. */
  draw: (chart: Chart, box: Box, writer: ChartWriter, out: Drawing) => void;
}
