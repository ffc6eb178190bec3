import { Writable } from 'node:stream';

/** Where a file goes in a test; `bytes` gives what has come so far. */
export const collecting = (): { sink: Writable; bytes: () => Buffer } => {
  const chunks: Buffer[] = [];
  const sink = new Writable({
    write: (chunk: Buffer, _, done) => {
      chunks.push(chunk);
      done();
    },
  });
  return { sink, bytes: () => Buffer.concat(chunks) };
};
