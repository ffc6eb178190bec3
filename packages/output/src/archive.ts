import { PassThrough, type Writable } from 'node:stream';
import ZipStream from 'zip-stream';
import { Target } from './target.ts';

/** A file in an archive, which is written before the next one begins. */
export interface ArchivedFile {
  /** Ended by whoever writes the file. */
  stream: Writable;
  /** Resolves when the archive has all of it. */
  done: Promise<void>;
}

/** A zip (PKWARE’s APPNOTE) of files that are written one after another; memory holds none of them. */
export class Archive {
  private readonly zip: ZipStream;
  private readonly target: Target;
  private readonly lowered = new Set<string>();
  private readonly held: string[] = [];

  /** `level`: of compression, 0 to 9. */
  constructor(sink: Writable, { level = 6 }: { level?: number } = {}) {
    this.zip = new ZipStream({ zlib: { level } });
    this.target = new Target(sink);
    this.zip.on('error', (error: Error) => sink.destroy(error));
    // Whoever takes the archive went away: what is being packed has nowhere to go.
    sink.on('close', () => this.zip.destroy());
    this.zip.pipe(sink);
  }

  /** `stored`: kept as it is, as what is packed already. */
  begin(name: string, { stored = false }: { stored?: boolean } = {}): ArchivedFile {
    this.target.check();
    const stream = new PassThrough();
    const done = new Promise<void>((resolve, reject) => {
      this.zip.entry(stream, { name: this.free(name), store: stored, date: EPOCH }, (error) =>
        error ? reject(error) : resolve(),
      );
    });
    // Heard by whoever waits for the file; the target tells the same.
    done.catch(() => {});
    return { stream, done };
  }

  /** A whole file at once. */
  async add(name: string, data: Uint8Array | string, settings: { stored?: boolean } = {}): Promise<void> {
    const { stream, done } = this.begin(name, settings);
    stream.end(data);
    await this.taken(done);
  }

  /** A whole file of parts, one after the other. */
  async stitch(
    name: string,
    parts: readonly (string | { chunks(): AsyncIterable<Uint8Array> })[],
    signal: AbortSignal,
  ): Promise<void> {
    const { stream, done } = this.begin(name);
    const write = async (chunk: Uint8Array | string): Promise<void> => {
      signal.throwIfAborted();
      if (!stream.write(chunk)) await this.taken(new Promise((resolve) => stream.once('drain', resolve)));
    };
    for (const part of parts) {
      if (typeof part === 'string') await write(part);
      else for await (const chunk of part.chunks()) await write(chunk);
    }
    stream.end();
    await this.taken(done);
  }

  /** Waits for a file that is being packed; throws when the target fails meanwhile. */
  async taken(done: Promise<void>): Promise<void> {
    await Promise.race([done, this.target.failed]);
  }

  /** Files in it so far whose names begin so. */
  names(start: string): string[] {
    return this.held.filter((name) => name.startsWith(start));
  }

  private free(name: string): string {
    let free = name;
    for (let n = 2; this.lowered.has(free.toLowerCase()); n++) free = name.replace(/(\.[^.]*)?$/, `-${n}$1`);
    this.lowered.add(free.toLowerCase());
    this.held.push(free);
    return free;
  }

  /** Resolves when all of it has been taken. */
  async end(): Promise<void> {
    this.zip.finish();
    await this.target.finished();
  }
}

/** The same content makes the same archive. */
const EPOCH = new Date(Date.UTC(1980, 0, 1));
