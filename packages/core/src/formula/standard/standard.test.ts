import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { compareNumeric, isNumeric, parseNumeric, toNumber } from '../../value/number.ts';
import type { Value } from '../../value/value.ts';
import { FormulaError, valueText } from '../../value/value.ts';
import { worked } from '../formulas.test-support.ts';

/** What of a number that never ends may be off, relative to it: doubles are worked with several times on the way to some. */
const TOLERANCE = 1e-12;

/** Whether a value is what a table writes: a number (`~` before one that never ends), `"text"`, TRUE, a day, or an error. */
const isAs = (value: Value, written: string): boolean => {
  if (written.startsWith('~')) {
    const expected = Number(written.slice(1));
    return isNumeric(value) && Math.abs(toNumber(value) - expected) <= TOLERANCE * Math.max(Math.abs(expected), 1e-3);
  }
  if (written.startsWith('#')) return value instanceof FormulaError && value.code === written;
  if (written.startsWith('"')) return value === written.slice(1, -1).replaceAll('""', '"');
  if (written === 'TRUE' || written === 'FALSE') return value === (written === 'TRUE');
  if (/^\d{4}-\d{2}-\d{2}$/.test(written)) return !isNumeric(value) && valueText(value) === written;
  const expected = parseNumeric(written);
  return isNumeric(value) && expected !== null && compareNumeric(value, expected) === 0;
};

const shown = (formula: string): Value | string => {
  try {
    return worked(formula);
  } catch (error) {
    return String(error);
  }
};

describe.each(['exact.tsv', 'standard.tsv'])('%s', (file) => {
  const lines = readFileSync(new URL(file, import.meta.url), 'utf8')
    .split('\n')
    .filter((line) => line !== '' && !line.startsWith('# '));
  const families: { name: string; cases: string[][] }[] = [];
  for (const line of lines) {
    if (line.startsWith('## ')) families.push({ name: line.slice(3), cases: [] });
    else families.at(-1)!.cases.push(line.split('\t'));
  }
  it.each(families)('$name', ({ cases }) => {
    const off = cases.flatMap(([formula = '', result = '']) => {
      const value = shown(formula);
      const isString = typeof value === 'string' && value.startsWith('Error');
      return !isString && isAs(value as Value, result)
        ? []
        : [`${formula} is ${isString ? value : valueText(value as Value)} and not ${result}`];
    });
    expect(off).toEqual([]);
    expect(cases.length).toBeGreaterThan(0);
  });
});

it('the exact cases are those that arithmetic and the calendar give', async () => {
  const { table } = await import(new URL('exact-cases.test-support.mjs', import.meta.url).href);
  expect(readFileSync(new URL('exact.tsv', import.meta.url), 'utf8')).toBe(table);
});
