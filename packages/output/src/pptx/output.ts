import { defineOutput } from '../output.ts';
import { isInOrder, ORDER } from '../pages.ts';
import { type PptxOptions, pptxOptions } from './options.ts';

/** Pages as slides to work on (ECMA-376, PresentationML). */
export const pptxOutput = defineOutput<PptxOptions>({
  name: 'pptx',
  label: 'Slides (PPTX)',
  mime: 'application/vnd.openxmlformats-officedocument.presentationml.presentation',
  extension: 'pptx',
  takes: 'pages',
  options: pptxOptions.refine(isInOrder, ORDER),
  write: async (run, sink, signal) => (await import('./pptx.ts')).writePptx(run, sink, signal),
});
