import type { ListedSet } from '@gaveta/core/internal';

/** Numbers rows of sets that are written apart, so that those inside others can name them. */
export class RowNumbers {
  private readonly sets = new Map<ListedSet, { outer: ListedSet | null; count: number }>();

  constructor(sets: readonly ListedSet[]) {
    this.know(sets, null);
  }

  private know(sets: readonly ListedSet[], outer: ListedSet | null): void {
    for (const set of sets) {
      this.sets.set(set, { outer, count: 0 });
      this.know(set.inner, set);
    }
  }

  /** All sets, those inside others after them. */
  get all(): ListedSet[] {
    return [...this.sets.keys()];
  }

  /** Those whose numbers stand before the values of a set: the one around it, and itself where others lie inside it. */
  private before(set: ListedSet): ListedSet[] {
    const { outer } = this.sets.get(set)!;
    return [...(outer ? [outer] : []), ...(set.inner.length > 0 ? [set] : [])];
  }

  /** The captions over the numbers of a set’s rows. */
  captions(set: ListedSet): string[] {
    return this.before(set).map(({ name }) => `${name} no.`);
  }

  /** Counts a row, and gives the numbers that stand before its values. */
  next(set: ListedSet): number[] {
    this.sets.get(set)!.count++;
    return this.before(set).map((one) => this.sets.get(one)!.count);
  }
}
