import { defineOutput } from '../output.ts';
import { type SvgOptions, svgOptions } from './options.ts';

/** SVG 1.1, page by page. */
export const svgOutput = defineOutput<SvgOptions>({
  name: 'svg',
  label: 'SVG',
  mime: 'image/svg+xml',
  extension: 'svg',
  takes: 'pages',
  options: svgOptions,
  fileFor: ({ form, from, to }) =>
    form === 'each' && (from === undefined || from !== to)
      ? { mime: 'application/zip', extension: 'zip' }
      : { mime: 'image/svg+xml', extension: 'svg' },
  write: async (run, sink, signal) => (await import('./svg.ts')).writeSvg(run, sink, signal),
});
