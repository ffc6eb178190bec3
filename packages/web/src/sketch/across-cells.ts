import type { Field, GroupValue, WireValue } from '@gaveta/core/internal';
import { groupKey } from './line-tree.ts';

/** Totals of values across as they come with the lines that they stand on. */
export interface AcrossAnswer {
  fields: readonly Field[];
  lines: readonly (readonly WireValue[])[];
}

/** A value that goes across. */
export interface AcrossValue {
  key: string;
  value: WireValue;
}

const keyOf = (value: WireValue): string => JSON.stringify(value);

/** What goes across a sketch's lines: the values, and the totals that each line has of them. */
export class AcrossCells {
  /** In their order; none until the end has come. */
  values: readonly AcrossValue[] = [];
  /** Of the totals of one value. */
  fields: readonly Field[] = [];
  private readonly lines = new Map<string, Map<string, readonly WireValue[]>>();
  private readonly largest = new Map<string, number>();

  constructor(
    /** What goes across by its name; nothing where it is null. */
    private readonly name: string | null,
  ) {}

  /** Takes over what came with lines, or with the end, which says all values there are. */
  put({ fields, lines }: AcrossAnswer): void {
    const at = fields.findIndex(({ name }) => name === this.name);
    if (at < 0) return;
    this.fields = fields.slice(at);
    const isEnd = at === 0;
    if (isEnd) this.values = lines.map(([value = null]) => ({ key: keyOf(value), value }));
    for (const line of lines) {
      const key = groupKey(line.slice(0, at) as GroupValue[]);
      const cells = this.lines.get(key) ?? new Map<string, readonly WireValue[]>();
      cells.set(keyOf(line[at] ?? null), line.slice(at));
      this.lines.set(key, cells);
      if (!isEnd) this.measure(line.slice(at), at - 1);
    }
  }

  /** Totals of a value on the line of a group, or at the end without one; by `fields`. */
  at(group: readonly GroupValue[], key: string): readonly WireValue[] | null {
    return this.lines.get(groupKey(group))?.get(key) ?? null;
  }

  /** The largest number of a column on lines so deep, whatever its sign; 0 without any. */
  largestOf(name: string, depth: number): number {
    return this.largest.get(`${depth} ${name}`) ?? 0;
  }

  private measure(line: readonly WireValue[], depth: number): void {
    for (const [i, { name, type }] of this.fields.entries()) {
      if (type !== 'number') continue;
      const size = Math.abs(Number(line[i] ?? 0));
      if (size > this.largestOf(name, depth)) this.largest.set(`${depth} ${name}`, size);
    }
  }
}
