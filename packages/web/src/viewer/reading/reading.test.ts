import { describe, expect, it } from 'vitest';
import type { Memory } from '../../ui/memory.ts';
import { pagesOf, type ReadingMode, rowCount, rowOf, rowSize, zoomIn, zoomStep } from './modes.ts';
import { type KeyPlace, readingCommand } from './reading-keys.ts';
import { rememberedReading, rememberReading } from './remembered-reading.ts';
import { turnOf } from './use-swipe.ts';

/** A4 upright, from page 4 on lying. */
const SIZES = [
  { page: 1, width: 595, height: 842 },
  { page: 4, width: 842, height: 595 },
];

describe('how pages stand', () => {
  it('one below the other, or in pairs of which the last may be alone', () => {
    expect(rowCount('continuous', 5)).toBe(5);
    expect(rowCount('two', 5)).toBe(3);
    expect([1, 2, 3, 4, 5].map((page) => rowOf('two', page))).toEqual([0, 0, 1, 1, 2]);
    expect([0, 1, 2].map((row) => pagesOf('two', row, 5))).toEqual([[1, 2], [3, 4], [5]]);
    expect(pagesOf('single', 4, 5)).toEqual([5]);
  });

  it('a row is as wide as its pages with what is between them, and as high as the highest', () => {
    const { width, height } = rowSize([3, 4], SIZES, 0.75);
    expect(width).toBeCloseTo(595 + 842 + 18);
    expect(height).toBeCloseTo(842);
  });
});

describe('how large pages are', () => {
  const room = { width: 1000, height: 700 };
  const zoom = (of: Parameters<typeof zoomIn>[0], mode: ReadingMode = 'continuous', page = 1) =>
    zoomIn(of, mode, SIZES, page, room);

  it('fits the widest row into the window, or the whole page that is read', () => {
    expect(zoom('width') * 842 * (96 / 72)).toBeCloseTo(1000);
    expect(zoom('page') * 842 * (96 / 72)).toBeCloseTo(700);
    expect(zoom('page', 'continuous', 4) * 595 * (96 / 72)).toBeCloseTo(700);
    expect(zoom('width', 'two') * 2 * 842 * (96 / 72)).toBeCloseTo(1000 - 18);
  });

  it('is the actual size by itself, unless that is too wide', () => {
    expect(zoom('auto')).toBeCloseTo(zoom('width'));
    expect(zoomIn('auto', 'continuous', SIZES, 1, { width: 2000, height: 900 })).toBe(1);
    expect(zoomIn('auto', 'continuous', SIZES, 1, null)).toBe(1);
  });

  it('goes in steps that stop at the actual size and at the ends', () => {
    expect(zoomStep(0.93, 1)).toBe(1);
    expect(zoomStep(1.1, -1)).toBe(1);
    expect(zoomStep(1, 1)).toBeCloseTo(1.2);
    expect([zoomStep(4.9, 1), zoomStep(0.21, -1)]).toEqual([5, 0.2]);
  });
});

describe('keys', () => {
  const press = (key: string, place: Partial<KeyPlace> = {}, more: object = {}) =>
    readingCommand(
      { key, shiftKey: false, altKey: false, ctrlKey: false, metaKey: false, ...more },
      { isPresented: false, mode: 'continuous', hasRoom: () => true, ...place },
    );

  it('choose modes and sizes, and leave commands of the browser alone', () => {
    expect([press('3'), press('W'), press('+'), press('f'), press('o')]).toEqual([
      { mode: 'two' },
      { zoom: 'width' },
      { zoomBy: 1 },
      'present',
      'wing',
    ]);
    expect([press('w', {}, { ctrlKey: true }), press('PageDown'), press(' '), press('q')]).toEqual([
      null,
      null,
      null,
      null,
    ]);
  });

  it('scroll a page that is shown alone first, and turn it at its end', () => {
    const single = { mode: 'single' } as const;
    expect(press('PageDown', single)).toBeNull();
    const atEnd = { ...single, hasRoom: () => false };
    expect([press('PageDown', atEnd), press(' ', atEnd, { shiftKey: true }), press('End', single)]).toEqual([
      { turn: 1 },
      { turn: -1 },
      { end: 'last' },
    ]);
  });

  it('turn pages that are presented, and end that', () => {
    const presented = { isPresented: true };
    expect(['ArrowDown', ' ', 'Backspace', 'Escape'].map((key) => press(key, presented))).toEqual([
      { turn: 1 },
      { turn: 1 },
      { turn: -1 },
      'leave',
    ]);
    expect(press(' ', presented, { shiftKey: true })).toEqual({ turn: -1 });
    expect(press('3', presented)).toBeNull();
  });
});

it('a finger that goes across turns the page, one that goes up or down does not', () => {
  expect([turnOf(-90, 10, false), turnOf(90, 10, false), turnOf(-90, 10, true)]).toEqual([1, -1, -1]);
  expect([turnOf(-30, 0, false), turnOf(-90, 80, false)]).toEqual([null, null]);
});

it('the way of reading comes back, and what is kept of it may be anything', () => {
  let kept: string | null = null;
  const memory: Memory = {
    getItem: () => kept,
    setItem: (_, value) => {
      kept = value;
    },
    removeItem: () => {},
  };
  expect(rememberedReading(memory, false)).toEqual({ mode: 'continuous', zoom: 'auto' });
  expect(rememberedReading(memory, true)).toEqual({ mode: 'single', zoom: 'width' });
  rememberReading(memory, { mode: 'two', zoom: 1.25 });
  expect(rememberedReading(memory, true)).toEqual({ mode: 'two', zoom: 1.25 });
  for (const [text, zoom] of [
    ['long 900', 5],
    ['long <b>', 'auto'],
    ['long page', 'page'],
  ] as const) {
    kept = text;
    expect(rememberedReading(memory, false)).toEqual({ mode: 'long', zoom });
  }
});
