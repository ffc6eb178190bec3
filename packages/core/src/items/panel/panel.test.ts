import { describe, expect, it } from 'vitest';
import { applyEdit } from '../../edit/edit.ts';
import { band, definition, lay } from '../../layout/huts.test-support.ts';
import { POINTS } from '../../layout/prepared.ts';
import type { RectangleMark, TextMark } from '../../page/page.ts';

const panel = (more: object = {}) => ({
  kind: 'panel',
  id: 'p',
  x: 10,
  y: 10,
  width: 80,
  height: 30,
  fill: '#faf5e8',
  padding: 3,
  gap: 2,
  ...more,
});
const words = (id: string, x: number, y: number, text: string, more: object = {}) => ({
  kind: 'text',
  id,
  x,
  y,
  width: 70,
  height: 5,
  content: [text],
  ...more,
});

const report = (...items: object[]) => definition({ header: band(60, ...items), body: [] });

const laid = async (...items: object[]) => {
  const { pages, result } = await lay(report(...items), {});
  expect(result.problems).toEqual([]);
  const { marks } = pages[0]!;
  return {
    frame: marks.find((mark): mark is RectangleMark => mark.kind === 'rectangle') ?? null,
    texts: new Map(
      marks.filter((mark): mark is TextMark => mark.kind === 'text').map((mark) => [mark.item!, mark] as const),
    ),
  };
};

describe('a panel', () => {
  it('stacks what lies inside it: what grows moves the others, the frame and what stands below', async () => {
    const long = 'word '.repeat(60);
    const short = await laid(
      words('b', 15, 25, 'second'),
      words('a', 15, 13, 'first'),
      panel(),
      words('below', 10, 45, 'below'),
    );
    const grown = await laid(
      words('b', 15, 25, 'second'),
      words('a', 15, 13, long),
      panel(),
      words('below', 10, 45, 'below'),
    );
    // Each after the one before, with the gap between them, wherever they were drawn.
    const step = short.texts.get('b')!.y - short.texts.get('a')!.y;
    expect(step).toBeCloseTo(7 * POINTS, 1);
    expect(short.frame!.height).toBeCloseTo((5 + 2 + 5 + 6) * POINTS, 1);
    const by = grown.frame!.height - short.frame!.height;
    expect(by).toBeGreaterThan(20);
    expect(grown.texts.get('b')!.y - short.texts.get('b')!.y).toBeCloseTo(by, 1);
    expect(grown.texts.get('below')!.y - short.texts.get('below')!.y).toBeCloseTo(by, 1);
  });

  it('closes up where one of its items is left out, and is left out itself when all are', async () => {
    const both = [words('a', 15, 13, 'first', { showIf: 'FALSE' }), words('b', 15, 25, 'second')];
    const { texts, frame } = await laid(panel(), ...both);
    expect(texts.get('b')!.y).toBeLessThan((await laid(panel(), words('a', 15, 13, 'x'), both[1]!)).texts.get('b')!.y);
    expect(frame!.height).toBeCloseTo((5 + 6) * POINTS, 1);
    const none = [words('a', 15, 13, 'first', { showIf: 'FALSE' })];
    expect((await laid(panel({ leaveOutEmpty: true }), ...none)).frame).toBeNull();
    const hidden = await laid(panel({ showIf: 'FALSE' }), ...both);
    expect(hidden.frame).toBeNull();
    expect(hidden.texts.size).toBe(0);
  });

  it('stands its items side by side, in line with one another', async () => {
    const narrow = { width: 20 };
    const items = [
      words('a', 15, 13, 'one', narrow),
      words('b', 60, 20, 'two', narrow),
      words('c', 40, 13, 'three', narrow),
    ];
    const { texts } = await laid(panel({ stack: 'row', align: 'middle' }), ...items);
    const lefts = ['a', 'c', 'b'].map((id) => texts.get(id)!.x / POINTS);
    expect(lefts[1]! - lefts[0]!).toBeCloseTo(22, 1);
    expect(lefts[2]! - lefts[1]!).toBeCloseTo(22, 1);
    expect(new Set([...texts.values()].map(({ y }) => Math.round(y))).size).toBe(1);
  });

  it('lines its items up, and holds another panel', async () => {
    const start = await laid(panel({ align: 'start' }), words('a', 50, 13, 'one', { width: 20 }));
    const end = await laid(panel({ align: 'end' }), words('a', 50, 13, 'one', { width: 20 }));
    expect((end.texts.get('a')!.x - start.texts.get('a')!.x) / POINTS).toBeCloseTo(54, 1);
    const inner = panel({ id: 'q', x: 13, y: 13, width: 70, height: 12, fill: undefined });
    const nested = await laid(
      panel(),
      inner,
      words('a', 16, 15, 'in both', { width: 60 }),
      words('b', 13, 30, 'in one'),
    );
    expect(nested.texts.get('b')!.y).toBeGreaterThan(nested.texts.get('a')!.y);
    expect(nested.frame!.height).toBeCloseTo((6 + 11 + 2 + 5) * POINTS, 1);
  });

  it('takes what lies in it along when it is moved, and what lies elsewhere stays', () => {
    const before = report(panel(), words('a', 15, 13, 'in'), words('b', 100, 13, 'out'));
    const after = applyEdit(before, { do: 'move', items: ['p'], dx: 5, dy: 4 });
    const places = after.header!.items.map(({ id, x, y }) => [id, x, y]);
    expect(places).toEqual([
      ['p', 15, 14],
      ['a', 20, 17],
      ['b', 100, 13],
    ]);
  });
});
