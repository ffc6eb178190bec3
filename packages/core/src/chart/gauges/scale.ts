import { labelsBelow } from '../axis-labels.ts';
import { zoneOf } from '../gauge.ts';
import { gaugeScale, minorTicks } from '../gauge-scale.ts';
import { type DrawGauge, INK, QUIET, shown, TRACK, tipOf, withTitle } from './kind.ts';

/** A straight scale with a pointer over it. */
export const scaleGauge: DrawGauge = (gauge, box, writer, out) => {
  const text = writer.shortened(shown(gauge), box.width, true);
  const rest = withTitle(gauge.title, box, writer, out, 'start');
  const [x, width] = [rest.x + 4, Math.max(1, rest.width - 8)];
  const scale = gaugeScale(gauge, width, Math.max(2, Math.min(10, Math.floor(width / (writer.size * 5)))));
  const pointer = 6;
  const depth = writer.lineHeight + 4;
  const above = writer.lineHeight + pointer;
  const thick = Math.max(3, Math.min(14, rest.height - depth - above));
  const y = rest.y + Math.max(above, (rest.height - thick - depth + above) / 2);
  out.rect({ x, y, width, height: thick }, { fill: TRACK });
  const [low, high] = scale.domain;
  for (const { from, to, color, caption } of gauge.zones) {
    const [a, b] = [scale.within(from ?? low), scale.within(to ?? high)];
    if (b > a)
      out.rect({ x: x + a, y, width: b - a, height: thick }, { fill: color, ...(caption ? { tip: caption } : {}) });
  }
  for (const at of minorTicks(scale, gauge.minor, width))
    out.line(x + at, y + thick, x + at, y + thick + 1.5, { stroke: QUIET, thickness: 0.4 });
  for (const { at } of scale.ticks)
    out.line(x + at, y + thick, x + at, y + thick + 3, { stroke: QUIET, thickness: 0.7 });
  const room = { length: width, left: 4, right: 4, depth: depth + 4, isSequence: true };
  labelsBelow(scale.ticks, writer, room).draw(out, x, y + thick + 1);
  if (gauge.target) {
    const at = x + scale.within(gauge.target.value);
    out.line(at, y - 2, at, y + thick + 2, { stroke: INK, thickness: 2 });
  }
  if (gauge.value === null) return;
  const at = x + scale.within(gauge.value);
  const color = zoneOf(gauge, gauge.value)?.color ?? gauge.color;
  out.path(
    (course) => {
      course.moveTo(at, y - 0.5);
      course.lineTo(at - pointer * 0.7, y - pointer - 0.5);
      course.lineTo(at + pointer * 0.7, y - pointer - 0.5);
      course.closePath();
    },
    { fill: INK, stroke: color, thickness: 0.8, tip: tipOf(gauge) },
  );
  const half = writer.width(text, true) / 2;
  const words = Math.max(rest.x + half, Math.min(rest.x + rest.width - half, at));
  out.words(writer, text, words, y - pointer - 2.5, { align: 'middle', bold: true });
};
