import { expect, it } from 'vitest';
import { NO_PAGE } from '../formula/functions/context.ts';
import { band, definition, field, plan, type Rows, rowsOf } from '../layout/huts.test-support.ts';
import { Moment } from '../value/date.ts';
import { DrawerWalk } from './drawer-walk.ts';
import { ReportRows } from './report-rows.ts';
import { type DrawerVisitor, type ShapeDrawer, shapeOf } from './shape.ts';

const ROWS: Rows = {
  hut: [{ name: 'Brecha' }, { name: 'Lago Frio' }, { name: 'Pedra Longa' }],
  stay: [
    { in: 1, guest: 'Ana', nights: 2 },
    { in: 1, guest: 'Rui', nights: 3 },
    { in: 3, guest: 'Ana', nights: 1 },
    { in: 3, guest: 'Bea', nights: 4 },
    { in: 3, guest: 'Zé', nights: 5 },
  ],
};

const report = definition({
  body: [
    {
      id: 'huts',
      name: 'hut',
      rows: { entity: 'hut' },
      detail: band(5, field('h', 'name')),
      footer: band(5, field('hf', 'SUM(nights)')),
      drawers: [
        {
          id: 'stays',
          name: 'stay',
          rows: { relation: 'stays' },
          groups: [{ name: 'initial', by: 'guest', per: 'letter', footer: band(5, field('gf', 'SUM(nights)')) }],
          first: 2,
          detail: band(5, field('s', 'guest & nights')),
          others: band(5, field('o', 'SUM(nights)')),
        },
      ],
    },
  ],
});

it('tells a visitor that knows nothing of pages what is due, in order, with its rows and totals current', async () => {
  const planned = plan(report);
  const shape = shapeOf(planned);
  const rows = new ReportRows(
    shape,
    {
      parameters: {},
      page: NO_PAGE,
      report: { name: 'Test', timeZone: 'UTC', language: 'en', runAt: new Moment(0) },
    },
    {
      source: rowsOf(ROWS),
      signal: undefined,
      maxAhead: 1e9,
      pause: async () => {},
      deliver: async () => {},
      rowsVisited: () => {},
      rowsFailed: () => {},
      filterFailed: () => {},
    },
  );
  const said: string[] = [];
  const current = ({ level }: ShapeDrawer): string => rows.context.rows[level.index]!.slice(1).join('/');
  const totals = (): string => planned.totals.map(({ slot }) => String(rows.totals.value(slot))).join(' ');
  const visitor = (drawer: ShapeDrawer, depth: number): DrawerVisitor => {
    const say = (words: string): void => void said.push(`${'  '.repeat(depth)}${words}`);
    return {
      begin: () => say(`begin ${drawer.level.drawer.name}`),
      header: async () => say('header'),
      groupBegins: async (group, isFirst) => say(`group ${group}${isFirst ? ' first' : ''}`),
      rowBegins: () => {},
      hidden: () => say('hidden'),
      detail: async (number) => say(`${number} ${current(drawer)}`),
      inner: async (walk) => {
        for (const [place, inner] of drawer.drawers.entries()) await walk(place, visitor(inner, depth + 1));
      },
      rowEnds: async () => {},
      rowPassed: () => {},
      rowsComplete: () => {},
      groupEnds: async (group) => say(`group ${group} ends: ${totals()}`),
      end: async ({ count, others, failure }) => say(`end ${count}+${others}${failure ? '!' : ''}: ${totals()}`),
    };
  };
  const root = shape.roots[0]!;
  const walk = new DrawerWalk(rows, root);
  await walk.open(1, null);
  await walk.run(1, visitor(root, 0));
  rows.close();
  // Totals: nights of all huts, of the stays past the first two, and of the group.
  expect(said).toEqual([
    'begin hut',
    'header',
    '1 Brecha',
    '  begin stay',
    '  header',
    '  group 0 first',
    '  1 Ana/2',
    '  group 0 ends: 2 0 2',
    '  group 0',
    '  2 Rui/3',
    '  group 0 ends: 5 0 3',
    '  end 2+0: 5 0 3',
    '2 Lago Frio',
    '  begin stay',
    '  end 0+0: 5 0 3',
    '3 Pedra Longa',
    '  begin stay',
    '  header',
    '  group 0 first',
    '  1 Ana/1',
    '  group 0 ends: 6 0 1',
    '  group 0',
    '  2 Bea/4',
    '  group 0 ends: 10 0 4',
    '  end 2+1: 15 5 9',
    'end 3+0: 15 5 9',
  ]);
});
