import type { Side } from './chart.ts';
import type { Box, Drawing } from './drawing.ts';
import { dashAt, drawSymbol } from './symbols.ts';
import { type ChartWriter, labelOf } from './writer.ts';

export interface LegendEntry {
  name: string;
  color: string;
  as: 'area' | 'line' | 'point';
  /** Place of its symbol; null without. */
  symbol: number | null;
  /** Place of its pattern or dash; 0 without. */
  pattern: number;
  /** By which the reader switches it off; none where it cannot be. */
  switch?: { key: string; isOff: boolean } | undefined;
}

/** Colours in steps, with the values between them. */
export interface LegendRamp {
  colors: readonly string[];
  /** What is said at its ends. */
  from: string;
  to: string;
}

/** A legend that was laid out: what it leaves of the box, and how it is drawn. */
export interface LaidLegend {
  rest: Box;
  draw: (out: Drawing) => void;
}

/** The colour of what is switched off. */
const OFF = '#9aa3a0';

const inset = ({ x, y, width, height }: Box): Box => ({ x: x + 0.5, y: y + 0.5, width: width - 1, height: height - 1 });

const SWATCH = 8;
/** From the swatch to its words, and from one entry to the next on a line. */
const GAP = 4;
const BETWEEN = 12;
/** From the legend to the chart. */
const APART = 8;
/** Most of the box that it may take. */
const MOST_WIDTH = 0.35;
const MOST_HEIGHT = 0.3;

const swatch = (
  out: Drawing,
  { color, as, symbol, pattern, switch: by }: LegendEntry,
  x: number,
  middle: number,
): void => {
  const box = { x, y: middle - SWATCH / 2, width: SWATCH, height: SWATCH };
  if (by?.isOff) {
    out.rect(inset(box), { stroke: OFF, thickness: 0.7 });
    return;
  }
  if (as === 'area') out.rect(box, { fill: color, hatch: pattern });
  if (as === 'line')
    out.line(x, middle, x + SWATCH, middle, {
      stroke: color,
      thickness: 1.6,
      dash: pattern ? dashAt(pattern) : undefined,
    });
  if (symbol !== null) drawSymbol(out, symbol, x + SWATCH / 2, middle, as === 'point' ? 7 : 5, { fill: color });
};

interface Placed {
  entry: LegendEntry | null;
  text: string;
  whole: string;
  x: number;
  /** Line, from 0. */
  line: number;
}

/** The rest of the entries, when there is no room for all. */
const more = (count: number): string => `+${count}`;

/** Puts the legend of a chart at one side of its box. */
export const layLegend = (entries: readonly LegendEntry[], side: Side, box: Box, writer: ChartWriter): LaidLegend => {
  const none: LaidLegend = { rest: box, draw: () => {} };
  if (entries.length === 0) return none;
  const { lineHeight } = writer;
  const isBeside = side === 'left' || side === 'right';
  const most = Math.floor((isBeside ? box.height : box.height * MOST_HEIGHT) / lineHeight);
  if (most < 1) return none;
  const room = (isBeside ? box.width * MOST_WIDTH : box.width) - SWATCH - GAP;
  if (room < 3 * writer.size) return none;
  const named = entries.map((entry) => ({ entry, whole: labelOf(entry.name) }));
  const placed: Placed[] = [];
  let left = 0;
  if (isBeside) {
    const shown = named.length > most ? most - 1 : named.length;
    for (const [line, { entry, whole }] of named.slice(0, shown).entries())
      placed.push({ entry, whole, text: writer.shortened(whole, room), x: 0, line });
    left = named.length - shown;
    if (left > 0) placed.push({ entry: null, whole: '', text: more(left), x: 0, line: shown });
  } else {
    let [x, line] = [0, 0];
    for (const [i, { entry, whole }] of named.entries()) {
      const rest = named.length - i;
      const text = writer.shortened(whole, room);
      const width = SWATCH + GAP + writer.width(text);
      // Room for what says that there are more, unless this is the last one.
      const reserve = (at: number): number => (at === most - 1 && rest > 1 ? BETWEEN + writer.width(more(rest)) : 0);
      if (x > 0 && x + width + reserve(line) > box.width) {
        if (line === most - 1) {
          left = rest;
          placed.push({ entry: null, whole: '', text: more(rest), x, line });
          break;
        }
        line++;
        x = 0;
      }
      const shown = writer.shortened(whole, room - (x === 0 ? reserve(line) : 0));
      placed.push({ entry, whole, text: shown, x, line });
      x += SWATCH + GAP + writer.width(shown) + BETWEEN;
    }
  }
  const lines = Math.max(...placed.map(({ line }) => line)) + 1;
  const width = Math.max(...placed.map(({ text, entry, x }) => x + (entry ? SWATCH + GAP : 0) + writer.width(text)));
  const height = lines * lineHeight;
  const rest = { ...box };
  const start = { x: box.x, y: box.y };
  if (isBeside) {
    rest.width = Math.max(0, box.width - width - APART);
    if (side === 'left') rest.x += width + APART;
    else start.x = box.x + box.width - width;
    start.y += Math.max(0, Math.min((box.height - height) / 2, 2 * lineHeight));
  } else {
    rest.height = Math.max(0, box.height - height - APART);
    if (side === 'top') rest.y += height + APART;
    else start.y = box.y + box.height - height;
    start.x += Math.max(0, (box.width - width) / 2);
  }
  return {
    rest,
    draw: (out) => {
      for (const { entry, text, whole, x, line } of placed) {
        const middle = start.y + (line + 0.5) * lineHeight;
        if (entry) swatch(out, entry, start.x + x, middle);
        const by = entry?.switch;
        const put = { ...(text === whole || whole === '' ? {} : { tip: whole }), ...(by?.isOff ? { color: OFF } : {}) };
        out.words(writer, text, start.x + x + (entry ? SWATCH + GAP : 0), middle + writer.capHeight / 2, put);
        if (by)
          out.marks.push({
            kind: 'fold',
            x: start.x + x,
            y: middle - lineHeight / 2,
            width: SWATCH + GAP + writer.width(text),
            height: lineHeight,
            key: by.key,
            isClosed: by.isOff,
            isSwitch: true,
            label: whole,
          });
      }
    },
  };
};

const RAMP_WIDTH = 90;
const RAMP_HEIGHT = 6;

/** A legend of colours from the least to the greatest value. */
export const layRamp = (ramp: LegendRamp, side: Side, box: Box, writer: ChartWriter): LaidLegend => {
  const { lineHeight } = writer;
  const height = RAMP_HEIGHT + 2 + lineHeight;
  const isBeside = side === 'left' || side === 'right';
  const width = Math.min(RAMP_WIDTH, box.width * (isBeside ? MOST_WIDTH : 1));
  if (height > box.height * 0.5 || writer.width(ramp.from) + writer.width(ramp.to) + GAP > width)
    return { rest: box, draw: () => {} };
  const rest = { ...box };
  const start = { x: box.x + box.width - width, y: box.y };
  if (isBeside) {
    rest.width -= width + APART;
    if (side === 'left') {
      rest.x += width + APART;
      start.x = box.x;
    }
  } else {
    rest.height -= height + APART;
    if (side === 'top') rest.y += height + APART;
    else start.y = box.y + box.height - height;
  }
  return {
    rest,
    draw: (out) => {
      const step = width / ramp.colors.length;
      for (const [i, color] of ramp.colors.entries())
        out.rect({ x: start.x + i * step, y: start.y, width: step, height: RAMP_HEIGHT }, { fill: color });
      const baseline = start.y + RAMP_HEIGHT + 2 + writer.size;
      out.words(writer, ramp.from, start.x, baseline);
      out.words(writer, ramp.to, start.x + width, baseline, { align: 'end' });
    },
  };
};
