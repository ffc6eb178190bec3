import type { AlongScale } from './along-scale.ts';
import type { Chart, ChartPanel } from './chart.ts';
import type { Box, Drawing } from './drawing.ts';
import type { Labels } from './labels.ts';
import type { ValueScale } from './value-scale.ts';
import type { ChartWriter } from './writer.ts';

/** The area between the axes of one panel, and where values stand in it. */
export class Plot {
  constructor(
    readonly chart: Chart,
    readonly panel: ChartPanel,
    readonly box: Box,
    /** Values go to the right, places downwards. */
    readonly isFlipped: boolean,
    readonly along: AlongScale,
    readonly scales: readonly [ValueScale, ValueScale | null],
    readonly writer: ChartWriter,
    readonly labels: Labels,
    readonly out: Drawing,
  ) {}

  /** The same area with other data, or data drawn in another way. */
  with(chart: Chart, panel = this.panel): Plot {
    const { box, isFlipped, along, scales, writer, labels, out } = this;
    return new Plot(chart, panel, box, isFlipped, along, scales, writer, labels, out);
  }

  /** The scale that a series is measured on. */
  scale(isSecond: boolean): ValueScale {
    return (isSecond ? this.scales[1] : null) ?? this.scales[0];
  }

  /** Middle of a place along the axis, in points from its start; null where it is not on the axis. */
  place(place: number): number | null {
    const at = this.along.of(place);
    return at === null || at < -0.01 || at > this.alongLength + 0.01 ? null : at;
  }

  get alongLength(): number {
    return this.isFlipped ? this.box.height : this.box.width;
  }

  /** A place along the axis and one along the scale, both in points, on the page. */
  point(along: number, value: number): [number, number] {
    const { box, isFlipped } = this;
    return isFlipped ? [box.x + value, box.y + along] : [box.x + along, box.y + box.height - value];
  }

  /** A bar around a place, so wide, between two lengths along the scale. */
  bar(along: number, width: number, from: number, to: number): Box {
    const { box, isFlipped } = this;
    const start = Math.max(0, along - width / 2);
    const end = Math.min(this.alongLength, along + width / 2);
    const [low, high] = [Math.min(from, to), Math.max(from, to)];
    return isFlipped
      ? { x: box.x + low, y: box.y + start, width: high - low, height: end - start }
      : { x: box.x + start, y: box.y + box.height - high, width: end - start, height: high - low };
  }
}
