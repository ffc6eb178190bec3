import { defineOutput } from '../output.ts';
import { type JsonOptions, jsonOptions } from './options.ts';

/** JSON (RFC 8259), nested as the drawers are, or JSON Lines. */
export const jsonOutput = defineOutput<JsonOptions>({
  name: 'json',
  label: 'JSON',
  mime: 'application/json',
  extension: 'json',
  takes: 'rows',
  options: jsonOptions,
  fileFor: ({ form }) =>
    form === 'lines'
      ? { mime: 'application/x-ndjson', extension: 'jsonl' }
      : { mime: 'application/json', extension: 'json' },
  write: async (run, sink, signal) => (await import('./json.ts')).writeJson(run, sink, signal),
});
