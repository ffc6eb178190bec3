import { Writable } from 'node:stream';

/** Where a file goes that is held in memory; `bytes` gives what has come so far. */
export const inMemory = (): { sink: Writable; bytes: () => Buffer } => {
  const chunks: Buffer[] = [];
  const sink = new Writable({
    write: (chunk: Buffer, _, done) => {
      chunks.push(chunk);
      done();
    },
  });
  return { sink, bytes: () => Buffer.concat(chunks) };
};
