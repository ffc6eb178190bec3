import type { Field, GroupValue, WireValue } from '@gaveta/core/internal';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { groupKey, type LineAnswer, LineTree, type LineWindow, PAGE } from './line-tree.ts';

const field = (name: string, type: Field['type'] = 'text'): Field => ({ name, label: name, type });

/** Groups by their names with what is inside; a number is how many rows there are. */
type Tree = { [name: string]: Tree | number };

const insideOf = (tree: Tree | number): number => (typeof tree === 'number' ? tree : Object.keys(tree).length);
const at = (tree: Tree | number, path: readonly GroupValue[]): Tree | number =>
  path.reduce<Tree | number>((inner, name) => (inner as Tree)[String(name)]!, tree);

/** Answers as the server does. */
const answer = (tree: Tree, { at: path, levels, from, most }: LineWindow): LineAnswer => {
  const found: { line: WireValue[]; inside: number }[] = [];
  const walk = (here: Tree | number, names: readonly GroupValue[], left: number): void => {
    if (typeof here === 'number') {
      for (let i = 0; i < here; i++) found.push({ line: [`${names.join('/')}#${i}`], inside: 0 });
      return;
    }
    for (const [name, inner] of Object.entries(here)) {
      const own = [...names, name];
      if (left === 1) found.push({ line: [...own, insideOf(inner)], inside: insideOf(inner) });
      else walk(inner, own, left - 1);
    }
  };
  walk(at(tree, path), path, levels);
  const shown = found.slice(from, from + most);
  const isRows = typeof at(tree, path) === 'number';
  const depth = isRows ? 0 : path.length + levels;
  return {
    fields: isRows
      ? [field('row')]
      : [...Array.from({ length: depth }, (_, i) => field(`g${i}`)), field('n', 'number')],
    lines: shown.map(({ line }) => line),
    // Rows are counted by the way, groups are not.
    inside: shown.map(({ inside }) => (path.length + levels === 2 ? inside : null)),
  };
};

/** All lines that are to be seen, from top to bottom. */
const flat = (tree: Tree | number, isOpen: (at: GroupValue[]) => boolean, path: GroupValue[] = []): string[] =>
  typeof tree === 'number'
    ? Array.from({ length: tree }, (_, i) => `${path.join('/')}#${i}`)
    : Object.entries(tree).flatMap(([name, inner]) => {
        const own = [...path, name];
        return [own.join('/'), ...(isOpen(own) ? flat(inner, isOpen, own) : [])];
      });

const HUTS: Tree = { Alto: { Brecha: 3, Longa: 250 }, Encosta: { Norte: 1 }, Vale: { Rio: 0, Serra: 2 } };

const opened = (tree: Tree, levels: number, turned: GroupValue[][] = []): LineTree => {
  const lines = new LineTree(2, true);
  lines.setOpen({ levels, turned: new Set(turned.map(groupKey)) });
  for (const window of lines.first()) lines.put(window, answer(tree, window));
  return lines;
};
const load = (lines: LineTree, tree: Tree, from: number, to: number): void => {
  for (let windows = lines.wanted(from, to); windows.length > 0; windows = lines.wanted(from, to))
    for (const window of windows) lines.put(window, answer(tree, window));
};
const shown = (lines: LineTree, from: number, to: number): string[] =>
  lines.lines(from, to).map(({ kind, at: path, values }) => (kind === 'row' ? String(values?.[0]) : path.join('/')));

describe('lines of groups and rows as one list', () => {
  it('come in two steps at most, and only what is looked at', () => {
    const lines = opened(HUTS, 2);
    expect(lines.height).toBe(3 + 5 + 256);
    load(lines, HUTS, 0, 10);
    expect(shown(lines, 0, 7)).toEqual([
      'Alto',
      'Alto/Brecha',
      'Alto/Brecha#0',
      'Alto/Brecha#1',
      'Alto/Brecha#2',
      'Alto/Longa',
      'Alto/Longa#0',
    ]);
    expect(lines.lines(200, 201)[0]!.values).toBeNull();
    expect(lines.wanted(200, 201)).toEqual([
      { at: ['Alto', 'Longa'], levels: 1, counted: false, from: PAGE, most: PAGE },
    ]);
    // It is on its way.
    expect(lines.wanted(200, 201)).toEqual([]);
  });

  it('know the groups around each, and where a group stands', () => {
    const lines = opened(HUTS, 2);
    load(lines, HUTS, 0, 264);
    expect(lines.around(100).map(({ at: path }) => path.join('/'))).toEqual(['Alto', 'Alto/Longa']);
    expect(lines.around(1).map(({ at: path }) => path.join('/'))).toEqual(['Alto']);
    expect(lines.around(0)).toEqual([]);
    const all = shown(lines, 0, lines.height);
    expect(lines.placeOf(['Vale', 'Serra'])).toBe(all.indexOf('Vale/Serra'));
  });

  it('count what is not fetched as closed, and end where fewer came than were asked for', () => {
    const lines = new LineTree(0, true);
    lines.setOpen({ levels: 0, turned: new Set() });
    const row = (count: number): LineAnswer => ({
      fields: [field('row')],
      lines: Array.from({ length: count }, (_, i) => [i]),
      inside: [],
    });
    lines.put({ at: [], levels: 1, counted: false, from: 0, most: PAGE }, row(PAGE));
    // One line stands for those that may follow.
    expect(lines.height).toBe(PAGE + 1);
    lines.setCount(1_000_000);
    expect(lines.height).toBe(1_000_000);
    expect(lines.wanted(999_990, 1_000_000)).toEqual([
      { at: [], levels: 1, counted: false, from: 999_900, most: PAGE },
    ]);
    lines.put({ at: [], levels: 1, counted: false, from: 999_900, most: PAGE }, row(40));
    expect(lines.height).toBe(999_940);
  });

  it('are the same as all of them written out, whatever is open', () => {
    const inner = fc.dictionary(fc.constantFrom('p', 'q', 'r', 's'), fc.integer({ min: 0, max: 120 }), {
      minKeys: 1,
      maxKeys: 4,
    });
    const trees = fc.dictionary(fc.constantFrom('a', 'b', 'c', 'd', 'e'), inner, { minKeys: 1, maxKeys: 5 });
    const folds = fc.array(fc.tuple(fc.constantFrom('a', 'b', 'c'), fc.option(fc.constantFrom('p', 'q'))), {
      maxLength: 4,
    });
    fc.assert(
      fc.property(trees, fc.integer({ min: 0, max: 2 }), folds, (tree, levels, turned) => {
        const keys = turned.map(([outer, name]) => (name === null ? [outer] : [outer, name]));
        const lines = opened(tree as Tree, levels, keys);
        for (let height = -1; height !== lines.height; ) {
          height = lines.height;
          load(lines, tree as Tree, 0, height);
        }
        const isOpen = (path: GroupValue[]): boolean => lines.isOpen(path);
        expect(shown(lines, 0, lines.height)).toEqual(flat(tree as Tree, isOpen));
      }),
      { numRuns: 200 },
    );
  });
});
