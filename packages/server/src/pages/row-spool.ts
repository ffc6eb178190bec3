import { randomUUID } from 'node:crypto';
import { RowProblem } from '@gaveta/core/internal';
import { NamelessFile } from '@gaveta/output/nameless-file';

/** Why the rows of a level ended before the last one. */
export type PlainRowProblem = Pick<RowProblem, 'code' | 'data'>;

interface KeptLevel {
  batches: { offset: number; length: number }[];
  problem: PlainRowProblem | null;
}

/**
 * The rows of a run in a file, so that it can be laid out anew as readers open and close parts of it. Several runs may show the
 * same ones: it is let go with the last of them.
 */
export class RowSpool {
  readonly id = randomUUID();
  private readonly levels = new Map<number, KeptLevel>();
  private writing: Promise<unknown> = Promise.resolve();
  private holders = 1;
  private isOver = false;
  /** Whether all rows are there. */
  isWhole = false;

  private constructor(
    private readonly file: NamelessFile,
    private readonly maxBytes: number,
  ) {}

  static async open(maxBytes: number): Promise<RowSpool> {
    return new RowSpool(await NamelessFile.open(), maxBytes);
  }

  /** Keeps a batch of a level, as JSON; gives whether more is kept: what takes too much room is not kept at all. */
  async add(level: number, data: Uint8Array): Promise<boolean> {
    if (this.isOver) return false;
    if (this.file.size + data.length > this.maxBytes) {
      this.isOver = true;
      return false;
    }
    const done = this.writing.then(async () => {
      const offset = this.file.size;
      await this.file.append(data);
      this.of(level).batches.push({ offset, length: data.length });
    });
    // The next one waits for it, and whoever asked for it hears it fail.
    this.writing = done.catch(() => {});
    await done;
    return true;
  }

  private of(level: number): KeptLevel {
    const found = this.levels.get(level) ?? { batches: [], problem: null };
    this.levels.set(level, found);
    return found;
  }

  get bytes(): number {
    return this.file.size;
  }

  /** The rows of a level broke off. */
  broke(level: number, problem: PlainRowProblem): void {
    this.of(level).problem = problem;
  }

  /** All rows were given; tells whether all are there. */
  complete(): boolean {
    this.isWhole = !this.isOver;
    return this.isWhole;
  }

  /** A batch of a level by its 0-based place, null after the last. Throws RowProblem where the rows broke off. */
  async batch(level: number, place: number): Promise<Buffer | null> {
    const { batches, problem } = this.of(level);
    const at = batches[place];
    if (at) return this.file.read(at.offset, at.length);
    if (problem) throw new RowProblem(problem.code, problem.data);
    return null;
  }

  /** Keeps it for one more run. */
  hold(): this {
    this.holders++;
    return this;
  }

  async letGo(): Promise<void> {
    if (--this.holders > 0) return;
    this.isWhole = false;
    await this.writing;
    await this.file.close();
  }
}
