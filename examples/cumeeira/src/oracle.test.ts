import type { PGlite } from '@electric-sql/pglite';
import { problemText } from '@gaveta/core';
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { definition, fewHuts, LONGER, lines, runOver } from './run.test-support.ts';

let database: PGlite;
beforeAll(async () => {
  database = await fewHuts();
});

/** The chain of drawers, and what each offers. */
const CHAIN = [
  {
    name: 'region',
    relation: '',
    numbers: ['hectares'],
    others: ['name', 'office'],
    filters: ['hectares > 0', 'LEFT(name; 1) <> "V"', 'SUM(party_size) > 100', 'COUNT(hut) / 2 > 2'],
    groups: [
      { by: 'name', per: 'letter' },
      { by: 'hectares', per: 'range', width: 5000 },
    ],
  },
  {
    name: 'hut',
    relation: 'huts',
    numbers: ['beds', 'altitude', 'beds * 2.5'],
    others: ['hut.name', 'opened_on', 'hut.region.name'],
    filters: ['beds > 40', 'COUNT(stay) > 9', 'MAX(stay.arrival) > DATE(2025;8;1)', 'LEN(hut.name) > 8'],
    groups: [
      { by: 'hut.name', per: 'letter' },
      { by: 'beds', per: 'range', width: 20 },
      { by: 'opened_on', per: 'year' },
    ],
  },
  {
    name: 'stay',
    relation: 'stays',
    numbers: ['party_size', 'stay.id'],
    others: ['arrival', 'status', 'member.country'],
    filters: ['party_size > 4', 'COUNT(charge) > 3', 'SUM(amount) > 300', 'SEARCH("a"; member.name) > 2'],
    groups: [
      { by: 'status' },
      { by: 'arrival', per: 'month' },
      { by: 'booked_at', per: 'day' },
      { by: 'party_size' },
      { by: 'status & party_size' },
    ],
  },
  {
    name: 'charge',
    relation: 'charges',
    numbers: ['amount', 'quantity', 'unit_price * quantity'],
    others: ['kind', 'charge.note'],
    filters: ['amount > 50', 'ISBLANK(unit_price)', 'kind <> "linen"', 'quantity / 3 > 1'],
    groups: [{ by: 'kind' }, { by: 'amount', per: 'range', width: 100 }, { by: 'quantity' }],
  },
] as const;

const NUMBER_TOTALS = ['SUM', 'COUNT', 'AVERAGE', 'MEDIAN', 'STDEV', 'VARP', 'MIN', 'MAX'];
const OTHER_TOTALS = ['COUNTA', 'COUNTDISTINCT', 'FIRST', 'LAST', 'MIN', 'MAX'];

/** Random definitions that are tried. */
const RUNS = 25 * LONGER;

/** Draws from a seeded stream of numbers, so that a definition is a plain function of its seed. */
class Draw {
  constructor(private seed: number) {}
  next(below: number): number {
    this.seed = (Math.imul(this.seed ^ (this.seed >>> 15), 0x2c1b3c6d) + 0x9e3779b9) >>> 0;
    return Math.floor((this.seed / 2 ** 32) * below);
  }
  chance(share: number): boolean {
    return this.next(1000) < share * 1000;
  }
  from<T>(list: readonly T[]): T {
    return list[this.next(list.length)]!;
  }
}

const anyField = (draw: Draw, level: number): { formula: string; isNumber: boolean } => {
  const isNumber = draw.chance(0.6);
  return { formula: draw.from<string>(isNumber ? CHAIN[level]!.numbers : CHAIN[level]!.others), isNumber };
};

const total = (draw: Draw, level: number, scope = ''): string => {
  const { formula, isNumber } = anyField(draw, level);
  const name = draw.from(isNumber ? [...NUMBER_TOTALS, ...OTHER_TOTALS] : OTHER_TOTALS);
  // Names of a field and of a drawer’s row may be the same word elsewhere, so the total says whose it is where it can.
  return `${name}(${formula}${scope && `; ${scope}`})`;
};

/** A drawer of a random definition, with those inside it. */
const drawerOf = (draw: Draw, level: number, first: number, last: number): Record<string, unknown> => {
  const { name, relation, filters, groups: groupings, numbers } = CHAIN[level]!;
  const below = (): number => level + draw.next(last - level + 1);
  const inner = (): number => level + 1 + draw.next(last - level);
  const around = ['report', ...CHAIN.slice(first, level).map((l) => l.name)];
  const groups = Array.from({ length: draw.chance(0.5) ? 1 + draw.next(2) : 0 }, (_, g) => ({
    ...draw.from<object>(groupings),
    name: `${name}Group${g}`,
    ...(draw.chance(0.3) ? { descending: true } : {}),
    ...(draw.chance(0.3) ? { order: `SUM(${draw.from<string>(numbers)})` } : {}),
    header: lines(`${name}gh${g}`, `${name}Group${g}`, total(draw, below())),
    footer: lines(`${name}gf${g}`, total(draw, below()), total(draw, below(), draw.from(around))),
  }));
  const detail = [
    `${name}.${level < 3 ? (level === 2 ? 'id' : 'name') : 'kind'}`,
    draw.from<string>(numbers),
    'ROWNUMBER()',
    `RUNNING(${draw.from<string>(numbers)})`,
    `RANK(${draw.from<string>(numbers)})`,
    `PREVIOUS(${draw.from<string>(numbers)})`,
    total(draw, below(), draw.from(around)),
    ...(level < last ? [total(draw, inner()), `RANK(SUM(${draw.from<string>(CHAIN[level + 1]!.numbers)}))`] : []),
    ...(groups.length > 0 ? [`RANK(${numbers[0]}; ${name}Group0)`, `RUNNING(${numbers[0]}; ${name}Group0)`] : []),
  ];
  const filter = draw.from<string>(filters.slice(0, level < last || level === 3 ? 4 : 1));
  const cut = draw.chance(0.3) ? { first: 1 + draw.next(4) } : {};
  const byTotal = level < last && draw.chance(0.4);
  return {
    id: `${name}s`,
    name,
    rows: level === first ? { entity: name } : { relation },
    ...(draw.chance(0.6) ? { filter } : {}),
    ...(level < last && draw.chance(0.3) ? { onlyWithInner: true } : {}),
    ...cut,
    ...('first' in cut && draw.chance(0.5)
      ? { others: lines(`${name}o`, total(draw, below()), `COUNT('${name}')`) }
      : {}),
    sort: [
      byTotal
        ? { by: `SUM(${CHAIN[level + 1]!.numbers[0]})`, descending: true }
        : { by: anyField(draw, level).formula },
      ...(draw.chance(0.3) ? [{ by: anyField(draw, level).formula, descending: true, blanks: 'first' }] : []),
    ],
    groups,
    header: lines(`${name}h`, total(draw, below()), total(draw, below(), draw.from(around))),
    detail: lines(`${name}d`, ...detail),
    footer: lines(`${name}f`, total(draw, below()), total(draw, below(), draw.from(around))),
    ...(level < last ? { drawers: [drawerOf(draw, level + 1, first, last)] } : {}),
  };
};

const randomDefinition = (seed: number) => {
  const draw = new Draw(seed);
  const first = draw.next(4);
  // Whole seasons of stays and charges would only make the same test slow.
  const last = first === 0 ? Math.max(1, draw.next(3)) : Math.min(3, first + draw.next(2));
  const body = drawerOf(draw, first, first, last);
  if (first === 2) body.filter = 'stay.id < 240';
  if (first === 3) body.filter = 'stay.id < 120';
  return definition({
    language: draw.from(['en', 'pt-PT']),
    timeZone: 'Europe/Lisbon',
    header: lines('rh', total(draw, first + draw.next(last - first + 1))),
    footer: lines('rf', total(draw, first + draw.next(last - first + 1))),
    body: [body],
  });
};

describe('random definitions', () => {
  it('give the same from the database’s totals, order and cuts as from rows worked out here', async () => {
    let compared = 0;
    let pushed = 0;
    await fc.assert(
      fc.asyncProperty(fc.integer({ min: 1, max: 2 ** 31 }), async (seed) => {
        const report = randomDefinition(seed);
        const fast = await runOver(database, report);
        const wrong = fast.plan.problems.filter((p) => p.severity === 'error' && p.code !== 'rank-too-wide');
        expect(wrong.map(problemText)).toEqual([]);
        const plain = await runOver(database, report, { rowsFromDatabase: false });
        expect(plain.result.problems.filter(({ code }) => code !== 'blank-counts-as-zero')).toEqual([]);
        expect(fast.result.problems).toEqual(plain.result.problems);
        expect(fast.marks.map((m) => `${m.item} ${m.text}`)).toEqual(plain.marks.map((m) => `${m.item} ${m.text}`));
        expect(fast.rows.queries.length).toBe(fast.plan.levels.length);
        compared += fast.marks.length;
        pushed += fast.plan.totals.filter((t) => t.column > 0).length;
      }),
      { numRuns: RUNS, seed: 20_260_702, endOnFailure: true },
    );
    // Reports that show nothing, or totals that no database works out, would compare nothing.
    expect(compared).toBeGreaterThan(100 * RUNS);
    expect(pushed).toBeGreaterThan(4 * RUNS);
  }, 240_000);
});
