import { Writable } from 'node:stream';
import { type ProblemValue, SaidError } from '@gaveta/core/internal';

/** Bytes that may wait to leave. */
const ROOM = 256 * 1024;

/** A stream whose bytes leave a thread through a call of its host. */
export const fileSink = (write: (data: Uint8Array) => Promise<void>): Writable => {
  const send = (data: Uint8Array, done: (error?: Error | null) => void): void => {
    write(data).then(() => done(), done);
  };
  return new Writable({
    highWaterMark: ROOM,
    write: (chunk: Buffer, _, done) => send(chunk, done),
    // What waits leaves together: a file comes in small pieces.
    writev: (chunks, done) => send(Buffer.concat(chunks.map(({ chunk }) => chunk as Buffer)), done),
  });
};

/** Why a file was not made; null when it was. An answer and no error, which would lose what it is on its way out of a thread. */
export const refusalOf = async (write: () => Promise<void>): Promise<ProblemValue | null> => {
  try {
    await write();
    return null;
  } catch (error) {
    if (error instanceof SaidError) return error.said;
    throw error;
  }
};
