import type { Drawing } from './drawing.ts';
import { type ChartWriter, labelOf } from './writer.ts';

/** What is to be said at a place along an axis. Points from the start of the axis. */
export interface AxisLabel {
  at: number;
  label: string;
  /** On a second line. */
  below?: string;
}

/** Labels as they will be written. */
export interface LaidLabels {
  /** Height, or width beside an upright axis, that they take. */
  depth: number;
  draw: (out: Drawing, x: number, y: number) => void;
}

/** Between two labels on a line. */
const GAP = 4;
/** From the axis to its labels. */
export const LABEL_GAP = 3;
const SLANT = Math.SQRT1_2;

interface Room {
  /** Of the axis. */
  length: number;
  /** Free to the left of its start and the right of its end. */
  left: number;
  right: number;
  /** Most that the labels may take away from the axis. */
  depth: number;
  /** Labels in a row, as dates: some of them tell where the others are. */
  isSequence: boolean;
}

const NONE: LaidLabels = { depth: 0, draw: () => {} };

/** Each of the labels from the first on that leaves room for the one before it. */
const thinned = <T extends { at: number }>(labels: readonly T[], every: number): T[] =>
  labels.filter((_, i) => i % every === 0);

/** Labels below a horizontal axis: on a line, or turned, or some of them alone, so that none touches another. */
export const labelsBelow = (given: readonly AxisLabel[], writer: ChartWriter, room: Room): LaidLabels => {
  const labels = given.map((one) => ({ ...one, label: labelOf(one.label), below: labelOf(one.below ?? '') }));
  if (labels.every(({ label }) => label === '') || room.depth < writer.lineHeight) return NONE;
  const step = labels.length > 1 ? Math.abs(labels[1]!.at - labels[0]!.at) : room.length;
  const widest = labels.reduce((most, { label }) => Math.max(most, writer.width(label)), 0);
  const fits = onLine(labels, writer, room, 1);
  if (fits) return fits;
  // Turned labels need names worth turning for, and room below.
  if (!room.isSequence && room.depth >= 3 * writer.lineHeight) return turned(labels, writer, room, step, widest);
  for (let every = 2; every <= labels.length; every++) {
    const some = onLine(labels, writer, room, every);
    if (some) return some;
  }
  return NONE;
};

/** Labels side by side; null where two of them would touch. */
const onLine = (
  labels: readonly Required<AxisLabel>[],
  writer: ChartWriter,
  room: Room,
  every: number,
): LaidLabels | null => {
  const isAlone = labels.length <= every;
  let end = Number.NEGATIVE_INFINITY;
  const put: { x: number; text: string; line: number; tip?: string }[] = [];
  let belowEnd = Number.NEGATIVE_INFINITY;
  // What is said below holds until the next one; a label that is left out hands it on.
  let waiting = '';
  const at = (place: number, width: number): number =>
    Math.max(-room.left, Math.min(room.length + room.right - width, place - width / 2));
  for (const [i, { at: place, label, below }] of labels.entries()) {
    if (below !== '') waiting = below;
    if (i % every !== 0) continue;
    const shown = isAlone ? writer.shortened(label, room.left + room.length + room.right) : label;
    const width = writer.width(shown);
    const x = at(place, width);
    if (x < end + (put.length > 0 ? GAP : 0) || x + width > room.length + room.right + 0.01) return null;
    end = x + width;
    put.push({ x, text: shown, line: 0, ...(shown === label ? {} : { tip: label }) });
    if (waiting === '') continue;
    const lower = writer.width(waiting);
    const lowerX = Math.max(-room.left, Math.min(room.length + room.right - lower, place - lower / 2));
    if (lowerX >= belowEnd + GAP && lower <= room.left + room.length + room.right) {
      put.push({ x: lowerX, text: waiting, line: 1 });
      belowEnd = lowerX + lower;
    }
    waiting = '';
  }
  const hasBelow = put.some(({ line }) => line === 1) && room.depth >= 2 * writer.lineHeight + LABEL_GAP;
  return {
    depth: LABEL_GAP + (hasBelow ? 2 : 1) * writer.lineHeight,
    draw: (out, x, y) => {
      for (const one of put) {
        if (one.line === 1 && !hasBelow) continue;
        const baseline = y + LABEL_GAP + writer.size + one.line * writer.lineHeight;
        out.words(writer, one.text, x + one.x, baseline, one.tip === undefined ? {} : { tip: one.tip });
      }
    },
  };
};

/** Labels that read upwards, slanting where there is room for that. */
const turned = (
  labels: readonly Required<AxisLabel>[],
  writer: ChartWriter,
  room: Room,
  step: number,
  widest: number,
): LaidLabels => {
  const free = room.depth - LABEL_GAP;
  const slanting = Math.min(widest, (free - writer.size * SLANT) / SLANT);
  const slants =
    step * SLANT >= writer.lineHeight &&
    labels.every(({ at, label }) => Math.min(writer.width(label), slanting) * SLANT <= at + room.left);
  const length = slants ? slanting : Math.min(widest, free);
  const every = slants ? 1 : Math.max(1, Math.ceil(writer.lineHeight / Math.max(step, 0.01)));
  const angle = slants ? -45 : -90;
  const shown = thinned(labels, every).map(({ at, label }) => ({ at, label, text: writer.shortened(label, length) }));
  const longest = shown.reduce((most, { text }) => Math.max(most, writer.width(text)), 0);
  const depth = slants ? (longest + writer.size) * SLANT : longest;
  return {
    depth: LABEL_GAP + depth,
    draw: (out, x, y) => {
      for (const { at, label, text } of shown) {
        const put = { align: 'end' as const, turn: angle, ...(text === label ? {} : { tip: label }) };
        const [dx, dy] = slants ? [writer.capHeight * 0.35, writer.capHeight * SLANT] : [writer.capHeight / 2, 0];
        out.words(writer, text, x + at + dx, y + LABEL_GAP + dy, put);
      }
    },
  };
};

/** Labels at the left of an upright axis, `at` measured downwards from its upper end. */
export const labelsBeside = (given: readonly AxisLabel[], writer: ChartWriter, room: Room): LaidLabels => {
  const sorted = given.map((one) => ({ at: one.at, label: labelOf(one.label) })).sort((a, b) => a.at - b.at);
  const most = room.depth - LABEL_GAP;
  if (most < writer.size || sorted.every(({ label }) => label === '')) return NONE;
  const gap = Math.min(...sorted.slice(1).map(({ at }, i) => at - sorted[i]!.at), room.length);
  const every = Math.max(1, Math.ceil(writer.lineHeight / Math.max(gap, 0.01)));
  const shown: { y: number; text: string; label: string }[] = [];
  let end = Number.NEGATIVE_INFINITY;
  for (const [i, { at, label }] of sorted.entries()) {
    if (room.isSequence ? i % every !== 0 : at - writer.lineHeight / 2 < end - 0.01) continue;
    end = at + writer.lineHeight / 2;
    shown.push({ y: at + writer.capHeight / 2, text: writer.shortened(label, most), label });
  }
  const widest = shown.reduce((width, { text }) => Math.max(width, writer.width(text)), 0);
  return {
    depth: widest === 0 ? 0 : widest + LABEL_GAP,
    draw: (out, x, y) => {
      for (const { y: at, text, label } of shown)
        out.words(writer, text, x - LABEL_GAP, y + at, { align: 'end', ...(text === label ? {} : { tip: label }) });
    },
  };
};
