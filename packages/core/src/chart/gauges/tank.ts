import { labelsBeside } from '../axis-labels.ts';
import { inkOn, mix } from '../colors.ts';
import { zoneOf } from '../gauge.ts';
import { gaugeScale } from '../gauge-scale.ts';
import { type DrawGauge, INK, QUIET, shown, tipOf, withTitle } from './kind.ts';

/** A vessel that is filled to a level. */
export const tankGauge: DrawGauge = (gauge, box, writer, out) => {
  const text = shown(gauge);
  const rest = withTitle(gauge.title, box, writer, out, 'middle');
  const foot = writer.lineHeight;
  const height = Math.max(4, rest.height - foot - writer.capHeight);
  const y = rest.y + writer.capHeight / 2;
  const scale = gaugeScale(gauge, height, Math.max(2, Math.min(8, Math.floor(height / (writer.lineHeight * 1.8)))));
  const ticks = scale.ticks.map(({ at, label }) => ({ at: height - at, label }));
  const labels = labelsBeside(ticks, writer, {
    length: height,
    left: 0,
    right: 0,
    depth: rest.width * 0.4,
    isSequence: true,
  });
  const width = Math.max(4, Math.min(rest.width - labels.depth - 4, height * 0.7));
  const x = rest.x + (rest.width - width - labels.depth) / 2 + labels.depth;
  const [low, high] = scale.domain;
  // Zones lie as a stripe along the wall.
  for (const { from, to, color, caption } of gauge.zones) {
    const [a, b] = [scale.within(from ?? low), scale.within(to ?? high)];
    if (b > a)
      out.rect(
        { x: x - 3, y: y + height - b, width: 3, height: b - a },
        { fill: color, ...(caption ? { tip: caption } : {}) },
      );
  }
  out.rect({ x, y, width, height }, { fill: '#fbf8f1', tip: tipOf(gauge) });
  if (gauge.value !== null) {
    const level = scale.within(gauge.value);
    const color = zoneOf(gauge, gauge.value)?.color ?? gauge.color;
    out.rect({ x, y: y + height - level, width, height: level }, { fill: color, tip: tipOf(gauge) });
    if (level > 1)
      out.line(x, y + height - level, x + width, y + height - level, {
        stroke: mix(color, '#1f2a2e', 0.4),
        thickness: 1,
      });
  }
  if (gauge.target) {
    const at = y + height - scale.within(gauge.target.value);
    out.line(x - 2, at, x + width + 2, at, { stroke: INK, thickness: 1.4, dash: [3, 2], tip: gauge.target.text });
  }
  out.rect({ x, y, width, height }, { stroke: QUIET, thickness: 1 });
  for (const { at } of scale.ticks)
    out.line(x, y + height - at, x + 3, y + height - at, { stroke: inkOn('#ffffff'), thickness: 0.5 });
  labels.draw(out, x - 3, y);
  const words = writer.shortened(text, rest.width, true);
  const half = writer.width(words, true) / 2;
  const middle = Math.max(rest.x + half, Math.min(rest.x + rest.width - half, x + width / 2));
  out.words(writer, words, middle, rest.y + rest.height - writer.size * 0.25, { align: 'middle', bold: true });
};
