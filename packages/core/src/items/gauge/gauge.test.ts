import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { boxOfMark, overlap, saying, textCorners, writer } from '../../chart/charts.test-support.ts';
import { drawGauge } from '../../chart/draw-gauge.ts';
import { GAUGE_TYPES, type Gauge, zoneOf } from '../../chart/gauge.ts';
import { band, definition, lay, plan } from '../../layout/huts.test-support.ts';
import type { FigureMark, TextMark } from '../../page/page.ts';

const gauge = (more: Partial<Gauge> = {}): Gauge => ({
  type: 'dial',
  value: 42,
  text: '42',
  unit: 'km/h',
  title: 'Wind',
  from: 0,
  to: 100,
  target: null,
  zones: [],
  change: null,
  major: null,
  minor: 1,
  color: '#1f5c4d',
  tickFormat: '',
  format: '0',
  saying,
  ...more,
});

const number = fc.oneof(fc.integer({ min: -500, max: 900 }), fc.constantFrom(0, 1e15, -1.7e308, 5e-324));
const anyGauge = fc
  .record({
    type: fc.constantFrom(...GAUGE_TYPES),
    value: fc.option(number),
    unit: fc.constantFrom('', 'km/h'),
    title: fc.constantFrom('', 'Wind', 'A title that is longer than there is room for it'),
    from: fc.option(number),
    to: fc.option(number),
    target: fc.option(number),
    zone: fc.option(fc.tuple(fc.option(number), fc.option(number))),
    minor: fc.integer({ min: 1, max: 10 }),
    major: fc.option(fc.integer({ min: 1, max: 50 })),
    change: fc.boolean(),
  })
  .map(({ zone, target, change, ...of }) =>
    gauge({
      ...of,
      text: of.value === null ? '' : saying.number(of.value, '#,##0'),
      target: target === null ? null : { value: target, text: String(target) },
      zones: zone === null ? [] : [{ from: zone[0], to: zone[1], color: '#b3402e', caption: 'zone' }],
      change: change ? { direction: 1, isGood: true, text: '+4%', caption: 'on last season' } : null,
    }),
  );

describe('any gauge', () => {
  it('can be drawn, inside its box, with no word on another', () => {
    fc.assert(
      fc.property(
        anyGauge,
        fc.integer({ min: 1, max: 200 }),
        fc.integer({ min: 1, max: 160 }),
        (one, width, height) => {
          const box = { x: 10, y: 20, width, height };
          const marks = drawGauge(one, box, writer);
          const texts: TextMark[] = [];
          for (const mark of marks) {
            for (const value of Object.values(mark))
              if (typeof value === 'number' && !Number.isFinite(value)) throw new Error(JSON.stringify(mark));
            // In boxes that are large enough to be looked at.
            if (width < 60 || height < 40) continue;
            const covered = boxOfMark(mark);
            const isInside =
              covered.x >= 10 - 3 &&
              covered.y >= 20 - 3 &&
              covered.x + covered.width <= 10 + width + 3 &&
              covered.y + covered.height <= 20 + height + 3;
            if (!isInside) throw new Error(`${one.type} ${width} ${height}: ${JSON.stringify(mark)}`);
            if (mark.kind === 'text') texts.push(mark);
          }
          for (const [i, a] of texts.entries())
            for (const b of texts.slice(i + 1))
              if (overlap(textCorners(a), textCorners(b)))
                throw new Error(`${one.type} ${width} ${height}: ${a.text} on ${b.text}`);
        },
      ),
      { numRuns: 600 * Number(process.env.GAVETA_LONGER ?? 1), seed: 16 },
    );
  });
});

describe('zones', () => {
  it('have their lower end, and the upper one where no other zone begins', () => {
    const zones = [
      { from: null, to: 10, color: '#111111', caption: 'low' },
      { from: 10, to: 20, color: '#222222', caption: 'high' },
    ];
    const at = (value: number | null) => zoneOf({ zones }, value)?.caption ?? null;
    expect([-5, 9.9, 10, 20, 20.1, null].map(at)).toEqual(['low', 'low', 'high', 'high', null, null]);
  });
});

const item = (more: object) => ({ kind: 'gauge', id: 'g', x: 0, y: 0, width: 60, height: 40, ...more });
const figures = async (report: ReturnType<typeof definition>, rows: object) => {
  const { pages, result } = await lay(report, rows as never);
  return {
    said: pages
      .flatMap(({ marks }) => marks.filter((mark): mark is FigureMark => mark.kind === 'figure'))
      .map(({ alternative }) => alternative),
    problems: result.problems.map(({ code }) => code),
  };
};
const STAYS = [
  { id: 1, nights: 2, arrival: '2024-01-01' },
  { id: 2, nights: 6, arrival: '2025-01-01' },
];

describe('a gauge in a report', () => {
  it('totals rows of its own, and says its zone, target and change', async () => {
    const report = definition({
      header: band(
        50,
        item({
          type: 'figure',
          rows: { entity: 'stay' },
          value: 'SUM(IF(YEAR(arrival) = 2025; nights; 0))',
          compare: 'SUM(IF(YEAR(arrival) = 2024; nights; 0))',
          compareCaption: 'on last year',
          target: 'COUNT(id) * 4',
          title: 'Nights',
          zones: [{ from: '5', color: '#2d7a5f', caption: 'good' }],
        }),
      ),
      body: [],
    });
    expect(await figures(report, { stay: STAYS })).toEqual({
      said: ['Nights: 6, good, / 8, +200.0% on last year'],
      problems: [],
    });
  });

  it('shows the value of the row that it stands at', async () => {
    const report = definition({
      body: [
        {
          id: 'stays',
          name: 'stay',
          rows: { entity: 'stay' },
          detail: band(10, item({ type: 'bar', value: 'nights', to: '10' })),
        },
      ],
    });
    expect((await figures(report, { stay: STAYS })).said).toEqual(['2', '6']);
  });

  it('says what is missing or wrong', async () => {
    const codes = (more: object) =>
      plan(definition({ header: band(50, item(more)), body: [] })).problems.map(({ code }) => code);
    expect(codes({})).toEqual(['gauge-without-value']);
    expect(codes({ value: '"a text"' })).toEqual(['wrong-type']);
    const zones = [
      { to: '5', color: '#111111' },
      { from: '4', color: '#222222' },
    ];
    expect(
      (await figures(definition({ header: band(50, item({ value: '1', zones })), body: [] }), {})).problems,
    ).toEqual(['zones-overlap']);
  });
});

describe('a state mark', () => {
  it('shows the first state whose condition holds, and nothing where none does', async () => {
    const cases = [
      { when: 'nights > 5', shape: 'up', color: '#2d7a5f', words: 'long' },
      { when: 'nights > 1', shape: 'level', color: '#d9a441', words: 'short' },
    ];
    const state = { kind: 'state', id: 's', x: 0, y: 0, width: 30, height: 5, cases };
    const report = definition({
      body: [{ id: 'stays', name: 'stay', rows: { entity: 'stay' }, detail: band(8, state) }],
    });
    const rows = [...STAYS, { id: 3, nights: 1, arrival: '2025-01-01' }];
    expect((await figures(report, { stay: rows })).said).toEqual(['short', 'long']);
  });
});
