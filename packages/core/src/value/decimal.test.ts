import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Decimal } from './decimal.ts';

/** A decimal as an exact fraction of integers: the slow, plain way that the fast one is held against. */
const text = fc
  .tuple(fc.bigInt(-(10n ** 22n), 10n ** 22n), fc.integer({ min: 0, max: 9 }))
  .map(([c, scale]) => ({ c, scale, decimal: Decimal.of(c, scale) }));
const scaled = (c: bigint, from: number, to: number): bigint => c * 10n ** BigInt(to - from);

describe('exact decimals', () => {
  it('add, subtract and multiply without losing a digit', () => {
    fc.assert(
      fc.property(text, text, (a, b) => {
        const scale = Math.max(a.scale, b.scale);
        const x = scaled(a.c, a.scale, scale);
        const y = scaled(b.c, b.scale, scale);
        expect(a.decimal.add(b.decimal).compare(Decimal.of(x + y, scale))).toBe(0);
        expect(a.decimal.subtract(b.decimal).compare(Decimal.of(x - y, scale))).toBe(0);
        expect(a.decimal.multiply(b.decimal).compare(Decimal.of(a.c * b.c, a.scale + b.scale))).toBe(0);
        expect(a.decimal.compare(b.decimal)).toBe(x < y ? -1 : x > y ? 1 : 0);
      }),
    );
  });

  it('read back what they write', () => {
    fc.assert(
      fc.property(text, ({ decimal }) => {
        expect(Decimal.parse(decimal.toString())?.toString()).toBe(decimal.toString());
      }),
    );
  });

  it('round half away from zero, as PostgreSQL does', () => {
    const round = (value: string, digits: number): string => Decimal.parse(value)!.round(digits).toString();
    expect([round('2.345', 2), round('-2.345', 2), round('0.005', 2), round('1250', -2), round('-0.5', 0)]).toEqual([
      '2.35',
      '-2.35',
      '0.01',
      '1300',
      '-1',
    ]);
  });

  it('divide to 34 digits, and give nothing for a division by zero', () => {
    expect(Decimal.of(1).divide(Decimal.of(3))!.toString()).toBe(`0.${'3'.repeat(34)}`);
    expect(Decimal.of(10).divide(Decimal.of(4))!.toString()).toBe('2.5');
    expect(Decimal.of(1).divide(Decimal.of(0, 2))).toBeNull();
  });

  it('take a double for what it shows: 0.1 is a tenth', () => {
    expect(Decimal.fromNumber(0.1)!.add(Decimal.fromNumber(0.2)!).toString()).toBe('0.3');
    expect(Decimal.parse('twelve')).toBeNull();
  });
});
