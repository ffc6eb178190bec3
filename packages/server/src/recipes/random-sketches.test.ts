import type { PGlite } from '@electric-sql/pglite';
import {
  acrossSteps,
  blankWord,
  decodeValue,
  type Field,
  fieldFormat,
  formatValue,
  levelSteps,
  type Page,
  planRecipe,
  planReport,
  problemText,
  readDefinition,
  runReport,
  type Sketch,
  type SketchCondition,
  type SketchGroup,
  type SketchReportOptions,
  shownFormat,
  sketchReport,
  sketchRows,
  sketchSchema,
  sketchTotal,
  type WireValue,
} from '@gaveta/core/internal';
import { loadEquipment } from '@gaveta/output';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { pgliteConnection } from '../connection/pglite.ts';
import { openBlank } from '../embedded/blank.test-support.ts';
import { defineModel } from '../model/define.ts';
import { number, text } from '../model/fields.test-support.ts';
import { openRows } from '../rows/row-source.ts';
import { RecipeDesk } from './desk.ts';

/** Random sketches over stays of huts in regions, each level of them against a statement written by hand, and against its own report. */
const SKETCHES = 300;

const many = (label: string, to: string, there: string) => ({ label, to, kind: 'many' as const, on: { id: there } });
const one = (label: string, to: string, here: string) => ({ label, to, kind: 'one' as const, on: { [here]: 'id' } });
const model = defineModel({
  name: 'ridge',
  label: 'Ridge',
  connection: 'main',
  entities: {
    region: { label: 'Region', plural: 'Regions', key: 'id', fields: { id: number, name: text } },
    hut: {
      ...{
        label: 'Hut',
        plural: 'Huts',
        key: 'id',
        fields: { id: number, region_id: { ...number, hidden: true }, name: text },
      },
      relations: { region: one('Region', 'region', 'region_id') },
    },
    stay: {
      ...{ label: 'Stay', plural: 'Stays', key: 'id' },
      fields: {
        ...{ id: number, hut_id: { ...number, hidden: true }, status: text, nights: number, rate: number },
        arrival: { label: 'Arrival', type: 'date' },
      },
      relations: { hut: one('Hut', 'hut', 'hut_id'), charges: many('Charges', 'charge', 'stay_id') },
    },
    charge: { label: 'Charge', plural: 'Charges', key: 'id', fields: { id: number, stay_id: number, amount: number } },
  },
});
const context = { models: [model.model], recipe: () => null, queries: [], parameters: [] };
let database: PGlite;
const book = await (await loadEquipment()).book();

beforeAll(async () => {
  database = await openBlank();
  // Blanks in every place where one may be, a hut without stays, a stay without charges or a hut, amounts of a half cent.
  await database.exec(`
    create table region (id int primary key, name text);
    create table hut (id int primary key, region_id int, name text);
    create table stay (id int primary key, hut_id int, status text, nights int, rate numeric(8,2), arrival date);
    create table charge (id int primary key, stay_id int, amount numeric(12,3));
    insert into region values (1, 'Norte'), (2, 'Água Fria'), (3, null);
    insert into hut select i, case when i = 7 then null else 1 + i % 3 end, case when i = 5 then null else 'Hut ' || i end from generate_series(1, 8) i;
    insert into stay select i, case when i % 41 = 0 then null else 1 + i * 7 % 7 end,
      (array['stayed', 'booked', null, 'cancelled'])[1 + i * 5 % 4], case when i % 13 = 0 then null else 1 + i * 11 % 9 end,
      case when i % 17 = 0 then null else (i * 37 % 900) / 8.0 end, case when i % 29 = 0 then null else date '2024-01-15' + i * 13 % 700 end
      from generate_series(1, 180) i;
    insert into charge select i, 1 + i * 3 % 170, (i * 7919 % 100000) / 1000.0 from generate_series(1, 400) i;`);
}, 120_000);
afterAll(() => database?.close());

const groups: readonly SketchGroup[] = [
  { name: 'hut', field: 'hut.name' },
  { name: 'region', field: 'hut.region.name' },
  { name: 'status', field: 'status' },
  { name: 'month', field: 'arrival', per: 'month' },
  { name: 'year', field: 'arrival', per: 'year' },
];
const KEYS: Record<string, string> = {
  ...{ hut: 'h.name', region: 'g.name', status: 's.status' },
  ...{ month: `date_trunc('month', s.arrival)::date`, year: `date_trunc('year', s.arrival)::date` },
};
/** What PostgreSQL gives as a middle is binary, and not exact. */
const columns: readonly (Sketch['columns'][number] & { sql: string })[] = [
  { name: 'stays', total: 'COUNT', bars: true, sql: 'count(*)' },
  { name: 'nights', field: 'nights', total: 'SUM', bars: true, sql: 'coalesce(sum(nights), 0)' },
  { name: 'longest', field: 'nights', total: 'MAX', sql: 'max(nights)' },
  { name: 'mean', field: 'rate', total: 'AVERAGE', bars: true, sql: 'avg(rate)' },
  {
    name: 'middle',
    bars: true,
    field: 'rate',
    total: 'MEDIAN',
    sql: 'round((percentile_cont(0.5) within group (order by rate))::numeric, 6)',
  },
  { name: 'kinds', field: 'status', total: 'COUNTDISTINCT', bars: true, sql: 'count(distinct status)' },
  { name: 'charged', field: 'charges.amount', inner: 'SUM', total: 'SUM', sql: 'coalesce(sum(charged), 0)' },
  { name: 'charges', field: 'charges.amount', inner: 'COUNT', total: 'MAX', sql: 'max(charges)' },
  { name: 'dear', formula: 'nights * rate', total: 'SUM', sql: 'coalesce(sum(nights * rate), 0)' },
  {
    name: 'each',
    ofLine: 'nights / stays',
    bars: true,
    sql: 'coalesce(sum(nights), 0)::numeric / nullif(count(*), 0)',
  },
];
const CHARGED = '(select sum(amount) from charge c where c.stay_id = s.id)';
const conditions: readonly [SketchCondition, string][] = [
  [{ field: 'status', is: 'oneOf', to: { values: ['stayed', 'booked'] } }, `s.status in ('stayed', 'booked')`],
  [
    { field: 'status', is: 'oneOf', to: { values: ['booked'] }, orBlank: true },
    `(s.status = 'booked' or s.status is null)`,
  ],
  [{ field: 'nights', is: 'between', to: { from: 2, to: 6 } }, 's.nights between 2 and 6'],
  [{ field: 'hut.region.name', is: 'blank' }, 'g.name is null'],
  [
    { field: 'arrival', per: 'month', is: 'oneOf', to: { values: ['2024-03-01', '2024-07-01', '2025-01-01'] } },
    `date_trunc('month', s.arrival)::date in ('2024-03-01', '2024-07-01', '2025-01-01')`,
  ],
  [{ formula: 'nights > 3' }, 's.nights > 3'],
  [{ column: 'charged', is: 'greater', to: { value: 60 } }, `${CHARGED} > 60`],
  [{ column: 'dear', is: 'less', to: { value: 200 }, orBlank: true }, 'coalesce(s.nights * s.rate < 200, true)'],
];
/** Of what a random one of the groups has in a random column. */
const totals = [
  ['greater', '>', 3],
  ['lessOrEqual', '<=', 20],
  ['greaterOrEqual', '>=', 1.5],
] as const;

/** A sketch of these parts, with how it would be asked by hand. */
interface Having {
  of: string;
  column: string;
  least: (typeof totals)[number];
}
interface Made {
  sketch: Sketch;
  where: string[];
  having: Having[];
  sql: Record<string, string>;
}
const parts = fc.record({
  groups: fc.shuffledSubarray([...groups], { maxLength: 3 }),
  columns: fc.shuffledSubarray([...columns], { minLength: 1, maxLength: 4 }),
  only: fc.shuffledSubarray([...conditions], { maxLength: 2 }),
  order: fc.option(fc.record({ at: fc.nat(20), descending: fc.boolean() })),
  first: fc.option(fc.record({ at: fc.nat(20), count: fc.integer({ min: 1, max: 3 }) })),
  totals: fc.option(fc.record({ at: fc.nat(20), of: fc.nat(20), column: fc.nat(20) })),
  across: fc.option(fc.record({ at: fc.nat(20), withoutTotal: fc.boolean(), descending: fc.boolean() }), { freq: 2 }),
});
const made = ({
  groups: by,
  columns: all,
  only,
  order,
  first,
  across,
  totals: total,
}: typeof parts extends fc.Arbitrary<infer T> ? T : never): Made => {
  // A formula of lines needs what it names.
  const isEach = all.some(({ name }) => name === 'each');
  const about = new Set(only.flatMap(([one]) => ('column' in one ? [one.column] : [])));
  const needed = columns.filter(({ name }) => (isEach && (name === 'nights' || name === 'stays')) || about.has(name));
  const shown = [...new Set([...needed, ...all])];
  const { name: sorted } = shown[(order?.at ?? 0) % shown.length]!;
  const of = by[(first?.at ?? 0) % Math.max(1, by.length)];
  const least = total && by.length > 0 ? totals[total.at % totals.length]! : null;
  const having: Having[] = least
    ? [{ of: by[total!.of % by.length]!.name, column: shown[total!.column % shown.length]!.name, least }]
    : [];
  const others = groups.filter((group) => !by.includes(group));
  const over = across && others[across.at % others.length];
  return {
    sketch: sketchSchema.parse({
      ...{ sketch: 1, name: 'Random', from: { model: 'ridge', entity: 'stay' }, rows: false },
      // Captions of one line each.
      columns: shown.map(({ sql: _, ...column }) => ({ ...column, label: column.name })),
      groups: by.map((group) => ({ ...group, label: group.name })),
      only: [
        ...only.map(([condition]) => condition),
        ...having.map(({ of: group, column, least: [is, , value] }) => ({ column, of: group, is, to: { value } })),
      ],
      order: [
        ...(order ? [{ by: sorted, ...(order.descending ? { descending: true } : {}) }] : []),
        ...(over && across.descending ? [{ by: over.name, descending: true }] : []),
      ],
      ...(first && of ? { first: { of: of.name, count: first.count } } : {}),
      ...(over && {
        across: { ...over, label: 'x', ...(across.withoutTotal ? { withoutTotal: true } : {}) },
      }),
    }),
    where: only.map(([, condition]) => condition),
    having,
    sql: Object.fromEntries(shown.map(({ name, sql }) => [name, sql])),
  };
};

/** The statement for the lines of groups so deep, as somebody would write it; or for what they have of each value across. */
const byHand = ({ sketch, where, having, sql }: Made, depth: number, isAcross: boolean): string => {
  const names = sketch.groups.map(({ name }) => name);
  const over = sketch.across ? [sketch.across.name] : [];
  const keys = [...names, ...over].map((name) => `${KEYS[name]} as ${name}`);
  const base = `select s.nights, s.rate, s.status as kind_of, ${[...keys, '1 as one'].join(', ')},
    ${CHARGED} as charged, (select count(*) from charge c where c.stay_id = s.id) as charges
    from stay s left join hut h on h.id = s.hut_id left join region g on g.id = h.region_id${where.length > 0 ? ` where ${where.join(' and ')}` : ''}`;
  const agg = (name: string): string => sql[name]!.replaceAll('status', 'kind_of');
  const [least] = having;
  const levels = names.slice(0, names.indexOf(least?.of ?? '') + 1);
  const same = levels.map((name) => `b.${name} is not distinct from w.${name}`).join(' and ');
  const narrowed = least
    ? `select b.* from whole b join (select ${levels.join(', ')} from whole group by ${levels.join(', ')} having ${agg(least.column)} ${least.least[1]} ${least.least[2]}) w on ${same}`
    : 'select * from whole';
  const place = sketch.first ? names.indexOf(sketch.first.of) : -1;
  const upTo = names.slice(0, place + 1);
  const first = sketch.order.find(({ by }) => by !== sketch.across?.name);
  const own = `${names[place]} nulls last`;
  const ranked = first ? `${agg(first.by)} ${first.descending ? 'desc' : 'asc'} nulls last, ${own}` : own;
  const around = upTo.slice(0, -1);
  const kept = `select ${upTo.join(', ')} from (select ${upTo.join(', ')}, row_number() over (${around.length > 0 ? `partition by ${around.join(', ')} ` : ''}order by ${ranked}) as n from base group by ${upTo.join(', ')}) r where n <= ${sketch.first?.count}`;
  const joined =
    place < 0
      ? 'base b'
      : `base b join kept k on ${upTo.map((name) => `b.${name} is not distinct from k.${name}`).join(' and ')}`;
  const shown = [...names.slice(0, depth), ...(isAcross ? over : [])];
  const cells = [
    ...shown.map((name) => `b.${name}::text`),
    ...sketch.columns.map(({ name }) => `(${agg(name)})::text`),
  ];
  return `with whole as (${base}), base as (${narrowed})${place < 0 ? '' : `, kept as (${kept})`}
    select ${cells.join(', ')} from ${joined}${shown.length > 0 ? ` group by ${shown.map((name) => `b.${name}`).join(', ')}` : ''}`;
};

const asNumber = (cell: unknown): unknown =>
  typeof cell === 'string' && /^-?\d+(\.\d+)?$/.test(cell)
    ? Math.round(Number(cell) * 1e6) / 1e6
    : cell === undefined
      ? null
      : cell;
const sorted = (lines: readonly unknown[][]): string[] => lines.map((line) => JSON.stringify(line)).sort();

const options = {
  models: new Map([['ridge', model]]),
  claims: {},
  report: { name: '', language: 'en', timeZone: 'UTC', parameters: [] },
  values: {},
};

interface Found {
  fields: Field[];
  lines: WireValue[][];
}

/** Fields and lines of groups so deep; or what they have of each value across. */
const linesOf = async (sketch: Sketch, depth: number, isAcross: boolean): Promise<Found> => {
  const rows = sketchRows(sketch, context);
  const level = isAcross ? acrossSteps(sketch, rows, depth) : levelSteps(sketch, rows, depth, false);
  const steps = [...rows.steps, ...level];
  const recipe = planRecipe({ name: 'lines', steps }, { ...context, queries: rows.queries });
  expect([...rows.problems, ...recipe.problems].map(problemText)).toEqual([]);
  const connections = new Map([['main', pgliteConnection(database)]]);
  const desk = await RecipeDesk.open([recipe], { ...options, connections });
  try {
    const { fields, rows: found } = await desk.rows(recipe, 10_000);
    // What is worked out on each line stands last there.
    const over = isAcross && sketch.across ? [sketch.across] : [];
    const names = [...sketch.groups.slice(0, depth), ...over, ...sketch.columns].map(({ name }) => name);
    const shown = names.map((name) => fields.findIndex((field) => field.name === name));
    return { fields: shown.map((i) => fields[i]!), lines: found.map((line) => shown.map((i) => line[i] ?? null)) };
  } finally {
    await desk.close();
  }
};

/** Wide enough for everything that goes across. */
const page: SketchReportOptions['page'] = {
  ...{ paper: 'custom', orientation: 'landscape', width: 3000, height: 2000 },
  margins: { top: 10, right: 10, bottom: 10, left: 10 },
};

/** All that the report of a sketch says below its captions, a text for each line. */
const reportOf = async (sketch: Sketch): Promise<string[]> => {
  const made = sketchReport(sketch, context, sketch.across ? { page } : {});
  const read = readDefinition(JSON.parse(JSON.stringify(made)));
  if (!read.ok) throw new Error(read.problems.map(problemText).join(' '));
  const plan = planReport(read.report, { models: context.models, report: () => null });
  expect(plan.problems.map(problemText)).toEqual([]);
  const connections = new Map([['main', pgliteConnection(database)]]);
  const open = () =>
    openRows(plan, {
      ...options,
      connections,
      parameters: {},
      maxRows: 100_000,
      workbench: () => expect.fail('no workbench is needed'),
    });
  const found: string[] = [];
  await runReport({
    plan,
    book,
    parameters: {},
    open,
    onPage: async (page: Page) => {
      const lines = new Map<number, { x: number; text: string }[]>();
      for (const mark of page.marks)
        if (mark.kind === 'text') lines.set(mark.y, [...(lines.get(mark.y) ?? []), { x: mark.x, text: mark.text }]);
      const body = [...lines]
        .sort(([a], [b]) => a - b)
        .map(([, line]) =>
          line
            .sort((a, b) => a.x - b.x)
            .map(({ text }) => text)
            .join(' '),
        );
      // Without the title and the captions, which take two lines below what goes across.
      const captions = sketch.across && sketch.columns.length > 1 ? 2 : 1;
      found.push(...body.slice(captions + (page.number === 1 ? 1 : 0)));
    },
  });
  return found;
};

const keyAt = (line: readonly WireValue[], depth: number): string => JSON.stringify(line.slice(0, depth));

/** What a line of the screen says, as the report does; `over`: by what each value across has on its line, in their order. */
const said = (
  sketch: Sketch,
  { fields }: Found,
  line: readonly WireValue[],
  depth: number,
  over: readonly (readonly WireValue[] | undefined)[],
): string => {
  const settings = { language: 'en', timeZone: 'UTC' };
  const text = (name: string, format?: string, cells = line, after = 0): string => {
    const at = fields.findIndex((field) => field.name === name);
    const value = cells[at + (at < depth ? 0 : after)] ?? null;
    if (value === null) return '';
    return formatValue(
      decodeValue(value, fields[at]!.type),
      format ?? fieldFormat(fields[at]!, 'en', undefined) ?? '',
      settings,
    );
  };
  const head =
    depth === 0 ? (sketch.groups.length > 0 ? 'Total' : '') : text(sketch.groups[depth - 1]!.name) || blankWord('en');
  const cellsOf = (cells: readonly WireValue[], after: number): string[] =>
    sketch.columns.map((column) => {
      const field = fields.find(({ name }) => name === column.name);
      return text(column.name, shownFormat(column, sketchTotal(column, depth === 0), field), cells, after);
    });
  const cells = [
    ...over.flatMap((own) => (own ? cellsOf(own, 1) : [])),
    ...(sketch.across?.withoutTotal ? [] : cellsOf(line, 0)),
  ];
  return [head, ...cells].filter((cell) => cell !== '').join(' ');
};

it('are the same as plain SQL, and as their own reports', { timeout: 300_000 }, async () => {
  await fc.assert(
    fc.asyncProperty(parts, async (random) => {
      const one = made(random);
      const { sketch } = one;
      const all: string[] = [];
      const asSql = async (depth: number, isAcross: boolean): Promise<Found> => {
        const found = await linesOf(sketch, depth, isAcross);
        const statement = byHand(one, depth, isAcross);
        const { rows } = await database.query<unknown[]>(statement, [], { rowMode: 'array' });
        const isEmpty = depth === 0 && rows.length === 1 && sketch.only.length > 0 && found.lines.length === 0;
        if (!isEmpty)
          expect(sorted(found.lines.map((line) => line.map(asNumber)))).toEqual(
            sorted(rows.map((line) => line.map(asNumber))),
          );
        return found;
      };
      const values = sketch.across ? (await asSql(0, true)).lines.map(([value]) => value) : [];
      for (let depth = 0; depth <= sketch.groups.length; depth++) {
        const found = await asSql(depth, false);
        const cells = new Map(
          sketch.across ? (await asSql(depth, true)).lines.map((line) => [keyAt(line, depth + 1), line]) : [],
        );
        for (const line of found.lines) {
          const over = values.map((value) => cells.get(keyAt([...line.slice(0, depth), value!], depth + 1)));
          all.push(said(sketch, found, line, depth, over));
        }
      }
      // A report without rows says nothing, where the screen has an end of blanks and zeros.
      const isNothing = sketch.groups.length > 0 && all.length <= 1;
      expect((await reportOf(sketch)).sort()).toEqual(isNothing ? [] : all.sort());
    }),
    { seed: 21, numRuns: SKETCHES, endOnFailure: true },
  );
});
