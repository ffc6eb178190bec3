import { describe, expect, it } from 'vitest';
import type { Drawer, Report } from '../definition/schema.ts';
import { definition, lay, line, plan } from '../layout/huts.test-support.ts';
import { applyEdit } from './edit.ts';
import { copyGroup, newGroup, type Per, periodsFor, withPeriod } from './grouping.ts';

const report = definition({
  body: [{ id: 'stays', name: 'stay', rows: { entity: 'stay' }, detail: line('n', 'guest') }],
});
const drawerOf = (now: Report): Drawer => now.body[0]!;
const grouped = (now: Report, name: string, type: 'date' | 'text' | 'number') =>
  applyEdit(now, newGroup(now, drawerOf(now), { name, type }));
const rows = {
  stay: [
    { id: 1, guest: 'Ana', arrival: '2025-01-30', nights: 3 },
    { id: 2, guest: 'Ana', arrival: '2025-02-03', nights: 2 },
    { id: 3, guest: 'Zé', arrival: '2025-04-01', nights: 14 },
  ],
};
const words = async (now: Report): Promise<string[]> => (await lay(now, rows)).text.flat();

describe('a new group', () => {
  it('has a heading with its value, dates by month and then by shorter stretches', async () => {
    const once = grouped(report, 'arrival', 'date');
    expect(await words(once)).toEqual(['January 2025', 'Ana', 'February 2025', 'Ana', 'April 2025', 'Zé']);
    const twice = grouped(once, 'arrival', 'date');
    const thrice = grouped(grouped(twice, 'arrival', 'date'), 'arrival', 'date');
    expect(drawerOf(thrice).groups!.map((g) => [g.name, g.per])).toEqual([
      ['by_arrival', 'month'],
      ['by_arrival2', 'week'],
      ['by_arrival3', 'day'],
      ['by_arrival4', 'day'],
    ]);
    expect(plan(thrice).problems).toEqual([]);
  });

  it('is named after any formula that it is by', async () => {
    const made = grouped(report, 'LEFT(guest; 1) & "…"', 'text');
    expect(drawerOf(made).groups![0]!.name).toBe('by_LEFT_guest_1_');
    expect(await words(made)).toEqual(['A…', 'Ana', 'Ana', 'Z…', 'Zé']);
  });
});

describe('another stretch', () => {
  const as = (per: Per): Report => {
    const made = grouped(report, 'arrival', 'date');
    const footer = {
      height: 5,
      items: [
        {
          kind: 'text' as const,
          id: 't',
          x: 0,
          y: 0,
          width: 60,
          height: 5,
          content: ['Total ', { formula: 'by_arrival', format: 'mmmm yyyy' }],
        },
      ],
    };
    const group = { ...drawerOf(made).groups![0]!, footer };
    return applyEdit(made, { do: 'drawer', drawer: 'stays', settings: { groups: [withPeriod(group, per)] } });
  };

  it('shows the value as it suits, wherever it was shown as it suited before', async () => {
    expect(await words(as('year'))).toEqual(['2025', 'Ana', 'Ana', 'Zé', 'Total 2025']);
    expect((await words(as('quarter')))[0]).toBe('Q1 2025');
    expect((await words(as('quarter'))).at(-1)).toBe('Total Q2 2025');
    expect((await words(as('week')))[0]).toBe('27 Jan 2025');
    for (const per of periodsFor('date')) expect(plan(as(per)).problems).toEqual([]);
  });

  it('leaves what was shown in another way', () => {
    const made = grouped(report, 'arrival', 'date');
    const [group] = drawerOf(made).groups!;
    const own = { ...group!, header: { ...group!.header!, items: [{ ...group!.header!.items[0]!, format: 'yy' }] } };
    expect(withPeriod(own as typeof group & object, 'year').header!.items[0]).toMatchObject({ format: 'yy' });
  });

  it('is a range for numbers, with a width', async () => {
    const made = grouped(report, 'nights', 'number');
    const group = withPeriod(drawerOf(made).groups![0]!, 'range');
    expect(group.width).toBe(10);
    const ranged = applyEdit(made, { do: 'drawer', drawer: 'stays', settings: { groups: [group] } });
    expect(await words(ranged)).toEqual(['0', 'Ana', 'Ana', '10', 'Zé']);
    expect(withPeriod(group, 'value')).not.toHaveProperty('width');
  });
});

it('a copied group lies inside the first one and shows its own value', async () => {
  const made = grouped(report, 'arrival', 'date');
  const copied = applyEdit(made, copyGroup(made, drawerOf(made), drawerOf(made).groups![0]!));
  const [outer, inner] = drawerOf(copied).groups!;
  expect(inner!.header!.items[0]).toMatchObject({ formula: 'by_arrival2' });
  expect(inner!.header!.items[0]!.id).not.toBe(outer!.header!.items[0]!.id);
  const groups = [withPeriod(outer!, 'year'), inner!];
  const both = applyEdit(copied, { do: 'drawer', drawer: 'stays', settings: { groups } });
  expect((await words(both)).slice(0, 3)).toEqual(['2025', 'January 2025', 'Ana']);
});
