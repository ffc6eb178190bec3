import { csvOutput, tsvOutput } from './csv/output.ts';
import { docxOutput } from './docx/output.ts';
import { flowingHtmlOutput } from './html/flowing-output.ts';
import { pagedHtmlOutput } from './html/output.ts';
import { jpegOutput, pngOutput, tiffOutput } from './image/output.ts';
import { jsonOutput } from './json/output.ts';
import { markdownOutput } from './markdown/output.ts';
import { odsDataOutput } from './ods/data-output.ts';
import { odsOutput } from './ods/output.ts';
import { odtOutput } from './odt/output.ts';
import type { Output } from './output.ts';
import { pdfOutput } from './pdf/output.ts';
import { pptxOutput } from './pptx/output.ts';
import { svgOutput } from './svg/output.ts';
import { textOutput } from './text/output.ts';
import { xlsxDataOutput } from './xlsx/output.ts';
import { xlsxOutput } from './xlsx/seen-output.ts';
import { xmlOutput } from './xml/output.ts';

/** Every file that a report can become without further modules. */
export const OUTPUTS: readonly Output[] = [
  pdfOutput,
  pagedHtmlOutput,
  xlsxOutput,
  odsOutput,
  docxOutput,
  odtOutput,
  pptxOutput,
  flowingHtmlOutput,
  markdownOutput,
  textOutput,
  svgOutput,
  pngOutput,
  jpegOutput,
  tiffOutput,
  xlsxDataOutput,
  odsDataOutput,
  csvOutput,
  tsvOutput,
  jsonOutput,
  xmlOutput,
];
