import { describe, expect, it } from 'vitest';
import { readDefinition } from '../definition/read.ts';
import { findItem } from '../definition/walk.ts';
import { TURNABLE } from '../items/edits.ts';
import { band, definition, field, hutModel, plan } from '../layout/huts.test-support.ts';
import { applyEdit } from './edit.ts';
import { turnInto, turnsInto } from './turning.ts';

const context = { models: [hutModel], report: () => null };
const report = definition({
  body: [
    {
      id: 'stays',
      name: 'stay',
      rows: { entity: 'stay' },
      detail: band(
        9,
        field('n', 'nights', { format: '0.0', style: 'Value', look: { bold: true }, panel: 'panel1' }),
        field('long', 'nights > 3', { x: 70 }),
        field('photo', 'photo', { x: 120 }),
        {
          kind: 'text',
          id: 'two',
          x: 0,
          y: 5,
          width: 30,
          height: 4,
          content: [{ formula: 'guest' }, { formula: 'id' }],
        },
        { kind: 'text', id: 'plain', x: 40, y: 5, width: 30, height: 4, content: ['The "old" hut'] },
      ),
    },
  ],
  styles: { Value: { size: 9 } },
});

describe('an item', () => {
  it('is turned into what suits its value', () => {
    expect(turnsInto(report, 'n', context)).toEqual(['text', 'barcode']);
    expect(turnsInto(report, 'long', context)).toEqual(['text', 'barcode', 'check']);
    expect(turnsInto(report, 'photo', context)).toEqual(['picture']);
    expect(turnsInto(report, 'two', context)).toEqual([]);
    expect(turnInto(report, 'two', 'field')).toBeNull();
    expect(turnsInto(report, 'plain', context)).toContain('field');
    const field = applyEdit(report, turnInto(report, 'plain', 'field')!);
    expect(findItem(field, 'plain')!.item).toMatchObject({ kind: 'field', formula: '"The ""old"" hut"' });
  });

  it('of words alone becomes a picture that they describe', () => {
    expect(turnsInto(report, 'plain', context)).toContain('picture');
    const picture = applyEdit(report, turnInto(report, 'plain', 'picture')!);
    const { item } = findItem(picture, 'plain')!;
    expect(item).toMatchObject({ kind: 'picture', x: 40, width: 30, alternative: 'The "old" hut' });
    expect(item).not.toHaveProperty('formula');
    expect(readDefinition(JSON.parse(JSON.stringify(picture))).ok).toBe(true);
    expect(turnsInto(report, 'n', context)).not.toContain('picture');
  });

  it('keeps its place, its value and what both kinds have, and is a whole definition each time', () => {
    const text = applyEdit(report, turnInto(report, 'n', 'text')!);
    expect(findItem(text, 'n')!.item).toMatchObject({
      kind: 'text',
      content: [{ formula: 'nights', format: '0.0' }],
      style: 'Value',
      look: { bold: true },
      panel: 'panel1',
    });
    for (const first of TURNABLE) {
      const once = applyEdit(report, turnInto(report, 'long', first)!);
      for (const kind of TURNABLE) {
        const twice = applyEdit(once, turnInto(once, 'long', kind)!);
        const { item } = findItem(twice, 'long')!;
        expect(item).toMatchObject({ kind, x: 70, width: 60 });
        expect(readDefinition(JSON.parse(JSON.stringify(twice))).ok, `${first} ${kind}`).toBe(true);
        if (kind !== 'picture') expect(plan(twice).problems).toEqual([]);
      }
    }
  });
});
