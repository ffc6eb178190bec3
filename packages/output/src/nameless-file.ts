import { randomUUID } from 'node:crypto';
import { type FileHandle, open, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** Bytes that are read at once when a file is sent. */
const CHUNK = 256 * 1024;

/** Bytes that are copied at once from one to another. */
const COPIED = 4 * 1024 * 1024;

/** A temporary file that has no name any more once it is open, so that nothing of it stays when the process is ended. */
export class NamelessFile {
  size = 0;
  private isClosed = false;

  private constructor(
    private readonly file: FileHandle,
    /** Null where the name is gone already. */
    private readonly path: string | null,
  ) {}

  static async open(): Promise<NamelessFile> {
    const path = join(tmpdir(), `gaveta-run-${randomUUID()}`);
    const file = await open(path, 'wx+', 0o600);
    // Some systems do not let go of the name while the file is open.
    const isGone = await rm(path).then(
      () => true,
      () => false,
    );
    return new NamelessFile(file, isGone ? null : path);
  }

  /** Adds bytes at the end; one caller at a time. */
  async append(data: Uint8Array): Promise<void> {
    let written = 0;
    while (written < data.length) {
      const { bytesWritten } = await this.file.write(data, written, data.length - written, this.size + written);
      written += bytesWritten;
    }
    this.size += data.length;
  }

  /** Adds the first `length` bytes of another file. Throws when that is closed. */
  async copy(other: NamelessFile, length: number): Promise<void> {
    for (let at = 0; at < length; at += COPIED) {
      const data = await other.read(at, Math.min(COPIED, length - at));
      if (!data) throw new Error('the file was let go');
      await this.append(data);
    }
  }

  /** Null once it is closed. */
  async read(offset: number, length: number): Promise<Buffer | null> {
    if (this.isClosed) return null;
    const data = Buffer.alloc(length);
    await this.file.read(data, 0, length, offset);
    return data;
  }

  /** All that it holds, for one who takes it at a pace of their own. */
  async *chunks(): AsyncGenerator<Buffer> {
    for (let at = 0; at < this.size; at += CHUNK) {
      const data = await this.read(at, Math.min(CHUNK, this.size - at));
      if (!data) throw new Error('the file was let go');
      yield data;
    }
  }

  async close(): Promise<void> {
    if (this.isClosed) return;
    this.isClosed = true;
    await this.file.close();
    if (this.path !== null) await rm(this.path, { force: true });
  }
}
