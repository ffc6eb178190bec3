import { describe, expect, it } from 'vitest';
import { band, definition, field, lay } from '../layout/huts.test-support.ts';
import { applyEdit } from './edit.ts';
import { changeStyle, itemsOfStyle, removeStyle, renameStyle, styleFrom } from './styles.ts';

const report = definition({
  styles: { Base: { size: 12, color: '#1f5c4d' }, Loud: { basedOn: 'Base', bold: true } },
  body: [
    {
      id: 'huts',
      name: 'hut',
      rows: { entity: 'hut' },
      detail: band(
        12,
        field('a', 'name', { style: 'Loud', look: { italic: true } }),
        field('b', 'id', { style: 'Base', y: 6 }),
      ),
    },
  ],
});
const rows = { hut: [{ id: 1, name: 'Lago' }] };
/** What is drawn, whatever the styles are called. */
const drawn = async (of: typeof report) =>
  (await lay(of, rows)).pages[0]!.marks.flatMap((m) => (m.kind === 'text' ? [[m.text, m.font, m.size, m.color]] : []));
const items = (of: typeof report) => of.body[0]!.detail!.items as { style?: string; look?: object }[];

describe('named styles', () => {
  it('are made of the look that an item has, and change nothing by that', async () => {
    const made = applyEdit(report, styleFrom(report, report.body[0]!.detail!.items[0]!, ['a', 'b'], 'Mine'));
    expect(made.styles.Mine).toEqual({ size: 12, color: '#1f5c4d', bold: true, italic: true });
    expect(items(made).map((i) => [i.style, i.look])).toEqual([
      ['Mine', undefined],
      ['Mine', undefined],
    ]);
    expect((await drawn(made))[0]).toEqual((await drawn(report))[0]);
    expect(itemsOfStyle(made, 'Mine')).toEqual(['a', 'b']);
  });

  it('change everything that has them, or a style based on them', async () => {
    const larger = applyEdit(report, changeStyle(report, 'Base', { size: 20, color: null }));
    expect(larger.styles.Base).toEqual({ size: 20 });
    expect((await drawn(larger)).map(([, , size, color]) => [size, color])).toEqual([
      [20, '#1f2a2e'],
      [20, '#1f2a2e'],
    ]);
  });

  it('keep their place and their use when they are renamed', async () => {
    const renamed = applyEdit(report, renameStyle(report, 'Base', 'Ground'));
    expect(Object.keys(renamed.styles)).toEqual(['Ground', 'Loud']);
    expect(renamed.styles.Loud!.basedOn).toBe('Ground');
    expect(await drawn(renamed)).toEqual(await drawn(report));
  });

  it('leave their look behind when they are removed', async () => {
    const without = applyEdit(report, removeStyle(report, 'Base'));
    expect(without.styles).toEqual({ Loud: { size: 12, color: '#1f5c4d', bold: true } });
    const bare = applyEdit(without, removeStyle(without, 'Loud'));
    expect([bare.styles, items(bare).map((i) => i.style)]).toEqual([{}, [undefined, undefined]]);
    expect(await drawn(bare)).toEqual(await drawn(report));
    expect(applyEdit(report, removeStyle(report, 'Gone'))).toBe(report);
  });
});
