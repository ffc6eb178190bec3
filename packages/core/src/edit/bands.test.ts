import { describe, expect, it } from 'vitest';
import { bandKey, findBand } from '../definition/walk.ts';
import { band, definition, field, plan } from '../layout/huts.test-support.ts';
import { copyBand, freeBands, moveBand } from './bands.ts';
import { applyEdit, type Edit } from './edit.ts';

const report = definition({
  header: band(9, field('title', 'report.name')),
  body: [
    {
      id: 'huts',
      name: 'hut',
      rows: { entity: 'hut' },
      groups: [{ name: 'letter', by: 'name', per: 'letter' }],
      header: { ...band(7, field('caption', '"Huts"')), everyPage: true, keepWith: 2 },
      detail: band(5, field('n', 'name')),
    },
  ],
});
const free = (now = report) => freeBands(now).map(bandKey);
const after = (edit: Edit | null) => applyEdit(report, edit!);

describe('bands', () => {
  it('may stand at every place that has none', () => {
    expect(free()).toContain('footer');
    expect(free()).toContain('huts/letter/header');
    expect(free()).not.toContain('header');
    expect(free()).not.toContain('huts/detail');
    expect(free(definition({}))).toHaveLength(10);
  });

  it('are moved with their items, and keep what fits the other place', () => {
    const to = { drawer: 'huts', band: 'header', group: 'letter' } as const;
    const moved = after(moveBand(report, { drawer: 'huts', band: 'header' }, to));
    expect(moved.body[0]!.header).toBeUndefined();
    expect(findBand(moved, to)).toMatchObject({ everyPage: true, keepWith: 2, items: [{ id: 'caption' }] });
    expect(free(moved)).toContain('huts/header');
    const below = after(moveBand(report, { drawer: 'huts', band: 'header' }, { drawer: 'huts', band: 'footer' }));
    expect(below.body[0]!.footer).not.toHaveProperty('everyPage');
    expect(moveBand(report, { drawer: 'huts', band: 'empty' }, to)).toBeNull();
  });

  it('are copied with items of their own', () => {
    const copied = after(copyBand(report, { drawer: null, band: 'header' }, { drawer: null, band: 'pageHeader' }));
    expect(copied.header).toBe(report.header);
    expect(copied.pageHeader!.items).toMatchObject([{ formula: 'report.name' }]);
    expect(copied.pageHeader!.items[0]!.id).not.toBe('title');
    expect(plan(copied).problems).toEqual([]);
  });
});
