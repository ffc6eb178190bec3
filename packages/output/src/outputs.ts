import { csvOutput, tsvOutput } from './csv/output.ts';
import { jsonOutput } from './json/output.ts';
import type { Output } from './output.ts';
import { pdfOutput } from './pdf/output.ts';
import { xmlOutput } from './xml/output.ts';

/** Every file that a report can become without further modules. */
export const OUTPUTS: readonly Output[] = [pdfOutput, csvOutput, tsvOutput, jsonOutput, xmlOutput];
