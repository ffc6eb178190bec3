declare module 'zip-stream' {
  import type { Readable } from 'node:stream';
  import type { ZlibOptions } from 'node:zlib';

  export default class ZipStream extends Readable {
    constructor(options?: { zlib?: ZlibOptions; forceZip64?: boolean });
    entry(
      source: Readable | Buffer | string,
      data: { name: string; store?: boolean; date?: Date },
      done: (error: Error | null) => void,
    ): this;
    finish(): void;
  }
}
