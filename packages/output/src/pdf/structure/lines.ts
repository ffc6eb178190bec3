import { type Cut, cut } from '../../document/cut.ts';
import type { Group } from './groups.ts';

/** What is read one after another: cells side by side, or groups below one another. Numbers are places in the list of groups. */
export type Line = { kind: 'row'; cells: readonly (readonly number[])[] } | { kind: 'flow'; groups: readonly number[] };

/** Orders of bands that are kept: a report has few, and rows by the thousand. */
const MOST_KEPT = 1000;

interface Numbered {
  x: number;
  y: number;
  width: number;
  height: number;
  at: number;
}

const read = (layout: Cut<Numbered>): number[] =>
  layout.kind === 'one' ? [layout.one.at] : layout.items.flatMap(read);

const lineOf = (layout: Cut<Numbered>): Line =>
  layout.kind === 'row' ? { kind: 'row', cells: layout.items.map(read) } : { kind: 'flow', groups: read(layout) };

/** Rows of a crosstab, whose cells say which columns they stand over. */
const crosstabLines = (groups: readonly Group[], from: number, to: number): Line[] => {
  const lines: { kind: 'row'; cells: number[][] }[] = [];
  let last: Group | null = null;
  for (let at = from; at < to; at++) {
    const group = groups[at]!;
    const isNext = !last || group.column! <= last.column! || Math.abs(group.y - last.y) > group.height / 2;
    if (isNext) lines.push({ kind: 'row', cells: [] });
    lines.at(-1)!.cells.push([at]);
    last = group;
  }
  return lines;
};

const cutLines = (groups: readonly Group[], from: number, to: number): Line[] => {
  if (to - from === 1) return [{ kind: 'flow', groups: [from] }];
  const boxes = groups.slice(from, to).map(({ x, y, width, height }, i) => ({ x, y, width, height, at: from + i }));
  const whole = cut(boxes);
  return whole.kind === 'stack' ? whole.items.map(lineOf) : [lineOf(whole)];
};

/** Puts the groups of bands in the order in which they are read. */
export class Lines {
  private readonly kept = new Map<string, Line[]>();

  /** `band`: whose groups they are; `top`: where it begins, in points. */
  of(groups: readonly Group[], band: string, top: number): readonly Line[] {
    if (groups.length === 0) return [];
    let key = band;
    for (const { item, part, as, kind, column, y } of groups) {
      if (column !== undefined) return this.found(groups);
      key += `|${item}.${part ?? ''}.${as ?? ''}.${kind}.${Math.round(y - top)}`;
    }
    let lines = this.kept.get(key);
    if (!lines) {
      lines = this.found(groups);
      if (this.kept.size < MOST_KEPT) this.kept.set(key, lines);
    }
    return lines;
  }

  private found(groups: readonly Group[]): Line[] {
    const lines: Line[] = [];
    for (let from = 0; from < groups.length; ) {
      const isCell = groups[from]!.column !== undefined;
      let to = from + 1;
      while (to < groups.length && (groups[to]!.column !== undefined) === isCell) to++;
      lines.push(...(isCell ? crosstabLines(groups, from, to) : cutLines(groups, from, to)));
      from = to;
    }
    return lines;
  }
}
