import type { z } from 'zod';
import { xlsxDataOptions } from '../xlsx/options.ts';
import { xlsxOptions } from '../xlsx/seen-options.ts';

/** The same as of the other workbook. */
export const odsOptions = xlsxOptions;

export type { XlsxOptions as OdsOptions } from '../xlsx/seen-options.ts';

/** Each set of rows has a sheet of its own. */
export const odsDataOptions = xlsxDataOptions.omit({ sheets: true });

export type OdsDataOptions = z.output<typeof odsDataOptions>;
