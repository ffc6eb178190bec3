import { type Field, type Sketch, sketchSchema } from '@gaveta/core/internal';
import { describe, expect, it } from 'vitest';
import { AcrossCells } from './across-cells.ts';
import { lineLook } from './table-layout.ts';

const field = (name: string, type: Field['type'] = 'text'): Field => ({ name, label: name, type }) as Field;
const cells = (): AcrossCells => {
  const made = new AcrossCells('month');
  made.put({
    fields: [field('month'), field('nights', 'number')],
    lines: [
      ['May', 30],
      [null, 2],
    ],
  });
  made.put({
    fields: [field('region'), field('month'), field('nights', 'number')],
    lines: [
      ['North', 'May', 10],
      [null, 'May', -20],
      ['North', null, 2],
    ],
  });
  return made;
};

describe('what goes across', () => {
  it('is found by the groups of its line and its own value, blanks too, and at the end', () => {
    const made = cells();
    expect(made.values.map(({ value }) => value)).toEqual(['May', null]);
    const [may, blank] = made.values.map(({ key }) => key);
    expect(made.at(['North'], may!)).toEqual(['May', 10]);
    expect(made.at(['North'], blank!)).toEqual([null, 2]);
    expect(made.at([null], may!)).toEqual(['May', -20]);
    expect(made.at([null], blank!)).toBeNull();
    expect(made.at([], may!)).toEqual(['May', 30]);
    // Bars are measured by lines beside each other, not by the end.
    expect(made.largestOf('nights', 0)).toBe(20);
  });
});

describe('lines', () => {
  const sketch = (more: Partial<Sketch>): Sketch =>
    sketchSchema.parse({
      ...{ sketch: 1, name: '', from: { model: 'm', entity: 'stay' }, rows: false, only: [], order: [] },
      groups: [{ name: 'region', field: 'region' }],
      columns: [
        { name: 'nights', field: 'nights', total: 'SUM' },
        { name: 'stays', total: 'COUNT', width: 80 },
        { name: 'status', field: 'status' },
        { name: 'gone', total: 'COUNT', hidden: true },
      ],
      ...more,
    });
  const view = { from: 0, width: 1000 };

  it('show each column with totals for each value, and for all of them', () => {
    const across = { name: 'month', field: 'month' };
    const look = lineLook(sketch({ across }), [], cells().values, null, view);
    expect(look.cells.map(({ column, over }) => `${column.name} ${over ? over.value : 'all'}`)).toEqual([
      ...['nights May', 'stays May', 'nights null', 'stays null', 'nights all', 'stays all'],
    ]);
    expect(look.drawn).toHaveLength(6);
    const bare = lineLook(sketch({ across: { ...across, withoutTotal: true } }), [], cells().values, null, view);
    expect(bare.cells).toHaveLength(4);
  });

  it('draw only what is near the view where there is much across', () => {
    const values = Array.from({ length: 100 }, (_, i) => ({ key: String(i), value: i }));
    const look = lineLook(sketch({ across: { name: 'day', field: 'day' } }), [], values, null, {
      from: 5000,
      width: 900,
    });
    expect(look.cells).toHaveLength(202);
    const drawn = look.drawn.map((i) => look.cells[i]!);
    expect(drawn.length).toBeLessThan(25);
    expect(Math.min(...drawn.map(({ x }) => x))).toBeLessThan(5000);
    expect(Math.max(...drawn.map(({ x, width }) => x + width))).toBeGreaterThan(5900);
  });

  it('keep what is pinned at the start, each behind the one before', () => {
    const [nights, stays, ...others] = sketch({}).columns;
    const pinned = { pinned: true as const };
    const of = sketch({ columns: [...others, { ...nights!, ...pinned, width: 90 }, { ...stays!, ...pinned }] });
    expect(lineLook(of, [], [], null, view).cells.map(({ column, left }) => [column.name, left])).toEqual([
      ['nights', 260],
      ['stays', 350],
      ['status', null],
    ]);
  });
});
