import { bin, quantile } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import { stack, stackOffsetDiverging } from 'd3-shape';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Mark, TextMark } from '../page/page.ts';
import { anyChart, boxOfMark, chartOf, overlap, saying, settings, textCorners, writer } from './charts.test-support.ts';
import { luminance, PALETTE } from './colors.ts';
import { drawChart } from './draw.ts';
import type { Box } from './drawing.ts';
import { fiveNumbers } from './kinds/box.ts';
import { binEnds, binned } from './kinds/histogram.ts';
import { anglesOf } from './kinds/round.ts';
import { stepsOf } from './kinds/waterfall.ts';
import { thinnedPoints } from './lines.ts';
import { seriesOf } from './series.ts';
import { stacked } from './stack.ts';
import { timeTicks } from './time-ticks.ts';
import { valueScale } from './value-scale.ts';

const box: Box = { x: 20, y: 30, width: 240, height: 150 };
const draw = (...of: Parameters<typeof chartOf>): Mark[] => drawChart(chartOf(...of), box, writer);
const textsOf = (marks: readonly Mark[]): TextMark[] => marks.filter((mark): mark is TextMark => mark.kind === 'text');
const words = (marks: readonly Mark[]): string[] => textsOf(marks).map(({ text }) => text);
const tips = (marks: readonly Mark[]): string[] =>
  marks.flatMap((mark) => ('tip' in mark && mark.tip !== undefined ? [mark.tip] : []));

/** Half of the thickest line, in points. */
const SLACK = 1.6;

describe('any chart of any numbers', () => {
  const boxes = fc.record({
    x: fc.constant(20),
    y: fc.constant(30),
    width: fc.integer({ min: 1, max: 420 }),
    height: fc.integer({ min: 1, max: 300 }),
  });

  it('stands inside its box, with numbers that can be drawn, and no label on another', () => {
    fc.assert(
      fc.property(anyChart, boxes, (chart, within) => {
        const marks = drawChart(chart, within, writer);
        const labels: { mark: TextMark; corners: ReturnType<typeof textCorners>; box: Box }[] = [];
        for (const mark of marks) {
          // Thrown by hand: a hundred thousand expectations take a minute.
          const wrong = (what: string): never => {
            throw new Error(`${what}: ${JSON.stringify(mark)}`);
          };
          for (const value of Object.values(mark))
            if (typeof value === 'number' && !Number.isFinite(value)) wrong('no number');
          if (mark.kind === 'path' && !/^M[-\d.e ]+([MLC][-\d.e ]+|Z)*$/.test(mark.path)) wrong('no path');
          const covered = boxOfMark(mark);
          if (covered.x < within.x - SLACK || covered.y < within.y - SLACK) wrong('outside');
          if (covered.x + covered.width > within.x + within.width + SLACK) wrong('past the right');
          if (covered.y + covered.height > within.y + within.height + SLACK) wrong('past the bottom');
          if (mark.kind === 'text') labels.push({ mark, corners: textCorners(mark), box: covered });
        }
        for (const [i, a] of labels.entries())
          for (const b of labels.slice(i + 1)) {
            const isNear =
              a.box.x < b.box.x + b.box.width &&
              b.box.x < a.box.x + a.box.width &&
              a.box.y < b.box.y + b.box.height &&
              b.box.y < a.box.y + a.box.height;
            if (isNear && overlap(a.corners, b.corners))
              throw new Error(`${JSON.stringify(a.mark)} lies on ${JSON.stringify(b.mark)}`);
          }
      }),
      { numRuns: 2_000 * Number(process.env.GAVETA_LONGER ?? 1), seed: 16 },
    );
  }, 120_000);
});

describe('scales', () => {
  it('are those of d3, with ticks inside, in order, and apart', () => {
    const end = fc.double({ min: -1e12, max: 1e12, noNaN: true }).map((one) => (Math.abs(one) < 1e-200 ? 0 : one));
    fc.assert(
      fc.property(
        end,
        end,
        fc.integer({ min: 20, max: 600 }),
        fc.integer({ min: 2, max: 10 }),
        (a, b, length, count) => {
          const extent = [Math.min(a, b), Math.max(a, b)] as const;
          if (extent[1] - extent[0] <= 1e-9 * Math.max(Math.abs(a), Math.abs(b))) return;
          const scale = valueScale(extent, length, settings().scales[0], '', count, saying);
          const d3 = scaleLinear().domain(extent).nice(count).range([0, length]);
          expect(scale.domain).toEqual(d3.domain());
          for (const value of [a, b, (a + b) / 2]) expect(scale.of(value)).toBeCloseTo(d3(value), 6);
          const places = scale.ticks.map(({ at }) => at);
          expect(places).toEqual([...places].sort((x, y) => x - y));
          expect(new Set(scale.ticks.map(({ label }) => label)).size).toBe(scale.ticks.length);
          for (const at of places) expect(at >= -0.01 && at <= length + 0.01).toBe(true);
        },
      ),
      { seed: 16 },
    );
  });

  it('go where they are told to, the wrong way round as well, and hold what lies past their ends', () => {
    const scale = (from: number | null, to: number | null) =>
      valueScale([2, 90], 100, { ...settings().scales[0], from, to }, '', 5, saying);
    expect(scale(10, 50).domain).toEqual([10, 50]);
    expect(scale(50, 10).domain).toEqual([10, 50]);
    expect(scale(10, null).domain).toEqual([10, 100]);
    expect(scale(200, null).domain[0]).toBe(200);
    expect(scale(10, 50).of(90)).toBe(200);
    expect(scale(10, 50).within(90)).toBe(100);
    expect(scale(10, 50).base).toBe(10);
    expect(scale(null, null).base).toBe(0);
  });

  it('give one value alone, and none, a scale as well', () => {
    const scale = (extent: readonly [number, number] | null) =>
      valueScale(extent, 100, settings().scales[0], '', 5, saying);
    expect(scale([5, 5]).domain[0]).toBeLessThan(5);
    expect(scale([5, 5]).domain[1]).toBeGreaterThan(5);
    expect(scale([0, 0]).domain).toEqual([-1, 1]);
    expect(scale(null).domain).toEqual([0, 1]);
    expect(Number.isFinite(scale([-1.7e308, 1.7e308]).of(1e308))).toBe(true);
  });

  it('name powers of ten on a logarithmic one, and put what is not above 0 at its start', () => {
    const log = valueScale([3, 40_000], 100, { ...settings().scales[0], log: true }, '', 6, saying);
    expect(log.ticks.map(({ label }) => label)).toEqual(['1', '10', '100', '1,000', '10,000', '100,000']);
    expect(log.of(0)).toBe(0);
    expect(log.of(-4)).toBe(0);
    expect(log.of(1_000) - log.of(100)).toBeCloseTo(log.of(100) - log.of(10), 6);
    const tiny = valueScale([-3, 0], 100, { ...settings().scales[0], log: true }, '', 6, saying);
    expect(tiny.domain[0]).toBeGreaterThan(0);
  });

  it('write ticks with the decimals that their steps need', () => {
    const labels = (to: number, format = '') =>
      valueScale([0, to], 100, settings().scales[0], format, 4, saying).ticks.map(({ label }) => label);
    expect(labels(8_000)).toEqual(['0', '2,000', '4,000', '6,000', '8,000']);
    expect(labels(1)).toEqual(['0.0', '0.2', '0.4', '0.6', '0.8', '1.0']);
    expect(labels(0.5, '0.00%')).toEqual(['0%', '10%', '20%', '30%', '40%', '50%']);
    expect(labels(100, '0"%"')).toEqual(['0', '20', '40', '60', '80', '100']);
    expect(labels(5e15)[1]).toBe('1.0E+15');
  });

  it('tick time at hours and dates of the clock, the nights when it changes included', () => {
    const ticks = (from: string, to: string, count: number) =>
      timeTicks([Date.parse(from), Date.parse(to)], count, '', false, saying).map(({ label, below }) =>
        `${label} ${below}`.trim(),
      );
    expect(ticks('2026-06-30T00:00:00Z', '2026-07-01T00:00:00Z', 5)).toEqual([
      '06:00 30 Jun',
      '12:00',
      '18:00',
      '00:00 1 Jul',
    ]);
    // Clocks in Lisbon go from 01:00 to 02:00, and back from 02:00 to 01:00.
    expect(ticks('2026-03-29T00:00:00Z', '2026-03-29T04:00:00Z', 4)).toEqual([
      '00:00 29 Mar',
      '02:00',
      '03:00',
      '04:00',
      '05:00',
    ]);
    const back = timeTicks(
      [Date.parse('2026-10-24T23:00:00Z'), Date.parse('2026-10-25T04:00:00Z')],
      5,
      '',
      false,
      saying,
    );
    expect(back.map(({ ms }) => ms)).toEqual([...new Set(back.map(({ ms }) => ms))].sort((a, b) => a - b));
    expect(ticks('2025-11-10T00:00:00Z', '2026-05-03T00:00:00Z', 5)).toEqual([
      'Dec 2025',
      'Jan 2026',
      'Feb',
      'Mar',
      'Apr',
      'May',
    ]);
  });
});

describe('stacks', () => {
  const values = fc.array(fc.array(fc.option(fc.integer({ min: -900, max: 900 })), { minLength: 3, maxLength: 3 }), {
    minLength: 1,
    maxLength: 6,
  });

  it('add up: upwards to what is above 0, downwards to what is below, as d3 has it', () => {
    fc.assert(
      fc.property(values, (split) => {
        const chart = chartOf(split);
        const series = seriesOf(chart);
        const found = stacked(chart.panels[0]!, series, 3, false);
        const d3 = stack<number, number, number>()
          .keys(split.map((_, i) => i))
          .offset(stackOffsetDiverging)
          .value((place, i) => split[i]![place] ?? 0)([0, 1, 2]);
        expect(found.map((one) => one.map((ends) => [...ends]))).toEqual(d3.map((one) => one.map(([a, b]) => [a, b])));
        for (const place of [0, 1, 2]) {
          const all = split.map((one) => one[place] ?? 0);
          const up = all.filter((value) => value > 0).reduce((sum, value) => sum + value, 0);
          const down = all.filter((value) => value < 0).reduce((sum, value) => sum + value, 0);
          expect(Math.max(0, ...found.map((one) => one[place]![1]))).toBe(up);
          expect(Math.min(0, ...found.map((one) => one[place]![0]))).toBe(down);
        }
      }),
      { seed: 16 },
    );
  });

  it('to 100% are 1 long at each place that has anything', () => {
    fc.assert(
      fc.property(values, (split) => {
        const chart = chartOf(split);
        const found = stacked(chart.panels[0]!, seriesOf(chart), 3, true);
        for (const place of [0, 1, 2]) {
          const long = found.reduce((sum, one) => sum + (one[place]![1] - one[place]![0]), 0);
          expect(long).toBeCloseTo(split.some((one) => one[place]) ? 1 : 0, 9);
        }
      }),
      { seed: 16 },
    );
  });
});

describe('slices', () => {
  it('go once around, each as wide as its share', () => {
    const value = fc.oneof(fc.double({ min: 1e-6, max: 1e6, noNaN: true }), fc.constantFrom(1.7e308, 1e-300));
    fc.assert(
      fc.property(fc.array(value, { minLength: 1, maxLength: 12 }), (list) => {
        const slices = list.map((one, i) => ({ name: `${i}`, color: '#000000', sign: i, value: one, text: '' }));
        const angles = anglesOf(slices);
        expect(angles.reduce((sum, { start, end }) => sum + end - start, 0)).toBeCloseTo(2 * Math.PI, 6);
        expect(angles[0]!.start).toBe(0);
        const most = Math.max(...list);
        const whole = list.reduce((sum, one) => sum + one / most, 0);
        for (const [i, { start, end }] of angles.entries())
          expect(end - start).toBeCloseTo((list[i]! / most / whole) * 2 * Math.PI, 6);
      }),
      { seed: 16 },
    );
  });

  it('leave out what is not above 0', () => {
    const marks = draw([[4, 0, -3, null, 6]], { type: 'pie' });
    expect(tips(marks).filter((tip) => tip.startsWith('place'))).toEqual(['place 1: 4 (40%)', 'place 5: 6 (60%)']);
  });
});

describe('spreads', () => {
  const numbers = fc.array(fc.integer({ min: -50, max: 200 }), { minLength: 1, maxLength: 60 });
  const counted = (list: readonly number[]): [number, number][] => {
    const counts = new Map<number, number>();
    for (const one of list) counts.set(one, (counts.get(one) ?? 0) + 1);
    return [...counts].sort(([a], [b]) => a - b);
  };

  it('have the quartiles of d3, counted values included, and reach no further than one and a half boxes', () => {
    fc.assert(
      fc.property(numbers, (list) => {
        const five = fiveNumbers(counted(list))!;
        expect(five.count).toBe(list.length);
        expect(five.lower).toBeCloseTo(quantile(list, 0.25)!, 9);
        expect(five.median).toBeCloseTo(quantile(list, 0.5)!, 9);
        expect(five.upper).toBeCloseTo(quantile(list, 0.75)!, 9);
        const reach = 1.5 * (five.upper - five.lower);
        expect(five.low).toBeGreaterThanOrEqual(five.lower - reach - 1e-9);
        expect(five.high).toBeLessThanOrEqual(five.upper + reach + 1e-9);
        const inside = list.filter((one) => one >= five.low && one <= five.high).length;
        expect(inside + five.outliers.reduce((sum, one) => sum + list.filter((other) => other === one).length, 0)).toBe(
          list.length,
        );
      }),
      { seed: 16 },
    );
    expect(fiveNumbers([])).toBeNull();
  });

  it('fall into the bins of d3, each value into one', () => {
    fc.assert(
      fc.property(numbers, fc.option(fc.integer({ min: 1, max: 20 })), (list, bins) => {
        const [low, high] = [Math.min(...list), Math.max(...list)];
        const ends = binEnds([low, high], list.length, bins);
        expect(ends[0]).toBeLessThanOrEqual(low);
        expect(ends.at(-1)).toBeGreaterThanOrEqual(high);
        const chart = chartOf([[0]], { type: 'histogram', bins });
        const panels = [{ title: '', cells: [[{ values: [], texts: [], spread: counted(list) }]] }];
        const counts = binned({ ...chart, panels }).chart.panels[0]!.cells[0]!.map((cell) => cell!.values[0]);
        const d3 = bin()
          .domain([ends[0]!, ends.at(-1)!])
          .thresholds(ends.slice(1, -1))(list);
        expect(counts).toEqual(d3.map((one) => one.length));
      }),
      { seed: 16 },
    );
  });
});

describe('what a chart says', () => {
  it('each bar with its value, and lines, zones and axes with their words', () => {
    const marks = draw([[3, null, -2]], {
      lines: [{ at: 2, caption: 'limit', color: '#b3402e', dash: 'dashed', isSecond: false }],
      zones: [{ from: 2.5, to: null, caption: 'high', color: '#2d7a5f', isSecond: false }],
    });
    expect(tips(marks)).toEqual(['high', 'place 1: 3', 'place 3: -2', 'limit']);
    expect(words(marks)).toEqual(expect.arrayContaining(['limit', 'place 1', 'place 3']));
    const bars = marks.filter((mark) => mark.kind === 'rectangle' && mark.tip?.startsWith('place'));
    const [up, down] = bars.map((mark) => boxOfMark(mark));
    // One stands on the axis, the other hangs from it.
    expect(up!.y + up!.height).toBeCloseTo(down!.y, 3);
    expect(up!.height / down!.height).toBeCloseTo(3 / 2, 3);
  });

  it('shortens what has no room, with the whole where a pointer rests', () => {
    const marks = draw(
      [[1, 2]],
      { type: 'bar' },
      {
        places: [
          { at: null, label: 'W'.repeat(90) },
          { at: null, label: 'short' },
        ],
      },
    );
    expect(words(marks).some((text) => text.endsWith('…'))).toBe(true);
    expect(tips(marks)).toContain('W'.repeat(90));
  });

  it('turns names, and leaves some dates out, where they would touch', () => {
    const many = Array.from({ length: 24 }, (_, i) => i + 1);
    const names = textsOf(draw([many], {}, { places: many.map((i) => ({ at: null, label: `a hut named ${i}` })) }));
    expect(names.filter(({ turn }) => turn !== undefined).length).toBeGreaterThan(10);
    const dated = draw([many], {}, { places: many.map((i) => ({ at: i, label: `${i} Mar 2025` })) });
    const shown = words(dated).filter((text) => text.endsWith('2025'));
    expect(shown.length).toBeGreaterThan(2);
    expect(shown.length).toBeLessThan(24);
    expect(textsOf(dated).every(({ turn }) => turn === undefined)).toBe(true);
  });

  it('names its series in a legend at any side, in their order, and counts those without room', () => {
    for (const legend of ['right', 'left', 'top', 'bottom'] as const) {
      const marks = draw([[1], [2], [3]], { legend });
      expect(words(marks).filter((text) => text.startsWith('series'))).toEqual(['series 1', 'series 2', 'series 3']);
    }
    expect(words(draw([[1], [2]], { legend: 'none' })).some((text) => text.startsWith('series'))).toBe(false);
    expect(words(draw([[1]])).some((text) => text.startsWith('series'))).toBe(false);
    const many = draw(Array.from({ length: 60 }, (_, i) => [i]));
    expect(words(many).some((text) => /^\+\d+$/.test(text))).toBe(true);
  });

  it('says so when there is nothing', () => {
    expect(words(draw([[null, null]], { type: 'line' }))).toEqual(['Nothing to show.']);
    expect(words(draw([[]]))).toEqual(['Nothing to show.']);
  });

  it('breaks a line where there is no value, or does as it is told', () => {
    const paths = (missing: 'gap' | 'zero' | 'across') =>
      draw([[1, 2, null, 4, 5]], { type: 'line', missing, along: { ...settings().along, kind: 'numbers' } }).filter(
        (mark) => mark.kind === 'path' && mark.stroke !== undefined && mark.fill === undefined,
      ).length;
    expect(paths('gap')).toBe(2);
    expect(paths('zero')).toBe(1);
    expect(paths('across')).toBe(1);
  });

  it('steps from sum to sum in a waterfall', () => {
    const chart = chartOf([[5, -2, null, 4]], { type: 'waterfall', totalCaption: 'Sum' });
    expect(stepsOf(chart, chart.panels[0]!)).toEqual([
      { place: 0, from: 0, to: 5 },
      { place: 1, from: 5, to: 3 },
      { place: 3, from: 3, to: 7 },
    ]);
    expect(tips(drawChart(chart, box, writer))).toContain('Sum: 7');
  });
});

describe('many points', () => {
  it('are thinned to what can be seen: the ends and the extremes of each point of the length stay', () => {
    const points = Array.from({ length: 100_000 }, (_, i) => ({
      along: (i / 100_000) * 300,
      high: Math.sin(i / 700) * 50 + (i % 97 === 0 ? 90 : 0),
    }));
    const kept = thinnedPoints(points, 300);
    expect(kept.length).toBeLessThanOrEqual(1_200);
    expect(kept[0]).toBe(points[0]);
    expect(kept.at(-1)).toBe(points.at(-1));
    for (let column = 0; column < 300; column++) {
      const inside = (list: readonly { along: number; high: number }[]) =>
        list.filter(({ along }) => Math.floor(along) === column).map(({ high }) => high);
      const [all, some] = [inside(points), inside(kept)];
      expect(Math.max(...some)).toBe(Math.max(...all));
      expect(Math.min(...some)).toBe(Math.min(...all));
    }
  });
});

describe('colours', () => {
  /** How a colour looks to somebody without the cones for long, middle or short waves (Viénot and others 1999; Brettel and others 1997, simplified). */
  const seenBy = {
    protan: [0.152286, 1.052583, -0.204868, 0.114503, 0.786281, 0.099216, -0.003882, -0.048116, 1.051998],
    deutan: [0.367322, 0.860646, -0.227968, 0.280085, 0.672501, 0.047413, -0.01182, 0.04294, 0.968881],
    tritan: [1.255528, -0.076749, -0.178779, -0.078411, 0.930809, 0.147602, 0.004733, 0.691367, 0.3039],
    everybody: [1, 0, 0, 0, 1, 0, 0, 0, 1],
  };
  const linear = (color: string): number[] =>
    [1, 3, 5].map((at) => {
      const share = Number.parseInt(color.slice(at, at + 2), 16) / 255;
      return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
    });
  const lab = ([r, g, b]: number[]): number[] => {
    const f = (t: number): number => (t > 0.008856 ? Math.cbrt(t) : 7.787 * t + 16 / 116);
    const x = f((0.4124 * r! + 0.3576 * g! + 0.1805 * b!) / 0.95047);
    const y = f(0.2126 * r! + 0.7152 * g! + 0.0722 * b!);
    const z = f((0.0193 * r! + 0.1192 * g! + 0.9505 * b!) / 1.08883);
    return [116 * y - 16, 500 * (x - y), 200 * (y - z)];
  };

  it('of the usual palette can be told apart, by those who see few of them too', () => {
    for (const m of Object.values(seenBy)) {
      const seen = PALETTE.map((color) => {
        const rgb = linear(color);
        return lab(
          [0, 3, 6].map((row) => Math.max(0, m[row]! * rgb[0]! + m[row + 1]! * rgb[1]! + m[row + 2]! * rgb[2]!)),
        );
      });
      for (const [i, a] of seen.entries())
        for (const b of seen.slice(i + 1)) expect(Math.hypot(...a.map((one, k) => one - b[k]!))).toBeGreaterThan(20);
    }
    // Neighbours differ in grey as well.
    for (let i = 1; i < PALETTE.length; i++)
      expect(Math.abs(luminance(PALETTE[i]!) - luminance(PALETTE[i - 1]!))).toBeGreaterThan(0.05);
  });
});
