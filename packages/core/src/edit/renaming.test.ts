import { describe, expect, it } from 'vitest';
import type { NameMeaning } from '../data/names.ts';
import { allBands } from '../definition/walk.ts';
import { band, definition, field, hutModel, lay, line, plan } from '../layout/huts.test-support.ts';
import { renamePart, usesOf } from './renaming.ts';

const context = { models: [hutModel], report: () => null };
const report = definition({
  parameters: [
    { name: 'least', label: 'Least', type: 'number', default: 2 },
    { name: 'days', label: 'Days', type: 'dates', default: '2025-07-01..2025-07-31' },
    { name: 'most', label: 'Most', type: 'number', defaultFormula: 'least * 10' },
    // Fields of that name come first.
    { name: 'guest', label: 'Guest', type: 'text', default: 'nobody' },
  ],
  header: line('h', 'SUM(double) & "/" & COUNT(stay) & "/" & guest & "/" & days.from'),
  body: [
    {
      id: 'huts',
      name: 'hut',
      rows: { entity: 'hut' },
      sort: [{ by: 'name' }],
      detail: line('d', 'name & COUNT(stay) & " " & SUM(stay.double; hut)'),
      drawers: [
        {
          id: 'stays',
          name: 'stay',
          rows: { relation: 'stays' },
          filter: 'nights >= parameters.least',
          sort: [{ by: 'double' }],
          calculated: [
            { name: 'double', formula: 'nights * 2' },
            { name: 'fourfold', formula: 'double * 2' },
          ],
          groups: [{ name: 'who', by: 'guest', header: line('g', 'who & SUM(double; who) & SUM(nights; hut)') }],
          detail: band(
            14,
            field('a', 'double & "double" & hut.name & stay.fourfold'),
            field('b', 'guest & who', {
              y: 5,
              highlights: [{ when: 'double > least', look: { bold: true } }],
              formulas: { size: 'IF(double > 4; 12; 8)' },
            }),
            {
              kind: 'text',
              id: 'c',
              x: 0,
              y: 9,
              width: 60,
              height: 5,
              content: ['double: ', { formula: 'double' }, { formula: 'who' }],
            },
          ),
        },
      ],
    },
  ],
});
const rows = {
  hut: [
    { in: 1, id: 1, name: 'Alminhas' },
    { in: 1, id: 2, name: 'Brecha' },
  ],
  stay: [
    { in: 1, id: 1, hut_id: 1, guest: 'Ana', nights: 3 },
    { in: 1, id: 2, hut_id: 1, guest: 'Ana', nights: 2 },
    { in: 2, id: 3, hut_id: 2, guest: 'Zé', nights: 4 },
    { in: 2, id: 4, hut_id: 2, guest: 'Rui', nights: 1 },
  ],
};
const formula = (id: string, of = report): string => {
  const item = [...allBands(of)].flatMap((b) => b.band.items).find((i) => i.id === id);
  return item && 'formula' in item ? String(item.formula) : '';
};

describe('another name', () => {
  const parts: NameMeaning[] = [
    { kind: 'drawer', drawer: 'huts' },
    { kind: 'drawer', drawer: 'stays' },
    { kind: 'calculated', drawer: 'stays', name: 'double' },
    { kind: 'calculated', drawer: 'stays', name: 'fourfold' },
    { kind: 'group', drawer: 'stays', name: 'who' },
    ...report.parameters.map(({ name }): NameMeaning => ({ kind: 'parameter', name })),
  ];

  it.each(parts)('of %o leaves what the report shows as it is', async (part) => {
    const before = await lay(report, rows);
    expect(before.text.flat().join(' ')).toContain('Alminhas');
    const after = renamePart(report, part, 'renamed', context);
    expect(after).not.toEqual(report);
    expect(plan(after).problems).toEqual([]);
    expect((await lay(after, rows)).text).toEqual(before.text);
  });

  it('is written wherever the old one meant that part, and nowhere else', () => {
    const calculated = renamePart(report, { kind: 'calculated', drawer: 'stays', name: 'double' }, 'twice', context);
    expect(formula('a', calculated)).toBe('twice & "double" & hut.name & stay.fourfold');
    expect(calculated.body[0]!.drawers![0]).toMatchObject({
      sort: [{ by: 'twice' }],
      calculated: [{ name: 'twice' }, { formula: 'twice * 2' }],
    });
    expect(JSON.stringify(calculated)).toContain('IF(twice > 4; 12; 8)');
    const drawer = renamePart(report, { kind: 'drawer', drawer: 'huts' }, 'house', context);
    expect(formula('a', drawer)).toBe('double & "double" & house.name & stay.fourfold');
    expect(formula('g', drawer)).toBe('who & SUM(double; who) & SUM(nights; house)');
    // Inside the stays the name is a field of theirs; only the header means the parameter.
    const parameter = renamePart(report, { kind: 'parameter', name: 'guest' }, 'visitor', context);
    expect(formula('h', parameter)).toContain('visitor');
    expect(formula('b', parameter)).toBe('guest & who');
    const named = renamePart(report, { kind: 'parameter', name: 'least' }, 'fewest', context);
    expect(named.body[0]!.drawers![0]!.filter).toBe('nights >= parameters.fewest');
    expect(named.parameters[2]!.defaultFormula).toBe('fewest * 10');
    const quoted = renamePart(report, { kind: 'drawer', drawer: 'stays' }, 'noite', context);
    expect(formula('d', quoted)).toBe('name & COUNT(noite) & " " & SUM(noite.double; hut)');
  });

  it('reaches operands, formulas and written statements of queries', () => {
    const asking = definition({
      parameters: [{ name: 'season', label: 'Season', type: 'number' }],
      queries: [
        {
          name: 'rows',
          steps: [
            { step: 'take', from: { model: 'huts', entity: 'stay' } },
            { step: 'keep', where: { field: 'nights', is: 'equal', to: { parameter: 'season' } } },
            { step: 'add', name: 'x', formula: 'season + 1' },
            { step: 'sql', model: 'huts', text: "select :season, ':seasons', a::season", columns: [] },
          ],
        },
      ],
    });
    const { queries } = renamePart(asking, { kind: 'parameter', name: 'season' }, 'year', context);
    expect(queries![0]!.steps!.slice(1)).toMatchObject([
      { where: { to: { parameter: 'year' } } },
      { formula: 'year + 1' },
      { text: "select :year, ':seasons', a::season" },
    ]);
  });

  it('is asked for where a part is used', () => {
    const uses = usesOf(report, { kind: 'group', drawer: 'stays', name: 'who' }, context);
    expect(uses.map((u) => u.path).sort()).toEqual([
      'body/0/drawers/0/detail/items/1',
      'body/0/drawers/0/detail/items/2',
      'body/0/drawers/0/groups/0/header/items/0',
      'body/0/drawers/0/groups/0/header/items/0',
    ]);
  });
});
