import { randomUUID } from 'node:crypto';
import { type FileHandle, open, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { ApiError } from '../base/api-error.ts';

interface Upload {
  owner: string;
  file: FileHandle;
  /** Null where the name is gone already. */
  path: string | null;
  size: number;
  at: number;
}

/** Uploads of one person that are kept, and for how many milliseconds. */
const KEPT = 5;
const PATIENCE = 15 * 60_000;

/** Files that were uploaded and are not part of a connection yet. */
export interface UploadBox {
  /** Takes a file as it comes, byte by byte; gives its id. Refuses one that is too large once that shows. */
  take(owner: string, source: Readable, signal: AbortSignal): Promise<{ id: string; size: number }>;
  /** The bytes of an uploaded file. Throws when it is not there for this owner. */
  read(owner: string, id: string): Promise<Uint8Array>;
  close(): Promise<void>;
}

/** Those that came to this process. They lie in files without a name. */
export class FileUploads implements UploadBox {
  private readonly files = new Map<string, Upload>();

  constructor(private readonly most: number) {}

  async take(owner: string, source: Readable, signal: AbortSignal): Promise<{ id: string; size: number }> {
    await this.letGo(owner);
    const id = randomUUID();
    const path = join(tmpdir(), `gaveta-upload-${id}`);
    const file = await open(path, 'wx+', 0o600);
    const isGone = await rm(path).then(
      () => true,
      () => false,
    );
    const upload: Upload = { owner, file, path: isGone ? null : path, size: 0, at: Date.now() };
    try {
      for await (const part of source) {
        signal.throwIfAborted();
        upload.size += part.length;
        if (upload.size > this.most)
          throw new ApiError('too-large', { limit: `${Math.round(this.most / 1024 / 1024)} MB` });
        await file.writeFile(part);
      }
    } catch (error) {
      await close(upload);
      throw error;
    }
    this.files.set(id, upload);
    return { id, size: upload.size };
  }

  async read(owner: string, id: string): Promise<Uint8Array> {
    const upload = this.files.get(id);
    if (!upload || upload.owner !== owner) throw new ApiError('unknown-upload');
    const bytes = new Uint8Array(upload.size);
    for (let at = 0; at < bytes.length; ) {
      const { bytesRead } = await upload.file.read(bytes, at, bytes.length - at, at);
      if (bytesRead === 0) throw new ApiError('unknown-upload');
      at += bytesRead;
    }
    return bytes;
  }

  private async letGo(owner: string): Promise<void> {
    const own = [...this.files].filter(([, f]) => f.owner === owner);
    const many = own.slice(0, Math.max(0, own.length - KEPT + 1)).map(([id]) => id);
    for (const [id, upload] of this.files) {
      if (!many.includes(id) && Date.now() - upload.at < PATIENCE) continue;
      this.files.delete(id);
      await close(upload);
    }
  }

  async close(): Promise<void> {
    for (const upload of this.files.values()) await close(upload);
    this.files.clear();
  }
}

const close = async ({ file, path }: Upload): Promise<void> => {
  await file.close();
  if (path !== null) await rm(path, { force: true });
};
