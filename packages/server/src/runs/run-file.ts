import { NamelessFile } from '@gaveta/output/nameless-file';

/** What is under way: made once for all who wait for it. */
interface Making {
  file: Promise<NamelessFile>;
  abort: AbortController;
  waiting: number;
  isDone: boolean;
}

/** Puts a whole file where `write` takes it, and tells how much of how much is done: pages, or rows. */
export type WriteFile = (
  write: (data: Uint8Array) => Promise<void>,
  signal: AbortSignal,
  progress: (done: number, of: number) => void,
) => Promise<void>;

/** A run as one file: made when somebody first asks for it, and given up when nobody waits for it any more. */
export class RunFile {
  private making: Making | null = null;
  private holders = 0;

  /** How far it is, in pages or rows; null before and after it is made. */
  progress: { done: number; of: number } | null = null;

  constructor(private readonly write: WriteFile) {}

  /** The whole file; null when whoever asks went away before. Throws when it cannot be made. */
  async whole(gone: AbortSignal): Promise<NamelessFile | null> {
    if (gone.aborted) return null;
    this.making ??= this.make();
    const { making } = this;
    making.waiting++;
    try {
      return await Promise.race([making.file, left(gone)]);
    } finally {
      making.waiting--;
      if (making.waiting === 0 && !making.isDone) {
        making.abort.abort();
        if (this.making === making) this.making = null;
      }
    }
  }

  /** Keeps it while somebody wants it, until the function that it gives is called. */
  hold(): () => void {
    this.holders++;
    return () => {
      this.holders--;
    };
  }

  get isHeld(): boolean {
    return this.holders > 0;
  }

  private make(): Making {
    const abort = new AbortController();
    const making: Making = { file: this.fill(abort.signal), abort, waiting: 0, isDone: false };
    making.file.then(
      () => {
        making.isDone = true;
      },
      // Whoever waits hears of it; the next who asks gets another try.
      () => {
        if (this.making === making) this.making = null;
      },
    );
    return making;
  }

  private async fill(signal: AbortSignal): Promise<NamelessFile> {
    const file = await NamelessFile.open();
    try {
      signal.throwIfAborted();
      const write = (data: Uint8Array): Promise<void> => file.append(data);
      await this.write(write, signal, (done, of) => {
        this.progress = { done, of };
      });
      signal.throwIfAborted();
      return file;
    } catch (error) {
      await file.close();
      throw error;
    } finally {
      this.progress = null;
    }
  }

  async close(): Promise<void> {
    const { making } = this;
    this.making = null;
    making?.abort.abort();
    await making?.file.then((file) => file.close()).catch(() => {});
  }
}

/** Files of one run that are kept at once, each in other options. */
const MOST_FILES = 4;

/** The files of a run, by what they are. */
export class RunFiles {
  /** The one that was asked for last comes last. */
  private readonly files = new Map<string, RunFile>();

  of(key: string, make: () => RunFile): RunFile {
    const file = this.files.get(key) ?? make();
    this.files.delete(key);
    this.files.set(key, file);
    for (const [other, old] of this.files) {
      if (this.files.size <= MOST_FILES) break;
      if (old === file || old.isHeld) continue;
      this.files.delete(other);
      // It closes in its own time; nobody waits for that.
      old.close().catch(() => {});
    }
    return file;
  }

  /** Those that are being made, by what they are. */
  get making(): { key: string; done: number; of: number }[] {
    return [...this.files].flatMap(([key, { progress }]) => (progress ? [{ key, ...progress }] : []));
  }

  async close(): Promise<void> {
    await Promise.all([...this.files.values()].map((file) => file.close()));
    this.files.clear();
  }
}

/** Null once a caller has gone. */
export const left = (signal: AbortSignal): Promise<null> =>
  new Promise((resolve) => {
    if (signal.aborted) resolve(null);
    else signal.addEventListener('abort', () => resolve(null), { once: true });
  });
