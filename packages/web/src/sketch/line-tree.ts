import type { Field, GroupValue, WireValue } from '@gaveta/core/internal';

/** Lines that are fetched together. */
export const PAGE = 100;
/** Most lines of groups inside several others that come in one answer. */
const MOST = 500;
/** Browsers do not scroll further than some 33 million pixels: lines past these cannot be reached. */
export const MOST_LINES = 1_100_000;

/** Lines that are asked for, as the API takes them. */
export interface LineWindow {
  at: GroupValue[];
  levels: number;
  /** Whether the groups inside are counted. */
  counted: boolean;
  from: number;
  most: number;
}

/** What is there of them. */
export interface LineAnswer {
  fields: readonly Field[];
  lines: readonly (readonly WireValue[])[];
  inside: readonly (number | null)[];
}

/** Which groups are open: those of the first levels, but for those that were turned. */
export interface OpenGroups {
  levels: number;
  turned: ReadonlySet<string>;
}

/** A group by its values, from the outermost one in. */
export const groupKey = (at: readonly GroupValue[]): string => JSON.stringify(at);

/** One line of the table. */
export interface TableLine {
  kind: 'group' | 'row';
  /** Groups around it. */
  depth: number;
  /** Of a group its own values, of a row those of the groups around. */
  at: readonly GroupValue[];
  /** Among the lines of its group, from 0. */
  index: number;
  /** Null until it has been fetched. */
  values: readonly WireValue[] | null;
  fields: readonly Field[];
  /** Whether there are lines inside to be shown. */
  isFoldable: boolean;
  isOpen: boolean;
}

/** The lines inside one group, or the outermost ones. */
class Level {
  fields: readonly Field[] = [];
  readonly lines: (readonly WireValue[] | undefined)[] = [];
  /** What is inside the groups that were fetched, by their places. */
  readonly inner = new Map<number, Level>();
  height = 0;
  /** How many there are; as far as is known, where nobody counted them. */
  count: number;
  isCounted: boolean;
  /** What is inside its groups is too much to come in one answer. */
  isLarge = false;

  constructor(
    readonly at: readonly GroupValue[],
    count: number | null,
  ) {
    this.count = count ?? 0;
    this.isCounted = count !== null;
  }

  /** Lines that it takes: where more may follow, one stands for them until it is looked at. */
  get size(): number {
    return this.isCounted ? this.count : this.count + 1;
  }
}

/**
 * The lines of a sketch, of which only those that were looked at are here: a tree of groups as one list, in which a place is found without
 * walking over all lines before it. Groups that were not fetched count as closed.
 */
export class LineTree {
  private root: Level | null = null;
  private open: OpenGroups = { levels: 0, turned: new Set() };
  /** Lines that are on their way. */
  private readonly asked = new Set<string>();
  /** Largest number by column and depth, for bars. */
  private readonly largest = new Map<string, number>();

  constructor(
    /** Levels of groups. */
    private readonly groups: number,
    /** Whether rows stand inside the innermost groups. */
    private readonly rows: boolean,
  ) {
    // There is the end alone.
    if (!this.hasAny) this.root = new Level([], 0);
  }

  private get hasAny(): boolean {
    return this.groups > 0 || this.rows;
  }

  /** Lines that can be seen. */
  get height(): number {
    return this.root?.height ?? 0;
  }

  /** Whether anything has been fetched. */
  get hasLines(): boolean {
    return this.root !== null;
  }

  setOpen(open: OpenGroups): void {
    this.open = open;
    this.measure();
  }

  isOpen(at: readonly GroupValue[]): boolean {
    return at.length <= this.open.levels !== this.open.turned.has(groupKey(at));
  }

  /** The first lines, before anything is known of them: the outermost ones, and what is inside where it is open. */
  first(): LineWindow[] {
    if (!this.hasAny) return [];
    const outer = { at: [], levels: 1, counted: false, from: 0, most: PAGE };
    const inner = { at: [], levels: 2, counted: false, from: 0, most: MOST };
    return this.groups > 1 && this.open.levels > 0 ? [outer, inner] : [outer];
  }

  /** Takes over what was fetched. */
  put(window: LineWindow, answer: LineAnswer): void {
    this.asked.delete(keyOf(window));
    if (window.levels > 1) this.putInner(window, answer);
    else {
      const level = this.levelAt(window.at);
      if (level) this.fill(level, window.from, window.most, answer);
    }
    this.measure();
  }

  /** Whether it is known how many outermost lines there are. */
  get isCounted(): boolean {
    return this.root?.isCounted ?? false;
  }

  /** How many outermost lines there are, once it is known. */
  setCount(count: number): void {
    if (!this.hasAny) return;
    this.root ??= new Level([], count);
    this.root.count = count;
    this.root.isCounted = true;
    this.measure();
  }

  /** What was asked for will not come. */
  giveUp(windows: readonly LineWindow[]): void {
    for (const window of windows) this.asked.delete(keyOf(window));
  }

  /** What is still to be fetched of the lines between two places, and not on its way. */
  wanted(from: number, to: number): LineWindow[] {
    const found = new Map<string, LineWindow>();
    this.each(from, to, (level, index) => {
      if (level.lines[index] === undefined) {
        const page = Math.floor(index / PAGE) * PAGE;
        const window = { at: [...level.at], levels: 1, counted: false, from: page, most: PAGE };
        found.set(keyOf(window), window);
      }
    });
    const windows = this.together([...found.values()]).filter((window) => !this.asked.has(keyOf(window)));
    for (const window of windows) this.asked.add(keyOf(window));
    return windows;
  }

  /** The lines between two places. */
  lines(from: number, to: number): TableLine[] {
    const found: TableLine[] = [];
    this.each(from, to, (level, index) => found.push(this.line(level, index)));
    return found;
  }

  /** Groups around the line at a place, the outermost first. */
  around(place: number): TableLine[] {
    const found: TableLine[] = [];
    let level = this.root;
    let rest = place;
    while (level) {
      const inner = this.innerAt(level, rest);
      if (!inner) return found;
      found.push(this.line(level, inner.index));
      level = inner.level;
      rest = inner.rest;
    }
    return found;
  }

  /** The place of a group among the lines that can be seen; null where it is not among them. */
  placeOf(at: readonly GroupValue[]): number | null {
    let level = this.root;
    let place = 0;
    for (let depth = 0; depth < at.length; depth++) {
      if (!level) return null;
      const key = groupKey(at.slice(0, depth + 1));
      const index = level.lines.findIndex((line) => line && groupKey(line.slice(0, depth + 1) as GroupValue[]) === key);
      if (index < 0) return null;
      place += index;
      for (const [i, inner] of level.inner) if (i < index && this.isOpen(inner.at)) place += inner.height;
      if (depth === at.length - 1) return place;
      place += 1;
      level = level.inner.get(index) ?? null;
    }
    return null;
  }

  /** The largest number of a column among lines so deep that were fetched, whatever its sign; 0 without any. */
  largestOf(name: string, depth: number): number {
    return this.largest.get(`${depth} ${name}`) ?? 0;
  }

  /** Several innermost windows of one group come in one answer, as long as it is not too large. */
  private together(windows: LineWindow[]): LineWindow[] {
    const byParent = new Map<string, LineWindow[]>();
    for (const window of windows) {
      const isInner = window.at.length > 0 && window.at.length < this.groups && window.from === 0;
      const key = isInner ? groupKey(window.at.slice(0, -1)) : keyOf(window);
      byParent.set(key, [...(byParent.get(key) ?? []), window]);
    }
    return [...byParent.values()].flatMap((all) => {
      const [one] = all;
      const at = one!.at.slice(0, -1);
      const level = all.length > 1 ? this.levelAt(at) : null;
      return level && !level.isLarge ? [{ at, levels: 2, counted: false, from: 0, most: MOST }] : all;
    });
  }

  private levelAt(at: readonly GroupValue[]): Level | null {
    if (at.length === 0) {
      this.root ??= new Level([], null);
      return this.root;
    }
    const parent = this.levelAt(at.slice(0, -1));
    if (!parent) return null;
    const key = groupKey(at);
    for (const inner of parent.inner.values()) if (groupKey(inner.at) === key) return inner;
    return null;
  }

  private fill(level: Level, from: number, most: number, { fields, lines, inside }: LineAnswer): void {
    level.fields = fields;
    const depth = level.at.length;
    const isGroup = depth < this.groups;
    const hasInside = isGroup && (depth + 1 < this.groups || this.rows);
    for (const [i, line] of lines.entries()) {
      const index = from + i;
      level.lines[index] = line;
      this.measureLine(fields, line, isGroup ? depth + 1 : depth, isGroup);
      if (hasInside && !level.inner.has(index)) {
        const at = line.slice(0, depth + 1) as GroupValue[];
        level.inner.set(index, new Level(at, inside[i] ?? null));
      }
    }
    // Fewer than asked for: that is the end, whatever was known of how many there are.
    const isEnd = lines.length < most;
    level.count = isEnd ? from + lines.length : Math.max(level.count, from + lines.length);
    level.isCounted ||= isEnd;
  }

  /** Groups inside several others, which came as one list: in the order in which they stand in each. */
  private putInner({ at, most }: LineWindow, { fields, lines, inside }: LineAnswer): void {
    const level = this.levelAt(at);
    if (!level) return;
    // There are more: each comes by itself.
    level.isLarge = lines.length >= most;
    if (level.isLarge) return;
    const depth = at.length + 1;
    const byGroup = new Map<string, { lines: (readonly WireValue[])[]; inside: (number | null)[] }>();
    for (const [i, line] of lines.entries()) {
      const key = groupKey(line.slice(0, depth) as GroupValue[]);
      const own = byGroup.get(key) ?? { lines: [], inside: [] };
      own.lines.push(line);
      own.inside.push(inside[i] ?? null);
      byGroup.set(key, own);
    }
    for (const inner of level.inner.values()) {
      const own = byGroup.get(groupKey(inner.at));
      if (own && inner.lines.length === 0) this.fill(inner, 0, own.lines.length + 1, { fields, ...own });
    }
  }

  private measureLine(fields: readonly Field[], line: readonly WireValue[], depth: number, isGroup: boolean): void {
    for (const [i, { name, type }] of fields.entries()) {
      if (type !== 'number') continue;
      const size = Math.abs(Number(line[i] ?? 0));
      const key = `${isGroup ? depth - 1 : depth} ${name}`;
      if (size > (this.largest.get(key) ?? 0)) this.largest.set(key, size);
    }
  }

  private measure(): void {
    const heightOf = (level: Level): number => {
      let height = level.size;
      for (const [, inner] of level.inner) {
        inner.height = 0;
        if (this.isOpen(inner.at)) height += heightOf(inner);
      }
      level.height = height;
      return height;
    };
    if (this.root) heightOf(this.root);
  }

  /** Open groups of a level in the order of their places. */
  private opened(level: Level): [number, Level][] {
    const found: [number, Level][] = [];
    for (const [index, inner] of level.inner) if (inner.height > 0) found.push([index, inner]);
    return found.sort(([a], [b]) => a - b);
  }

  /** The open group of a level that a place is in, and the place inside it. */
  private innerAt(level: Level, place: number): { index: number; level: Level; rest: number } | null {
    let before = 0;
    for (const [index, inner] of this.opened(level)) {
      const first = index + before + 1;
      if (place < first) return null;
      if (place < first + inner.height) return { index, level: inner, rest: place - first };
      before += inner.height;
    }
    return null;
  }

  private each(from: number, to: number, tell: (level: Level, index: number) => void): void {
    const walk = (level: Level, start: number): void => {
      let place = start;
      let next = 0;
      const upTo = (index: number): void => {
        // Lines without anything open inside, one place each.
        const skipped = Math.max(0, Math.min(index - next, from - place));
        for (let i = next + skipped, at = place + skipped; i < index && at < to; i++, at++) tell(level, i);
        place += index - next;
        next = index;
      };
      for (const [index, inner] of this.opened(level)) {
        if (place >= to) return;
        upTo(index + 1);
        if (place + inner.height > from && place < to) walk(inner, place);
        place += inner.height;
      }
      if (place < to) upTo(level.size);
    };
    if (this.root) walk(this.root, 0);
  }

  private line(level: Level, index: number): TableLine {
    const depth = level.at.length;
    const values = level.lines[index] ?? null;
    const isGroup = depth < this.groups;
    const inner = level.inner.get(index);
    const at = isGroup && values ? (values.slice(0, depth + 1) as GroupValue[]) : level.at;
    return {
      kind: isGroup ? 'group' : 'row',
      depth,
      at,
      index,
      values,
      fields: level.fields,
      isFoldable: inner !== undefined,
      isOpen: inner !== undefined && this.isOpen(inner.at),
    };
  }
}

const keyOf = ({ at, levels, from }: LineWindow): string => JSON.stringify([at, levels, from]);
