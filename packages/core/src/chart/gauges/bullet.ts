import { labelsBelow } from '../axis-labels.ts';
import { mix } from '../colors.ts';
import { gaugeScale } from '../gauge-scale.ts';
import { labelOf } from '../writer.ts';
import { type DrawGauge, INK, QUIET, shown, TRACK, tipOf } from './kind.ts';

/** A bar over zones, with a stroke at its target; its title stands before it. */
export const bulletGauge: DrawGauge = (gauge, box, writer, out) => {
  const title = labelOf(gauge.title);
  const words = title === '' ? '' : writer.shortened(title, box.width * 0.35, true);
  const left = words === '' ? 0 : Math.max(box.width * 0.2, writer.width(words, true)) + 6;
  const text = writer.shortened(shown(gauge), box.width * 0.35, true);
  const right = writer.width(text, true) + 6;
  const width = Math.max(1, box.width - left - right);
  const x = box.x + left;
  const hasTicks = box.height >= writer.lineHeight * 2.2;
  const thick = Math.max(3, Math.min(22, box.height - (hasTicks ? writer.lineHeight + 6 : 0)));
  const y = box.y + Math.max(0, (box.height - thick - (hasTicks ? writer.lineHeight + 4 : 0)) / 2);
  const scale = gaugeScale(gauge, width, Math.max(2, Math.min(8, Math.floor(width / (writer.size * 5)))));
  out.rect({ x, y, width, height: thick }, { fill: TRACK });
  const [low, high] = scale.domain;
  for (const { from, to, color, caption } of gauge.zones) {
    const [a, b] = [scale.within(from ?? low), scale.within(to ?? high)];
    if (b > a)
      out.rect(
        { x: x + a, y, width: b - a, height: thick },
        { fill: mix(color, '#ffffff', 0.45), ...(caption ? { tip: caption } : {}) },
      );
  }
  if (gauge.value !== null) {
    const [a, b] = [scale.within(scale.base), scale.within(gauge.value)];
    const bar = { x: x + Math.min(a, b), y: y + thick * 0.3, width: Math.abs(b - a), height: thick * 0.4 };
    out.rect(bar, { fill: gauge.color, tip: tipOf(gauge) });
  }
  if (gauge.target) {
    const at = x + scale.within(gauge.target.value);
    out.line(at, y + thick * 0.12, at, y + thick * 0.88, { stroke: INK, thickness: 2, tip: gauge.target.text });
  }
  const baseline = y + thick / 2 + writer.capHeight / 2;
  if (words !== '')
    out.words(writer, words, x - 6, baseline, { align: 'end', bold: true, ...(words === title ? {} : { tip: title }) });
  out.words(writer, text, box.x + box.width, baseline, { align: 'end', bold: true });
  if (!hasTicks) return;
  for (const { at } of scale.ticks) out.line(x + at, y + thick, x + at, y + thick + 2.5, { stroke: QUIET });
  labelsBelow(scale.ticks, writer, {
    length: width,
    left: left / 2,
    right: right / 2,
    depth: writer.lineHeight + 6,
    isSequence: true,
  }).draw(out, x, y + thick + 1);
};
