import { defineOutput } from '../output.ts';
import { type XmlOptions, xmlOptions } from './options.ts';

/** XML 1.0, nested as the drawers are, with an XML Schema (XSD 1.0) where that is asked for. */
export const xmlOutput = defineOutput<XmlOptions>({
  name: 'xml',
  label: 'XML',
  mime: 'application/xml',
  extension: 'xml',
  takes: 'rows',
  options: xmlOptions,
  fileFor: ({ schema }) =>
    schema === 'beside'
      ? { mime: 'application/zip', extension: 'zip' }
      : { mime: 'application/xml', extension: schema === 'alone' ? 'xsd' : 'xml' },
  write: async (run, sink, signal) => (await import('./xml.ts')).writeXml(run, sink, signal),
});
