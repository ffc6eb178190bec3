import type { Mark } from '../page/page.ts';
import { type Box, Drawing } from './drawing.ts';
import type { Gauge, GaugeType } from './gauge.ts';
import { barGauge } from './gauges/bar.ts';
import { bulletGauge } from './gauges/bullet.ts';
import { dialGauge } from './gauges/dial.ts';
import { figureGauge } from './gauges/figure.ts';
import type { DrawGauge } from './gauges/kind.ts';
import { scaleGauge } from './gauges/scale.ts';
import { tankGauge } from './gauges/tank.ts';
import type { ChartWriter } from './writer.ts';

const GAUGE_KINDS: { readonly [K in GaugeType]: DrawGauge } = {
  dial: dialGauge(0.75),
  half: dialGauge(0.5),
  scale: scaleGauge,
  bullet: bulletGauge,
  tank: tankGauge,
  figure: figureGauge,
  bar: barGauge,
};

/** The marks of a gauge in a box, in points. */
export const drawGauge = (gauge: Gauge, box: Box, writer: ChartWriter): Mark[] => {
  const out = new Drawing();
  if (box.width > 2 && box.height > 2) GAUGE_KINDS[gauge.type](gauge, box, writer, out);
  return out.marks;
};
