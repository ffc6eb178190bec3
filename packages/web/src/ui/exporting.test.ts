import { expect, it } from 'vitest';
import { EXPORTING, isExporting } from './exporting.ts';

it('tells by the place in the history whether the export is to open, whatever else is left there', () => {
  expect(isExporting(EXPORTING)).toBe(true);
  for (const other of [null, undefined, {}, 'exports', { exports: false }, { exports: 'yes' }, 7])
    expect(isExporting(other)).toBe(false);
});
