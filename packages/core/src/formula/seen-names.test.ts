import { expect, it } from 'vitest';
import { withNames } from './seen-names.ts';

const OFFERED = [
  { insert: 'unit_price', label: 'Unit price' },
  { insert: 'quantity', label: 'Quantity' },
  { insert: 'hut.name', label: 'Name' },
  { insert: 'member.name', label: 'Name' },
  { insert: 'altitude', label: 'Altitude (m)' },
  { insert: 'unit', label: 'Unit' },
];

it.each([
  ['Unit price * Quantity', 'unit_price * quantity'],
  ['SUM(unit PRICE*quantity)', 'SUM(unit_price*quantity)'],
  ['Name & ", Name of " & Unit', 'hut.name & ", Name of " & unit'],
  ['Altitude (m) / 1000', 'altitude / 1000'],
  // What is a name, a part of one, or a function stays what it is.
  ['unit_price + hut.Name', 'unit_price + hut.Name'],
  ['NAME(3) + Quantityx', 'NAME(3) + Quantityx'],
  ['"Unit price', '"Unit price'],
  ['', ''],
])('%s means %s', (seen, meant) => {
  expect(withNames(seen, OFFERED)).toBe(meant);
});
