import { NamelessFile } from '../pages/nameless-file.ts';

/** What is under way: made once for all who wait for it. */
interface Making {
  file: Promise<NamelessFile>;
  abort: AbortController;
  waiting: number;
  isDone: boolean;
}

/** A run as one file: made when somebody first asks for it, and given up when nobody waits for it any more. */
export class RunFile {
  private making: Making | null = null;
  private holders = 0;

  /** `write` puts the whole file where it is told to. */
  constructor(
    private readonly write: (append: (data: Uint8Array) => Promise<void>, signal: AbortSignal) => Promise<void>,
  ) {}

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
      await this.write((data) => file.append(data), signal);
      signal.throwIfAborted();
      return file;
    } catch (error) {
      await file.close();
      throw error;
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
