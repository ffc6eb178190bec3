import { describe, expect, it } from 'vitest';
import { type Checked, formulaKey } from '../../formula/checked.ts';
import { parseNumeric } from '../../value/number.ts';
import { sumOf } from './sums.ts';

const field = (column: number): Checked => ({ kind: 'field', level: 0, column, type: 'number' });
const number = (written: string): Checked => ({ kind: 'literal', value: parseNumeric(written)!, type: 'number' });
const binary = (operator: '+' | '-' | '*' | '/' | '^', left: Checked, right: Checked): Checked => ({
  kind: 'binary',
  operator,
  left,
  right,
  type: 'number',
});
const call = (name: string, ...given: Checked[]): Checked => ({ kind: 'call', name, arguments: given, type: 'number' });

const [nights, rate] = [field(1), field(2)];
const named = (part: Checked): string => formulaKey(part);
const of = (part: Checked): { of: string } => ({ of: named(part) });

describe('how a number is worked out', () => {
  it('is told in its parts, each of which may be shown elsewhere as well', () => {
    const product = binary('*', nights, rate);
    expect(sumOf(product, named)).toEqual({ operator: '*', parts: [of(nights), of(rate)] });
    expect(sumOf(binary('-', product, number('2.50')), named)).toEqual({
      operator: '-',
      parts: [{ ...of(product), operator: '*', parts: [of(nights), of(rate)] }, { number: '2.5' }],
    });
    const negative: Checked = { kind: 'unary', operator: '-', operand: rate, type: 'number' };
    expect(sumOf(negative, named)).toEqual({ operator: '-', parts: [of(rate)] });
  });

  it('is told of rounding to a number of decimals that is written there', () => {
    const product = binary('*', nights, rate);
    const inner = { ...of(product), operator: '*', parts: [of(nights), of(rate)] };
    expect(sumOf(call('ROUND', product, number('2')), named)).toEqual({ round: 2, part: inner });
    expect(sumOf(call('ROUND', product), named)).toEqual({ round: 0, part: inner });
    expect(sumOf(call('ROUND', product, nights), named)).toBeNull();
    expect(sumOf(call('ROUND', product, number('0.5')), named)).toBeNull();
  });

  it('is a part that is only shown where it is more than a calculation', () => {
    const root = call('SQRT', nights);
    expect(sumOf(binary('+', root, number('1')), named)).toEqual({ operator: '+', parts: [of(root), { number: '1' }] });
    const power = binary('^', nights, number('2'));
    expect(sumOf(binary('*', power, rate), named)).toEqual({ operator: '*', parts: [of(power), of(rate)] });
  });

  it('is not told of what has no parts, does something else, or is no number', () => {
    expect(sumOf(nights, named)).toBeNull();
    expect(sumOf(number('3'), named)).toBeNull();
    expect(sumOf(call('SQRT', nights), named)).toBeNull();
    expect(sumOf({ ...binary('+', nights, rate), type: 'date' }, named)).toBeNull();
    expect(sumOf(binary('+', nights, { ...rate, type: 'text' }), named)).toBeNull();
  });

  it('ends with what is nested deeper than spreadsheets should be made to read', () => {
    let deep: Checked = nights;
    for (let i = 0; i < 400; i++) deep = binary('+', deep, number('1'));
    expect(() => JSON.stringify(sumOf(deep, () => 'x'))).not.toThrow();
    expect(JSON.stringify(sumOf(deep, () => 'x')).length).toBeLessThan(1_000);
  });
});
