import { xlsxOptions } from '../xlsx/seen-options.ts';

/** The same as of the other workbook. */
export const odsOptions = xlsxOptions;

export type { XlsxOptions as OdsOptions } from '../xlsx/seen-options.ts';
