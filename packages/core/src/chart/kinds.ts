import type { ChartType } from './chart.ts';
import type { ChartKind } from './kind.ts';
import { areaKind } from './kinds/area.ts';
import { barKind } from './kinds/bar.ts';
import { boxKind } from './kinds/box.ts';
import { bubbleKind } from './kinds/bubble.ts';
import { columnKind } from './kinds/column.ts';
import { heatKind } from './kinds/heat.ts';
import { histogramKind } from './kinds/histogram.ts';
import { lineKind } from './kinds/line.ts';
import { pieKind } from './kinds/pie.ts';
import { rangeKind } from './kinds/range.ts';
import { ringKind } from './kinds/ring.ts';
import { scatterKind } from './kinds/scatter.ts';
import { waterfallKind } from './kinds/waterfall.ts';

export const CHART_KINDS: { readonly [K in ChartType]: ChartKind } = {
  column: columnKind,
  bar: barKind,
  line: lineKind,
  area: areaKind,
  pie: pieKind,
  ring: ringKind,
  scatter: scatterKind,
  bubble: bubbleKind,
  heat: heatKind,
  box: boxKind,
  histogram: histogramKind,
  waterfall: waterfallKind,
  range: rangeKind,
};
