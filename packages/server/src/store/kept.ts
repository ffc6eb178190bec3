import { dropOldest } from '../base/drop-oldest.ts';

/**
 * What was read, until it is written anew: for a store that only this process writes to, so that nothing else can change it. A
 * reading that was under way while something was written is let go as well. Of a store that others write to nothing is kept.
 */
export class Kept<T> {
  private readonly found = new Map<string, Promise<T>>();

  /** `most`: how many are kept, 0 for none; those that were read first go first. `isSmall`: whether something is small enough for that. */
  constructor(
    private readonly most: number,
    private readonly isSmall: (found: T) => boolean = () => true,
    /** Told after each write. */
    private readonly written: () => void = () => {},
  ) {}

  read(key: string, find: () => Promise<T>): Promise<T> {
    if (this.most === 0) return find();
    const before = this.found.get(key);
    if (before) return before;
    const reading = find();
    this.found.set(key, reading);
    reading.then(
      (found) => this.isSmall(found) || this.letGo(key, reading),
      () => this.letGo(key, reading),
    );
    dropOldest(this.found, this.most);
    return reading;
  }

  /** Whatever `write` does to what stands under the key, nobody is given the state before it afterwards. */
  async write<R>(key: string, write: () => Promise<R>): Promise<R> {
    try {
      return await write();
    } finally {
      this.found.delete(key);
      this.written();
    }
  }

  /** As {@link write}, for what changes more than is known. */
  async writeAny<R>(write: () => Promise<R>): Promise<R> {
    try {
      return await write();
    } finally {
      this.found.clear();
      this.written();
    }
  }

  /** Lets go of all that was read. */
  clear(): void {
    this.found.clear();
  }

  private letGo(key: string, reading: Promise<T>): boolean {
    return this.found.get(key) === reading && this.found.delete(key);
  }
}
