import { describe, expect, it } from 'vitest';
import { groupValue } from '../edit/grouping.ts';
import { definition, lay, line, type Rows } from './huts.test-support.ts';

const stay = (guest: string, arrival: string | null, nights: number | null) => ({ guest, arrival, nights });
const STAYS: Rows = {
  stay: [
    stay('Noa', '2025-07-30', 2),
    stay('Rui', '2025-08-01', 3),
    stay('Ana', '2025-08-14', 1),
    stay('Água', '2026-01-02', 5),
    stay('Bea', null, null),
  ],
};
const stays = (more: Record<string, unknown>, report: Record<string, unknown> = {}) =>
  definition({ ...report, body: [{ id: 'stays', name: 'stay', rows: { entity: 'stay' }, ...more }] });
const texts = async (report: ReturnType<typeof definition>, rows = STAYS) => (await lay(report, rows)).text.flat();

describe('groups', () => {
  it('have headers and footers with totals before and after their rows', async () => {
    const report = stays({
      groups: [
        {
          name: 'year',
          by: 'arrival',
          per: 'year',
          header: line('yh', 'IFBLANK(TEXT(year; "yyyy"); "") & ": " & SUM(nights)'),
          footer: line('yf', '"end of year, " & COUNT(stay)'),
        },
        {
          name: 'month',
          by: 'arrival',
          per: 'month',
          header: line('mh', '"  " & TEXT(month; "mmm") & ": " & SUM(nights) & " of " & SUM(nights; year)'),
        },
      ],
      sort: [{ by: 'guest' }],
      detail: line('d', '"    " & guest'),
    });
    expect(await texts(report)).toEqual([
      '2025: 6',
      '  Jul: 2 of 6',
      '    Noa',
      '  Aug: 4 of 6',
      '    Ana',
      '    Rui',
      'end of year, 3',
      '2026: 5',
      '  Jan: 5 of 5',
      '    Água',
      'end of year, 1',
      ': 0',
      '  : 0 of 0',
      '    Bea',
      'end of year, 1',
    ]);
  });

  it('may show numbers of any length beside their values', async () => {
    const large = '12345678901234567890123';
    const report = stays({
      groups: [{ name: 'per_guest', by: 'guest', header: line('gh', `nights * 0 + ${large}`) }],
      filter: 'guest = "Ana"',
    });
    expect(await texts(report, { stay: [stay('Ana', '2025-08-14', 1)] })).toEqual([large]);
  });

  it.each([
    ['en', '(blank)'],
    ['pt-PT', '(em branco)'],
    ['cy', '(blank)'],
  ])('without a value say so in the report’s language, in headings, totals and the outline: %s', async (language, word) => {
    const value = (id: string, formula: string) => ({ kind: 'field', id, x: 0, y: 0, width: 100, height: 5, formula });
    const quarter = groupValue('arrival_quarter', 'quarter').formula;
    const report = stays(
      {
        groups: [
          {
            name: 'arrival_quarter',
            by: 'arrival',
            per: 'quarter',
            header: { height: 5, items: [{ ...value('qh', quarter), outline: 1 }] },
          },
          {
            name: 'per_guest',
            by: 'guest',
            header: { height: 5, items: [value('gh', 'guest')] },
            footer: {
              height: 5,
              items: [
                {
                  kind: 'text',
                  id: 'gf',
                  x: 0,
                  y: 0,
                  width: 100,
                  height: 5,
                  content: ['Total ', { formula: 'per_guest' }, ': ', { formula: 'SUM(nights)' }],
                },
              ],
            },
          },
        ],
        detail: line('d', 'guest & "|" & ISBLANK(arrival_quarter)'),
      },
      { language },
    );
    const rows: Rows = { stay: [stay('Ana', '2025-08-14', 1), { guest: null, arrival: null, nights: 2 }] };
    const { text, pages } = await lay(report, rows);
    const yes = ['Q3 2025', 'Ana', 'Ana|FALSE', 'Total Ana: 1'];
    expect(text.flat()).toEqual([...yes, word, word, '|TRUE', `Total ${word}: 2`]);
    const outline = pages.flatMap((p) => p.marks).flatMap((m) => (m.kind === 'outline' ? [m.title] : []));
    expect(outline).toEqual(['Q3 2025', word]);
  });

  it.each([
    ['letter', { by: 'guest', per: 'letter' }, ['A: Água Ana', 'B: Bea', 'N: Noa', 'R: Rui']],
    ['range', { by: 'nights', per: 'range', width: 2 }, ['0: Ana', '2: Noa Rui', '4: Água', ': Bea']],
    [
      'quarter',
      { by: 'arrival', per: 'quarter', descending: true },
      ['1 jan 2026: Água', '1 jul 2025: Ana Noa Rui', ': Bea'],
    ],
    [
      'week',
      { by: 'arrival', per: 'week' },
      ['28 jul 2025: Noa Rui', '11 ago 2025: Ana', '29 dez 2025: Água', ': Bea'],
    ],
    ['a formula', { by: 'IF(nights > 2; "long"; "short")' }, ['long: Água Rui', 'short: Ana Bea Noa']],
    [
      'a total of theirs',
      { by: 'IF(nights > 2; "long"; "short")', order: 'COUNT(stay)', descending: true },
      ['short: Ana Bea Noa', 'long: Água Rui'],
    ],
  ])('by %s, in the order of the language', async (_what, group, expected) => {
    const footer = line('f', 'g & ": " & TEXTJOIN(" "; TRUE; LIST(guest))');
    const dated = line('f', 'TEXT(g; "d mmm yyyy") & ": " & TEXTJOIN(" "; TRUE; LIST(guest))');
    const isDate = group.by === 'arrival';
    const report = stays(
      { groups: [{ name: 'g', ...group, footer: isDate ? dated : footer }], sort: [{ by: 'guest' }] },
      { language: 'pt-PT' },
    );
    expect(await texts(report)).toEqual(expected);
  });

  it('start pages between one another, and count the pages of each', async () => {
    const report = stays(
      {
        filter: 'NOT(ISBLANK(arrival))',
        groups: [
          {
            name: 'year',
            by: 'arrival',
            per: 'year',
            header: line('h', 'YEAR(year)', { pageBreak: 'between', restartPages: true }),
          },
        ],
        detail: { ...line('d', 'guest'), height: 150 },
      },
      { pageFooter: line('pf', '"page " & page.part_number & " of " & page.part_count & ", all " & page.count') },
    );
    expect((await lay(report, STAYS)).text).toEqual([
      ['2025', 'Noa', 'page 1 of 3, all 4'],
      ['Rui', 'page 2 of 3, all 4'],
      ['Ana', 'page 3 of 3, all 4'],
      ['2026', 'Água', 'page 1 of 1, all 4'],
    ]);
  });
});

describe('totals of rows around and before', () => {
  it('run, restart at a group, rank, number and look back', async () => {
    const report = stays({
      filter: 'nights > 0',
      groups: [{ name: 'year', by: 'arrival', per: 'year' }],
      sort: [{ by: 'arrival' }],
      detail: line(
        'd',
        'guest & " " & RUNNING(nights) & " " & RUNNING(nights; year) & " " & ROWNUMBER() & " " & ROWNUMBER(year) & " " & RANK(nights) & " " & RANK(nights; year) & " " & PREVIOUS(guest)',
      ),
    });
    expect(await texts(report)).toEqual([
      'Noa 2 2 1 1 3 2 ',
      'Rui 5 5 2 2 2 1 Noa',
      'Ana 6 6 3 3 4 3 Rui',
      'Água 11 5 4 1 1 1 Ana',
    ]);
  });

  it('run on from group to group in their footers, unless a group is named', async () => {
    const report = stays({
      filter: 'nights > 0',
      groups: [
        { name: 'year', by: 'arrival', per: 'year' },
        {
          name: 'month',
          by: 'arrival',
          per: 'month',
          footer: line('mf', 'RUNNING(nights) & " " & RUNNING(nights; year)'),
        },
      ],
    });
    expect(await texts(report)).toEqual(['2 2', '6 6', '11 5']);
  });

  it('carry forward and bring forward from page to page', async () => {
    const report = stays(
      { sort: [{ by: 'nights' }], detail: { ...line('d', 'nights'), height: 110 } },
      {
        pageHeader: line('ph', '"brought " & RUNNING(nights) & ", here " & SUM(nights)'),
        pageFooter: line('pf', '"carried " & RUNNING(nights) & ", here " & SUM(nights) & " in " & COUNT(stay)'),
      },
    );
    expect((await lay(report, STAYS)).text).toEqual([
      ['brought 0, here 3', '1', '2', 'carried 3, here 3 in 2'],
      ['brought 3, here 8', '3', '5', 'carried 11, here 8 in 2'],
      ['brought 11, here 0', 'carried 11, here 0 in 1'],
    ]);
  });

  it('share the whole, or a row around', async () => {
    const report = definition({
      body: [
        {
          id: 'huts',
          name: 'hut',
          rows: { entity: 'hut' },
          drawers: [
            {
              id: 'stays',
              name: 'stay',
              rows: { relation: 'stays' },
              detail: line(
                'd',
                'TEXT(nights / SUM(nights; hut); "0%") & " of " & hut.name & ", " & TEXT(nights / SUM(nights; report); "0%")',
              ),
            },
          ],
        },
      ],
    });
    const rows = {
      hut: [{ name: 'Lago' }, { name: 'Sino' }],
      stay: [
        { in: 1, nights: 1 },
        { in: 1, nights: 3 },
        { in: 2, nights: 4 },
      ],
    };
    expect(await texts(report, rows)).toEqual(['25% of Lago, 13%', '75% of Lago, 38%', '100% of Sino, 50%']);
  });
});

describe('drawers', () => {
  const HUTS: Rows = {
    hut: [{ name: 'Lago' }, { name: 'Sino' }, { name: 'Brecha' }],
    stay: [
      { in: 1, guest: 'Noa', nights: 2 },
      { in: 1, guest: 'Rui', nights: 1 },
      { in: 3, guest: 'Ana', nights: 9 },
    ],
  };
  const huts = (more: Record<string, unknown>, inner: Record<string, unknown> = {}) =>
    definition({
      body: [
        {
          id: 'huts',
          name: 'hut',
          rows: { entity: 'hut' },
          detail: line('h', 'hut.name'),
          ...more,
          drawers: [{ id: 'stays', name: 'stay', rows: { relation: 'stays' }, ...inner }],
        },
      ],
    });

  it('are filtered, sorted and cut by totals of inner rows, and show the others', async () => {
    const report = huts({
      sort: [{ by: 'SUM(nights)', descending: true }],
      first: 1,
      others: line('o', 'COUNT(hut) & " others with " & SUM(nights)'),
      footer: line('f', '"all " & SUM(nights)'),
    });
    expect(await texts(report, HUTS)).toEqual(['Brecha', '2 others with 3', 'all 12']);
    expect(await texts(huts({ filter: 'SUM(nights) > 2' }), HUTS)).toEqual(['Lago', 'Brecha']);
    expect(await texts(huts({ onlyWithInner: true }), HUTS)).toEqual(['Lago', 'Brecha']);
  });

  it('show what groups leave out below them, and count it there alone', async () => {
    const grouped = {
      groups: [{ name: 'named', by: 'LEN(name) > 0', first: 1 }],
      sort: [{ by: 'name' }],
      footer: line('f', 'COUNT(hut) & " huts"'),
    };
    expect(await texts(huts(grouped), HUTS)).toEqual(['Brecha', '1 huts']);
    const shown = await texts(huts({ ...grouped, others: line('o', 'COUNT(hut) & " others"') }), HUTS);
    expect(shown).toEqual(['Brecha', '2 others', '3 huts']);
  });

  it('have calculated fields, on one another too', async () => {
    const calculated = [
      { name: 'long', formula: 'nights > 1' },
      { name: 'label', formula: 'guest & IF(long; "!"; "")' },
    ];
    const report = huts({}, { calculated, sort: [{ by: 'long', descending: true }], detail: line('s', 'label') });
    expect(await texts(report, HUTS)).toEqual(['Lago', 'Noa!', 'Rui', 'Sino', 'Brecha', 'Ana!']);
  });

  it('put blanks first or last, as wanted', async () => {
    const rows = {
      stay: [
        { guest: 'b', nights: 1 },
        { guest: 'none', nights: null },
        { guest: 'a', nights: 2 },
      ],
    };
    const order = async (sort: Record<string, unknown>) =>
      texts(stays({ sort: [{ by: 'nights / 1', ...sort }], detail: line('d', 'guest') }), rows);
    expect(await order({})).toEqual(['none', 'b', 'a']);
    const kept = async (sort: Record<string, unknown>) =>
      texts(stays({ sort: [{ by: 'IF(nights > 0; nights; nights)', ...sort }], detail: line('d', 'guest') }), rows);
    expect(await kept({ blanks: 'first' })).toEqual(['none', 'b', 'a']);
    expect(await kept({ descending: true })).toEqual(['a', 'b', 'none']);
  });

  it('nest rows of the same table to any depth, with totals of all that is below', async () => {
    const task = (id: number, part_of: number | null, title: string, hours: number) => ({ id, part_of, title, hours });
    const rows: Rows = {
      task: [
        task(1, null, 'Roof', 1),
        task(2, 1, 'Beams', 2),
        task(3, 2, 'Cut', 4),
        task(4, null, 'Stove', 3),
        task(5, 1, 'Shingles', 5),
        task(6, 7, 'Egg', 1),
        task(7, 6, 'Hen', 1),
      ],
    };
    const report = definition({
      body: [
        {
          id: 'tasks',
          name: 'task',
          rows: { entity: 'task', tree: 'parts' },
          detail: line('d', 'REPT("-"; DEPTH()) & title & " " & SUM(hours)'),
          detailFooter: line('f', '"end of " & title & ", " & SUM(hours)', { showIf: 'DEPTH() = 1' }),
          footer: line('all', 'SUM(hours) & " in " & COUNT(task)'),
        },
      ],
    });
    expect(await texts(report, rows)).toEqual([
      '-Roof 12',
      '--Beams 6',
      '---Cut 4',
      '--Shingles 5',
      'end of Roof, 12',
      '-Stove 3',
      'end of Stove, 3',
      '-Egg 2',
      '--Hen 1',
      'end of Egg, 2',
      '17 in 7',
    ]);
  });

  it('stand side by side, each over as many pages as it needs', async () => {
    const beside = (id: string, x: number, filter: string) => ({
      id,
      name: id,
      rows: { relation: 'stays' },
      filter,
      beside: { x, width: 80 },
      detail: { ...line(`${id}_d`, 'guest'), height: 60 },
    });
    const report = definition({
      body: [
        {
          id: 'huts',
          name: 'hut',
          rows: { entity: 'hut' },
          drawers: [beside('left', 0, 'nights > 1'), beside('right', 90, 'nights < 9')],
          detailFooter: line('end', '"end"'),
        },
      ],
    });
    const rows: Rows = {
      hut: [{ name: 'x' }],
      stay: Array.from({ length: 7 }, (_, i) => ({ in: 1, guest: `g${i}`, nights: i < 2 ? 9 : 2 })),
    };
    const { text, pages } = await lay(report, rows);
    expect(text).toEqual([
      ['g0', 'g2', 'g1', 'g3', 'g2', 'g4', 'g3', 'g5'],
      ['g4', 'g6', 'g5', 'g6', 'end'],
    ]);
    const xs = new Set(pages[0]!.marks.flatMap((m) => (m.kind === 'text' ? [Math.round(m.x)] : [])));
    expect(xs.size).toBe(2);
  });
});
