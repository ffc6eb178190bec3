import fc from 'fast-check';
import { testBook } from '../layout/shipped.test-support.ts';
import { type Mark, pathSteps, type TextMark } from '../page/page.ts';
import { formatValue } from '../text/format.ts';
import { Moment } from '../value/date.ts';
import {
  CHART_TYPES,
  type Chart,
  type ChartCell,
  type ChartSettings,
  type Saying,
  type ScaleSettings,
} from './chart.ts';
import { PALETTE } from './colors.ts';
import type { Box } from './drawing.ts';
import { ChartWriter } from './writer.ts';

const REPORT = { language: 'en', timeZone: 'Europe/Lisbon' };

export const saying: Saying = {
  number: (value, format) => formatValue(value, format, REPORT),
  time: (ms, format) => formatValue(Moment.at(Math.round(ms)), format, REPORT),
  wallClock: (ms) => new Moment(Math.round(ms)).wallClock(REPORT.timeZone),
};

export const writer = new ChartWriter(testBook, '', 8, '#1f2a2e');

const scale: ScaleSettings = { title: '', format: '', log: false, from: null, to: null, grid: true, hidden: false };

export const settings = (more: Partial<ChartSettings> = {}): ChartSettings => ({
  type: 'column',
  title: '',
  stack: 'beside',
  curve: 'straight',
  missing: 'gap',
  symbols: null,
  patterns: false,
  labels: 'none',
  legend: 'right',
  palette: PALETTE,
  along: { ...scale, kind: 'categories', grid: false },
  scales: [scale, scale],
  lines: [],
  zones: [],
  panelColumns: null,
  bins: null,
  ramp: ['#eef3ef', '#1f5c4d'],
  totalCaption: '',
  empty: 'Nothing to show.',
  ...more,
});

/** A chart of plain numbers: by split, then by place. */
export const chartOf = (
  values: readonly (readonly (number | null)[])[],
  more: Partial<ChartSettings> = {},
  rest: Partial<Chart> = {},
): Chart => ({
  settings: settings(more),
  saying,
  places: (values[0] ?? []).map((_, i) => ({ at: i, label: `place ${i + 1}` })),
  splits: values.map((_, i) => ({ label: values.length > 1 ? `series ${i + 1}` : '', color: null })),
  measures: [{ caption: 'Nights', drawnAs: null, isSecond: false, color: null, format: '#,##0' }],
  panels: [
    {
      title: '',
      cells: values.map((split) =>
        split.map((value): ChartCell | null =>
          value === null ? null : { values: [value], texts: [saying.number(value, '#,##0.##')], spread: [[value, 1]] },
        ),
      ),
    },
  ],
  ...rest,
});

/** Numbers as reports have them: blanks, nothing, below 0, and as huge and tiny as they come. */
const number = fc.oneof(
  { weight: 6, arbitrary: fc.integer({ min: -2_000, max: 5_000 }) },
  { weight: 3, arbitrary: fc.double({ min: -1, max: 1, noNaN: true }) },
  { weight: 1, arbitrary: fc.constantFrom(0, 1e15, -1e15, 1e-12, 1.7e308, -1.7e308, 5e-324) },
);
const label = fc.oneof(
  { weight: 5, arbitrary: fc.string({ maxLength: 14 }) },
  {
    weight: 2,
    arbitrary: fc.constantFrom(
      'Refúgio da Última Neve e das Andorinhas',
      'يوسف الحداد',
      '日本',
      'a\nb',
      'W'.repeat(80),
    ),
  },
);

/** Any chart that reading rows could give, and some that it could not. */
export const anyChart: fc.Arbitrary<Chart> = fc
  .record({
    type: fc.constantFrom(...CHART_TYPES),
    places: fc.array(
      fc.record({
        label,
        at: fc.option(fc.oneof(fc.integer({ min: 0, max: 400 }), fc.double({ min: -1e6, max: 1e9, noNaN: true }))),
      }),
      { maxLength: 26 },
    ),
    splits: fc.array(label, { minLength: 1, maxLength: 5 }),
    panels: fc.array(label, { minLength: 1, maxLength: 4 }),
    measures: fc.integer({ min: 1, max: 3 }),
    numbers: fc.array(fc.option(number, { freq: 8 }), { minLength: 1, maxLength: 60 }),
    kind: fc.constantFrom('categories' as const, 'numbers' as const, 'time' as const),
    stack: fc.constantFrom('beside' as const, 'stacked' as const, 'full' as const),
    curve: fc.constantFrom('straight' as const, 'steps' as const, 'smooth' as const),
    missing: fc.constantFrom('gap' as const, 'zero' as const, 'across' as const),
    labels: fc.constantFrom('none' as const, 'value' as const, 'share' as const, 'name' as const),
    legend: fc.constantFrom('right' as const, 'left' as const, 'top' as const, 'bottom' as const, 'none' as const),
    patterns: fc.boolean(),
    log: fc.boolean(),
    second: fc.boolean(),
    from: fc.option(number, { freq: 2 }),
    to: fc.option(number, { freq: 2 }),
    line: fc.option(number),
    zone: fc.option(fc.tuple(fc.option(number), fc.option(number))),
    title: fc.option(label),
  })
  .map((of): Chart => {
    let next = 0;
    const values = (): (number | null)[] =>
      Array.from({ length: of.measures }, () => of.numbers[next++ % of.numbers.length] ?? null);
    const isSecond = (i: number): boolean => of.second && i === 1;
    const cell = (): ChartCell | null => {
      const all = values();
      const known = all.filter((value) => value !== null).sort((a, b) => a - b);
      if (known.length === 0) return null;
      return {
        values: all,
        texts: all.map((value) => (value === null ? '' : saying.number(value, '#,##0.##'))),
        spread: known.map((value, i) => [value, i + 1]),
      };
    };
    const set: ScaleSettings = { ...scale, title: of.title ?? '', log: of.log, from: of.from, to: of.to };
    return {
      saying,
      places: of.places,
      splits: of.splits.map((one) => ({ label: one, color: null })),
      measures: Array.from({ length: of.measures }, (_, i) => ({
        caption: `measure ${i + 1}`,
        drawnAs: i === 1 ? ('line' as const) : null,
        isSecond: isSecond(i),
        color: null,
        format: i === 0 ? '#,##0' : '0.0%',
      })),
      panels: of.panels.map((title) => ({
        title: of.panels.length > 1 ? title : '',
        cells: of.splits.map(() => of.places.map(cell)),
      })),
      settings: settings({
        type: of.type,
        title: of.title ?? '',
        stack: of.stack,
        curve: of.curve,
        missing: of.missing,
        labels: of.labels,
        legend: of.legend,
        patterns: of.patterns,
        along: {
          ...scale,
          kind: of.kind,
          title: of.title ?? '',
          log: of.log && of.kind === 'numbers',
          grid: of.patterns,
        },
        scales: [set, { ...scale, log: of.log }],
        lines:
          of.line === null
            ? []
            : [{ at: of.line, caption: 'limit', color: '#b3402e', dash: 'dashed', isSecond: false }],
        zones:
          of.zone === null
            ? []
            : [{ from: of.zone[0], to: of.zone[1], caption: 'zone', color: '#2d7a5f', isSecond: false }],
        totalCaption: of.second ? 'Total' : '',
      }),
    };
  });

type Corner = readonly [number, number];

/** The corners of what a text covers: from the tops of its capital letters to the line that it stands on. */
export const textCorners = ({ x, y, width, size, turn = 0 }: TextMark): Corner[] => {
  const angle = (turn * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const at = (dx: number, dy: number): Corner => [x + dx * cos - dy * sin, y + dx * sin + dy * cos];
  return [at(0, -size * 0.66), at(width, -size * 0.66), at(width, 0), at(0, 0)];
};

/** Whether two turned rectangles share more than a touch. */
export const overlap = (a: readonly Corner[], b: readonly Corner[], slack = 0.3): boolean => {
  for (const [p, q] of [
    [a[0]!, a[1]!],
    [a[1]!, a[2]!],
    [b[0]!, b[1]!],
    [b[1]!, b[2]!],
  ] as const) {
    const length = Math.hypot(q[0] - p[0], q[1] - p[1]);
    if (length < 1e-9) continue;
    const [nx, ny] = [(q[0] - p[0]) / length, (q[1] - p[1]) / length];
    const span = (corners: readonly Corner[]): [number, number] => {
      const along = corners.map(([x, y]) => x * nx + y * ny);
      return [Math.min(...along), Math.max(...along)];
    };
    const [[a1, a2], [b1, b2]] = [span(a), span(b)];
    if (Math.min(a2, b2) - Math.max(a1, b1) <= slack) return false;
  }
  return true;
};

/** Where a path goes, its curves at some points of each; without what only their handles reach. */
const pathPoints = (path: string): Corner[] => {
  const points: Corner[] = [];
  for (const { step, places } of pathSteps(path)) {
    if (step !== 'C') {
      if (places.length > 0) points.push([places[0]!, places[1]!]);
      continue;
    }
    const [x0, y0] = points.at(-1)!;
    const [x1, y1, x2, y2, x3, y3] = places as [number, number, number, number, number, number];
    for (const t of [0.125, 0.25, 0.375, 0.5, 0.625, 0.75, 0.875, 1]) {
      const at = (a: number, b: number, c: number, d: number): number =>
        (1 - t) ** 3 * a + 3 * (1 - t) ** 2 * t * b + 3 * (1 - t) * t ** 2 * c + t ** 3 * d;
      points.push([at(x0, x1, x2, x3), at(y0, y1, y2, y3)]);
    }
  }
  return points;
};

const around = (corners: readonly Corner[]): Box => {
  const [xs, ys] = [corners.map(([x]) => x), corners.map(([, y]) => y)];
  const [x, y] = [Math.min(...xs), Math.min(...ys)];
  return { x, y, width: Math.max(...xs) - x, height: Math.max(...ys) - y };
};

/** The box that a mark covers. */
export const boxOfMark = (mark: Mark): Box => {
  if (mark.kind === 'line') {
    const [x, y] = [Math.min(mark.x, mark.x2), Math.min(mark.y, mark.y2)];
    return { x, y, width: Math.abs(mark.x2 - mark.x), height: Math.abs(mark.y2 - mark.y) };
  }
  if (mark.kind === 'text') {
    return around(textCorners(mark));
  }
  if (mark.kind === 'path') return around(pathPoints(mark.path).map(([x, y]) => [x + mark.x, y + mark.y]));
  return 'width' in mark
    ? { x: mark.x, y: mark.y, width: mark.width, height: mark.height }
    : { x: 0, y: 0, width: 0, height: 0 };
};
