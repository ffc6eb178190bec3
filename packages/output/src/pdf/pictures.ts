import { existsSync } from 'node:fs';
import { Piscina } from 'piscina';
import type { PackedPicture } from './png.ts';

/** Seconds that one picture may take, the start of its thread on a busy machine counted: none may be lost by that. */
const PATIENCE = 60;

/** Milliseconds after which a thread without work is let go. */
const IDLE = 30_000;

/** What a thread starts with: a module that reads sources, or as it was built. */
const startFile = (): string =>
  ['mjs', 'js']
    .map((ending) => new URL(`./png-thread-start.${ending}`, import.meta.url))
    .find((file) => existsSync(file))!.href;

/** Megabytes that a thread may take: several times a picture of as many pixels as may be shown. */
const MEMORY = 512;

/** Unpacks pictures in threads of their own, so that a damaged or huge one holds up nobody and ends nothing. */
export class PictureThreads {
  private threads: Piscina<Uint8Array, PackedPicture> | null = null;

  /** Null when the file cannot be read, or not in time. */
  async pack(png: Uint8Array): Promise<PackedPicture | null> {
    this.threads ??= this.start();
    try {
      return await this.threads.run(png, { signal: AbortSignal.timeout(PATIENCE * 1000) });
    } catch {
      return null;
    }
  }

  private start(): Piscina<Uint8Array, PackedPicture> {
    const threads = new Piscina<Uint8Array, PackedPicture>({
      filename: startFile(),
      minThreads: 0,
      maxThreads: 1,
      idleTimeout: IDLE,
      resourceLimits: { maxOldGenerationSizeMb: MEMORY },
    });
    // A thread that dies while it has nothing to do is replaced by the next one.
    threads.on('error', () => {});
    return threads;
  }

  async close(): Promise<void> {
    const { threads } = this;
    this.threads = null;
    await threads?.destroy();
  }
}
