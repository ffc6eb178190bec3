import type { Item } from '@gaveta/core/internal';
import { expect, it } from 'vitest';
import { hasRoom } from './looks.ts';

const box = (more: object = {}): Item =>
  ({ kind: 'field', id: 'f', x: 0, y: 0, width: 30, height: 5, formula: 'name', ...more }) as Item;

it('words are cut off unless they surely have room', () => {
  const look = { size: 9 };
  expect(hasRoom(box(), 'name', look, 2)).toBe(true);
  expect(hasRoom(box(), 'a name that is far too long for it', look, 2)).toBe(false);
  // Wide letters take more room, and so do large ones, several lines and a padding.
  expect(hasRoom(box({ width: 20 }), '雪の深さ計', look, 2)).toBe(false);
  expect(hasRoom(box(), 'name', { size: 30 }, 2)).toBe(false);
  expect(hasRoom(box(), 'one\ntwo\nthree', look, 2)).toBe(false);
  expect(hasRoom(box(), 'name', { ...look, padding: 14 }, 2)).toBe(false);
});

it('a border, or a width that follows the paper, is always cut off at', () => {
  expect(hasRoom(box(), 'n', { border: { top: { width: 1 } } }, 2)).toBe(false);
  expect(hasRoom(box({ share: { width: 20 } }), 'n', {}, 2)).toBe(false);
});
