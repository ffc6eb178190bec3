import { inkOn } from '../colors.ts';
import { zoneOf } from '../gauge.ts';
import { gaugeScale } from '../gauge-scale.ts';
import { type DrawGauge, INK, shown, tipOf } from './kind.ts';

/** A bar as long as the value, for the cells of a table; its words stand in it or behind it. */
export const barGauge: DrawGauge = (gauge, box, writer, out) => {
  if (gauge.value === null) return;
  // The whole box is its scale: its ends are what they are, and no nicer.
  const known = [gauge.value, gauge.target?.value ?? 0, 0];
  const ends = { from: gauge.from ?? Math.min(...known), to: gauge.to ?? Math.max(...known) };
  const scale = gaugeScale({ ...gauge, ...ends }, box.width, 4);
  const [a, b] = [scale.within(scale.base), scale.within(gauge.value)];
  const color = zoneOf(gauge, gauge.value)?.color ?? gauge.color;
  const bar = { x: box.x + Math.min(a, b), y: box.y, width: Math.abs(b - a), height: box.height };
  out.rect(bar, { fill: color, tip: tipOf(gauge) });
  if (gauge.target) {
    const at = box.x + scale.within(gauge.target.value);
    out.line(at, box.y, at, box.y + box.height, { stroke: INK, thickness: 1.2, tip: gauge.target.text });
  }
  const text = writer.shortened(shown(gauge), box.width);
  if (text === '' || writer.lineHeight > box.height + writer.size * 0.4) return;
  const width = writer.width(text);
  const baseline = box.y + box.height / 2 + writer.capHeight / 2;
  const end = bar.x + bar.width;
  if (box.x + box.width - end > width + 3) out.words(writer, text, end + 3, baseline);
  else if (bar.width > width + 4) out.words(writer, text, end - 3, baseline, { align: 'end', color: inkOn(color) });
  else if (bar.x - box.x > width + 3) out.words(writer, text, bar.x - 3, baseline, { align: 'end' });
};
