import { zoneOf } from '../gauge.ts';
import { labelOf } from '../writer.ts';
import { type DrawGauge, INK, QUIET, sizeFor, tipOf } from './kind.ts';

/** No words are smaller than that, in points. */
const LEAST_SIZE = 3;

const GOOD = '#1f5c4d';
const BAD = '#b3402e';

/** A big number under its title, and how it changed. */
export const figureGauge: DrawGauge = (gauge, box, writer, out) => {
  const { change, unit } = gauge;
  const title = labelOf(gauge.title);
  const lineHeight = writer.lineHeight;
  const above = title === '' ? 0 : lineHeight;
  const below = change ? lineHeight * 1.15 : 0;
  const room = Math.max(1, box.height - above - below);
  const unitRoom = unit === '' ? 0 : writer.width(unit) + 3;
  const size = sizeFor(
    writer,
    gauge.text,
    Math.min(room * 0.86, writer.size * 4),
    Math.max(1, box.width - unitRoom),
    true,
  );
  const large = writer.sized(Math.max(LEAST_SIZE, size));
  // It was made as large as fits: half a point is what sizes lose to rounding.
  const text = large.shortened(gauge.text, Math.max(1, box.width - unitRoom) + 0.5, true);
  if (title !== '') {
    const words = writer.shortened(title, box.width);
    out.words(writer, words, box.x, box.y + writer.size, { color: QUIET, ...(words === title ? {} : { tip: title }) });
  }
  const baseline = box.y + above + Math.min(room * 0.8, size * 0.86);
  const color = zoneOf(gauge, gauge.value)?.color ?? gauge.color;
  out.words(large, text, box.x, baseline, { bold: true, color, tip: tipOf(gauge) });
  if (unit !== '') out.words(writer, unit, box.x + large.width(text, true) + 3, baseline, { color: QUIET });
  if (!change) return;
  // Below the tails of its digits.
  const at = Math.min(box.y + box.height - writer.size * 0.3, baseline + size * 0.22 + lineHeight);
  const ink = change.isGood === null ? INK : change.isGood ? GOOD : BAD;
  const [half, middle] = [writer.size * 0.32, at - writer.capHeight / 2];
  let x = box.x;
  if (change.direction !== 0) {
    const way = change.direction;
    out.path(
      (course) => {
        course.moveTo(x, middle + way * half);
        course.lineTo(x + half * 2, middle + way * half);
        course.lineTo(x + half, middle - way * half);
        course.closePath();
      },
      { fill: ink },
    );
    x += half * 2 + 3;
  }
  const words = writer.shortened(change.text, Math.max(1, box.x + box.width - x), true);
  out.words(writer, words, x, at, { bold: true, color: ink });
  x += writer.width(words, true) + 4;
  const caption = writer.shortened(labelOf(change.caption), Math.max(1, box.x + box.width - x));
  out.words(writer, caption, x, at, { color: QUIET });
};
