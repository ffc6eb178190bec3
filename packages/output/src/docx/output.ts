import { defineOutput } from '../output.ts';
import { type DocxOptions, docxOptions } from './options.ts';

/** What a report shows as a document to write on in (ECMA-376, WordprocessingML). */
export const docxOutput = defineOutput<DocxOptions>({
  name: 'docx',
  label: 'Document (DOCX)',
  mime: 'application/vnd.openxmlformats-officedocument.wordprocessingml.document',
  extension: 'docx',
  takes: 'content',
  options: docxOptions,
  write: async (run, sink, signal) => (await import('./docx.ts')).writeDocx(run, sink, signal),
});
