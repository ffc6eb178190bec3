import { arc } from 'd3-shape';
import { mix } from '../colors.ts';
import { zoneOf } from '../gauge.ts';
import { gaugeScale, minorTicks } from '../gauge-scale.ts';
import { Labels } from '../labels.ts';
import { around } from '../symbols.ts';
import { type DrawGauge, INK, QUIET, shown, sizeFor, TRACK, tipOf, withTitle } from './kind.ts';

/** Thickness of the ring, as a share of its radius. */
const RING = 0.16;

/** A round scale that covers so much of a whole turn, open at its bottom, with a needle. */
export const dialGauge =
  (turn: number): DrawGauge =>
  (gauge, box, writer, out) => {
    const rest = withTitle(gauge.title, box, writer, out, 'middle');
    const half = turn * Math.PI;
    const isHalf = turn <= 0.5;
    const below = isHalf ? writer.lineHeight * 1.5 : 0;
    // Words of the ticks stand around the ring.
    const room = writer.size * 2.4;
    const radius = Math.max(
      4,
      Math.min(
        rest.width / 2 - room,
        isHalf
          ? rest.height - below - writer.lineHeight
          : rest.height / (1 + Math.cos(Math.PI - half)) - writer.lineHeight,
      ),
    );
    const x = rest.x + rest.width / 2;
    const used = isHalf
      ? radius + writer.lineHeight + below
      : radius * (1 + Math.cos(Math.PI - half)) + writer.lineHeight;
    const y = rest.y + Math.max(0, (rest.height - used) / 2) + writer.lineHeight + radius;
    const length = radius * 2 * half;
    const scale = gaugeScale(gauge, length, Math.max(2, Math.min(10, Math.floor(length / (writer.size * 4)))));
    const angleAt = (value: number): number => -half + (scale.within(value) / length) * 2 * half;
    const inner = radius * (1 - RING);
    const point = (angle: number, at: number): [number, number] => [x + at * Math.sin(angle), y - at * Math.cos(angle)];
    const ring = (from: number, to: number, color: string, tip?: string): void =>
      out.path(
        (course) => {
          arc().context(around(course, x, y))({
            innerRadius: inner,
            outerRadius: radius,
            startAngle: from,
            endAngle: to,
          });
        },
        { fill: color, ...(tip ? { tip } : {}) },
      );
    ring(-half, half, TRACK);
    const [low, high] = scale.domain;
    for (const { from, to, color, caption } of gauge.zones) {
      const [a, b] = [angleAt(from ?? low), angleAt(to ?? high)];
      if (b > a) ring(a, b, color, caption || undefined);
    }
    if (gauge.zones.length === 0 && gauge.value !== null) {
      const [a, b] = [angleAt(scale.base), angleAt(gauge.value)];
      ring(Math.min(a, b), Math.max(a, b), gauge.color, tipOf(gauge));
    }
    const stroke = (angle: number, from: number, to: number, thickness: number, color: string): void => {
      const [[x1, y1], [x2, y2]] = [point(angle, from), point(angle, to)];
      out.line(x1, y1, x2, y2, { stroke: color, thickness });
    };
    for (const at of minorTicks(scale, gauge.minor, length))
      stroke(-half + (at / length) * 2 * half, radius, radius + 2, 0.4, QUIET);
    const labels = new Labels(rest, writer, out);
    for (const { at, label } of scale.ticks) {
      const angle = -half + (at / length) * 2 * half;
      stroke(angle, radius, radius + 3.5, 0.7, QUIET);
      const off = writer.width(label) / 2;
      labels.put(label, [point(angle, radius + 6 + Math.abs(Math.sin(angle)) * off + Math.abs(Math.cos(angle)) * 2)], {
        color: QUIET,
      });
    }
    if (gauge.target) {
      const angle = angleAt(gauge.target.value);
      stroke(angle, inner - 2, radius + 2, 2, INK);
    }
    const text = shown(gauge);
    const ink = zoneOf(gauge, gauge.value)?.color ?? INK;
    const wide = isHalf ? radius * 1.6 : radius * 1.1;
    const size = sizeFor(writer, text, writer.size * 1.7, wide, true);
    const large = writer.sized(size);
    const baseline = isHalf ? y + large.size * 1.15 : y + radius * 0.62;
    out.words(large, large.shortened(text, wide, true), x, baseline, {
      align: 'middle',
      bold: true,
      color: mix(ink, INK, 0.35),
    });
    if (gauge.value === null) return;
    const angle = angleAt(gauge.value);
    const [tip, left, right] = [
      point(angle, inner - 1),
      point(angle - Math.PI / 2, radius * 0.05),
      point(angle + Math.PI / 2, radius * 0.05),
    ];
    out.path(
      (course) => {
        course.moveTo(...left);
        course.lineTo(...tip);
        course.lineTo(...right);
        course.closePath();
      },
      { fill: INK, tip: tipOf(gauge) },
    );
    out.path((course) => course.arc(x, y, radius * 0.07, 0, 2 * Math.PI), { fill: INK, tip: tipOf(gauge) });
  };
