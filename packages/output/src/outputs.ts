import type { Output } from './output.ts';
import { pdfOutput } from './pdf/output.ts';

/** Every file that a report can become without further modules. */
export const OUTPUTS: readonly Output[] = [pdfOutput];
