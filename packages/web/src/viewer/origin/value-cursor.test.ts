import { expect, it } from 'vitest';
import { type Direction, nextPlace } from './value-cursor.ts';

/** A table of three rows, whose first column is wide. */
const TABLE = [0, 1, 2].flatMap((row) =>
  [
    [0, 200],
    [300, 340],
    [400, 440],
  ].map(([left, right]) => ({ left: left!, right: right!, top: row * 20, bottom: row * 20 + 12 })),
);

const go = (from: number, direction: Direction): number => nextPlace(TABLE, TABLE[from]!, direction);

it('arrows move from value to value as they stand in a table', () => {
  expect([go(0, 'ArrowRight'), go(1, 'ArrowRight'), go(2, 'ArrowRight')]).toEqual([1, 2, -1]);
  expect([go(1, 'ArrowDown'), go(4, 'ArrowUp'), go(5, 'ArrowLeft'), go(7, 'ArrowDown')]).toEqual([4, 1, 4, -1]);
});

it('a value that is not straight above or below is reached where no other is', () => {
  const heading = { left: 0, right: 120, top: -40, bottom: -20 };
  expect(nextPlace([...TABLE, heading], TABLE[2]!, 'ArrowUp')).toBe(9);
});
