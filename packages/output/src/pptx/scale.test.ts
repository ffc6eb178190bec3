import type { Mark } from '@gaveta/core/internal';
import { describe, expect, it } from 'vitest';
import { textMark } from '../marks.test-support.ts';
import { scaled, scaledPlace, scaleTo } from './scale.ts';

const A4 = { width: 595, height: 842 };

describe('a page on slides of another size', () => {
  it('becomes as small as they are, and never larger', () => {
    expect(scaleTo(A4, A4)).toBe(1);
    expect(scaleTo({ width: 842, height: 595 }, A4)).toBeCloseTo(595 / 842);
    expect(scaleTo({ width: 595, height: 1684 }, A4)).toBeCloseTo(0.5);
    expect(scaleTo({ width: 100, height: 100 }, A4)).toBe(1);
  });

  it('keeps the places of its marks to one another, and the thickness of lines', () => {
    expect(scaled(textMark('t', 'Hut', 100, 40), 0.5)).toMatchObject({ x: 50, y: 20, size: 5, text: 'Hut' });
    const line = { kind: 'line', x: 10, y: 20, x2: 110, y2: 20, color: '#000000', thickness: 2 } as const;
    expect(scaled(line, 0.5)).toMatchObject({ x: 5, y: 10, x2: 55, y2: 10, thickness: 1 });
    const box = { kind: 'rectangle', x: 10, y: 20, width: 40, height: 8, radius: 4 } as const;
    expect(scaled(box, 0.5)).toMatchObject({ x: 5, y: 10, width: 20, height: 4, radius: 2, thickness: 0.5 });
    expect(scaledPlace({ x: 2, y: 4, width: 6, height: 8 }, 0.5)).toEqual({ x: 1, y: 2, width: 3, height: 4 });
  });

  it('shows the same part of a picture', () => {
    const whole = { kind: 'picture', picture: 'h', alternative: '', x: 10, y: 10, width: 100, height: 60 } as const;
    const seen = scaled({ ...whole, window: { x: 20, y: 0, width: 40, height: 60 } }, 0.5);
    expect(seen).toMatchObject({ width: 50, height: 30, window: { x: 10, y: 0, width: 20, height: 30 } });
    expect(scaled(whole, 0.5)).not.toHaveProperty('window');
  });

  it('leaves what becomes a picture as it is, and everything where nothing is to be done', () => {
    const path = { kind: 'path', x: 1, y: 1, width: 5, height: 5, d: 'M 0 0 L 5 5' } as unknown as Mark;
    expect(scaled(path, 0.5)).toBe(path);
    const text = textMark('t', 'Hut', 1, 2);
    expect(scaled(text, 1)).toBe(text);
  });
});
