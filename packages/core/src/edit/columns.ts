import { type Band, type Item, type ItemOf, isWords, type Report } from '../definition/schema.ts';
import { allBands, type BandAddress, findBand } from '../definition/walk.ts';
import { showCheck } from '../items/check/edit.ts';
import { type Edit, LEAST_SIZE, rounded } from './edit.ts';
import { freeName, idMaker } from './ids.ts';
import { itemWith } from './item-edit.ts';
import { formulaFor, type Placeable } from './placing.ts';
import { dressed } from './themes.ts';

/** A column: caption, value and totals under one another, with one place and width for all. Lengths in millimetres. */
export interface Column {
  name: string;
  x: number;
  width: number;
  items: Item[];
}

/** From left to right. */
export interface ColumnSet {
  set: string;
  columns: Column[];
}

/** Every column set of a report by its name. */
export const columnSets = (report: Report): Map<string, ColumnSet> => {
  const sets = new Map<string, ColumnSet>();
  for (const { band } of allBands(report)) {
    for (const item of band.items) {
      if (!item.column) continue;
      const { set: name, name: columnName } = item.column;
      const set = sets.get(name) ?? { set: name, columns: [] };
      sets.set(name, set);
      const column = set.columns.find((c) => c.name === columnName);
      if (column) column.items.push(item);
      else set.columns.push({ name: columnName, x: item.x, width: item.width, items: [item] });
    }
  }
  for (const { columns } of sets.values()) columns.sort((a, b) => a.x - b.x);
  return sets;
};

type Spans = readonly Pick<Column, 'name' | 'x' | 'width' | 'items'>[];

/** The edit that gives each column its place and width. Both edges are rounded, so that the last one ends where it was meant to. */
const placed = (columns: Spans): Edit => ({
  do: 'place',
  places: Object.fromEntries(
    columns.flatMap(({ items, x, width }) => {
      const left = rounded(x);
      const place = { x: left, width: rounded(rounded(x + Math.max(LEAST_SIZE, width)) - left) };
      return items.map((item) => [item.id, place]);
    }),
  ),
});

/** Room between two columns, in millimetres; more where numbers end at what begins beside them. */
const GAP = 2;
const GUTTER = 5;

/** Share of the room of a set that gaps take at most: on narrow paper its columns need the rest. */
const MOST_GAPS = 0.2;

type Side = 'left' | 'right' | 'other';

/** The gap that two columns need, by where their values stand. */
const gapBetween = (before: Side, after: Side): number => (before === 'right' && after === 'left' ? GUTTER : GAP);

const sideOfType = (type: Placeable['type']): Side =>
  type === 'number' ? 'right' : type === 'boolean' || type === 'picture' ? 'other' : 'left';

const sideOf = ({ items }: Pick<Column, 'items'>): Side => {
  const value = items.find((item) => item.kind === 'field') ?? items[0];
  if (value?.kind !== 'field' && value?.kind !== 'text') return 'other';
  const { align = 'left' } = value.look ?? {};
  return align === 'left' || align === 'right' ? align : 'other';
};

/** Gaps behind each side, none at the end; narrower where they would leave too little of the room. */
const leastGaps = (sides: readonly Side[], room: number): number[] => {
  const gaps = sides.map((side, i) => (i + 1 < sides.length ? gapBetween(side, sides[i + 1]!) : 0));
  const sum = sumOf(gaps);
  const most = Math.max(0, room * MOST_GAPS);
  return sum > most ? gaps.map((gap) => (gap * most) / sum) : gaps;
};

/** Room between a column and the one to its right; none at the end. */
const gapsOf = ({ columns }: ColumnSet): number[] =>
  columns.map((c, i) => (columns[i + 1] ? columns[i + 1]!.x - c.x - c.width : 0));

/** The gaps that there are, each as wide as it needs to be. */
const widenedGaps = (set: ColumnSet, room: number): number[] => {
  const least = leastGaps(set.columns.map(sideOf), room);
  return gapsOf(set).map((gap, i) => Math.max(gap, least[i]!));
};

const sumOf = (lengths: readonly number[]): number => lengths.reduce((all, length) => all + length, 0);

const rightOf = ({ columns }: ColumnSet): number => Math.max(0, ...columns.map((c) => c.x + c.width));

/** One after the other from `left`, with the gaps that there were. */
const inRow = (
  columns: readonly Column[],
  widths: readonly number[],
  gaps: readonly number[],
  left: number,
): Column[] => {
  let x = left;
  return columns.map((column, i) => {
    const at = { ...column, x, width: widths[i]! };
    x += widths[i]! + (gaps[i] ?? 0);
    return at;
  });
};

const leftOf = ({ columns }: ColumnSet): number => columns[0]?.x ?? 0;

/** Gives one column another width; those to its right move along. */
export const resizeColumn = (set: ColumnSet, name: string, width: number): Edit => {
  const widths = set.columns.map((c) => (c.name === name ? Math.max(LEAST_SIZE, width) : c.width));
  return placed(inRow(set.columns, widths, gapsOf(set), leftOf(set)));
};

/** Puts a column at another place, 0-based among the others. */
export const reorderColumn = (set: ColumnSet, name: string, to: number): Edit => {
  const moved = set.columns.find((c) => c.name === name);
  if (!moved) return { do: 'all', edits: [] };
  const others = set.columns.filter((c) => c !== moved);
  others.splice(to, 0, moved);
  const widths = others.map((c) => c.width);
  const ordered: ColumnSet = { ...set, columns: inRow(others, widths, gapsOf(set), leftOf(set)) };
  return placed(inRow(others, widths, widenedGaps(ordered, rightOf(ordered) - leftOf(ordered)), leftOf(set)));
};

/** All columns of one width, over the room that they have together. */
export const evenColumns = (set: ColumnSet): Edit => {
  const room = rightOf(set) - leftOf(set);
  const gaps = widenedGaps(set, room);
  const width = (room - sumOf(gaps)) / set.columns.length;
  return placed(
    inRow(
      set.columns,
      set.columns.map(() => width),
      gaps,
      leftOf(set),
    ),
  );
};

/**
 * All columns wider or narrower in proportion, from their left edge to `right`; those that `own` gives a width, in millimetres, keep
 * that.
 */
export const fitColumns = (set: ColumnSet, right: number, own: readonly (number | undefined)[] = []): Edit => {
  const left = leftOf(set);
  const gaps = widenedGaps(set, right - left);
  const shared = sumOf(set.columns.map((c, i) => (own[i] === undefined ? c.width : 0)));
  const room = Math.max(set.columns.length * LEAST_SIZE, right - left - sumOf(gaps));
  const rest = Math.max(0, room - sumOf(own.map((width) => width ?? 0)));
  return placed(
    inRow(
      set.columns,
      set.columns.map((c, i) => own[i] ?? Math.max(LEAST_SIZE, (c.width * rest) / shared)),
      gaps,
      left,
    ),
  );
};

/** Takes a column out; the others close up. */
export const removeColumn = (set: ColumnSet, name: string): Edit => {
  const at = set.columns.findIndex((c) => c.name === name);
  const gone = set.columns[at];
  if (!gone) return { do: 'all', edits: [] };
  const left = set.columns.filter((c) => c !== gone);
  const gaps = gapsOf(set).filter((_, i) => i !== at);
  const widths = left.map((c) => c.width);
  return {
    do: 'all',
    edits: [{ do: 'remove', items: gone.items.map((i) => i.id) }, placed(inRow(left, widths, gaps, leftOf(set)))],
  };
};

/** Widths that columns of a type want, as parts of the whole. */
const WANTED: Readonly<Record<Placeable['type'], number>> = {
  text: 40,
  number: 24,
  date: 24,
  datetime: 34,
  boolean: 16,
  picture: 24,
};

const CAPTION_BAND: Band = { height: 7, items: [], everyPage: true };

export interface NewColumns {
  /** Of the drawer whose rows they show. */
  drawer: string;
  fields: readonly Placeable[];
  /** Fields of numbers that get a total in the drawer's footer. */
  totals?: boolean;
  /** Where the set starts, and where its last column ends at most. */
  left: number;
  right: number;
}

/**
 * A column set for several fields: captions in the drawer's header, values in its detail band, totals in its footer.
 * Columns get the width that their type wants, all narrower when they would not fit.
 */
export const newColumnSet = (report: Report, { drawer, fields, totals, left, right }: NewColumns): Edit => {
  const set = freeName('columns', new Set(columnSets(report).keys()));
  const idFor = idMaker(report);
  const detail: BandAddress = { drawer, band: 'detail' };
  const header: BandAddress = { drawer, band: 'header' };
  const footer: BandAddress = { drawer, band: 'footer' };
  const wanted = fields.map((f) => WANTED[f.type]);
  const gaps = leastGaps(
    fields.map((f) => sideOfType(f.type)),
    right - left,
  );
  const shrink = Math.min(1, Math.max(0.1, (right - left - sumOf(gaps)) / sumOf(wanted)));
  const captions: Item[] = [];
  const values: Item[] = [];
  const sums: Item[] = [];
  let x = left;
  for (const [i, field] of fields.entries()) {
    const width = rounded(wanted[i]! * shrink);
    const place = { x: rounded(x), width, column: { set, name: `c${i + 1}` } };
    const isNumber = field.type === 'number';
    const look = isNumber ? { align: 'right' as const } : field.type === 'boolean' ? { align: 'center' as const } : {};
    captions.push({
      kind: 'text',
      id: idFor('text'),
      ...place,
      y: 1,
      height: 5,
      content: [field.label],
      ...dressed(report, 'caption', look),
    });
    const formula = formulaFor(field, detail);
    values.push(
      field.type === 'picture'
        ? {
            kind: 'picture',
            id: idFor('picture'),
            ...place,
            y: 0.5,
            height: Math.max(5, rounded((width * 2) / 3)),
            formula,
            fit: 'whole',
            alternative: field.label,
          }
        : field.type === 'boolean'
          ? itemWith('check', { id: idFor('check'), ...{ ...place, y: 0.75, height: 4.5 } }, showCheck.own(formula, {}))
          : {
              kind: 'field',
              id: idFor('field'),
              ...place,
              y: 0.5,
              height: 5,
              formula,
              ...dressed(report, 'value', look),
            },
    );
    if (totals && isNumber) {
      const total = `SUM(${formulaFor(field, footer)})`;
      sums.push({
        kind: 'field',
        id: idFor('field'),
        ...place,
        y: 1,
        height: 5,
        formula: total,
        ...dressed(report, 'total', look),
      });
    }
    x += width + gaps[i]!;
  }
  const edits: Edit[] = [];
  const put = (address: BandAddress, band: Band, items: Item[]): void => {
    if (items.length === 0) return;
    const there = findBand(report, address);
    if (!there) edits.push({ do: 'addBand', band: address, as: band });
    else if (there.items.length === 0) edits.push({ do: 'band', band: address, settings: { height: band.height } });
    // Under what the band holds already.
    const top = there?.items.reduce((low, item) => Math.max(low, item.y + item.height), 0) ?? 0;
    const moved = top > 0 ? items.map((item) => ({ ...item, y: rounded(item.y + top) })) : items;
    edits.push({ do: 'add', band: address, items: moved });
  };
  put(header, CAPTION_BAND, captions);
  put(detail, { height: 6, items: [] }, values);
  put(footer, { height: 7, items: [] }, sums);
  return { do: 'all', edits };
};

/** Adds a column for a field at the right end of a set, in the bands where the set's last column stands. */
export const addColumn = (report: Report, setName: string, field: Placeable): Edit | null => {
  const set = columnSets(report).get(setName);
  const last = set?.columns.at(-1);
  if (!set || !last) return null;
  const idFor = idMaker(report);
  const name = freeName(`c${set.columns.length + 1}`, new Set(set.columns.map((c) => c.name)));
  const x = rounded(last.x + last.width + gapBetween(sideOf(last), sideOfType(field.type)));
  const width = WANTED[field.type];
  const edits: Edit[] = [];
  for (const { band, address } of allBands(report)) {
    const mate = band.items.find((item) => item.column?.set === setName && item.column.name === last.name);
    if (!mate || address.drawer === null) continue;
    const isNumber = field.type === 'number';
    const isRow = address.band === 'detail' || address.band === 'detailFooter';
    const place = { x, y: mate.y, width, height: mate.height, column: { set: setName, name } };
    const style = isWords(mate) ? mate.style : undefined;
    const look = {
      ...(style === undefined ? {} : { style }),
      ...(isNumber ? { look: { align: 'right' as const } } : {}),
    };
    const formula = formulaFor(field, address);
    if (address.band === 'header')
      edits.push({
        do: 'add',
        band: address,
        items: [{ kind: 'text', id: idFor('text'), ...place, content: [field.label], ...look }],
      });
    else if (isRow && field.type === 'boolean')
      edits.push({
        do: 'add',
        band: address,
        items: [itemWith('check', { id: idFor('check'), ...place }, showCheck.own(formula, {}))],
      });
    else if (isRow || isNumber)
      edits.push({
        do: 'add',
        band: address,
        items: [{ kind: 'field', id: idFor('field'), ...place, formula: isRow ? formula : `SUM(${formula})`, ...look }],
      });
  }
  return { do: 'all', edits };
};

/**
 * Gives a column the caption that its field is labelled with. `labelOf`: the label of what a value's formula shows, null when
 * that is no field. Null when the column has no caption, or shows no field.
 */
export const captionFromLabel = (
  set: ColumnSet,
  name: string,
  labelOf: (value: ItemOf<'field'>) => string | null,
): Edit | null => {
  const items = set.columns.find((c) => c.name === name)?.items ?? [];
  const caption = items.find((item) => item.kind === 'text');
  const label = items.flatMap((item) => (item.kind === 'field' ? (labelOf(item) ?? []) : []))[0];
  return caption && label !== undefined ? { do: 'set', items: [caption.id], settings: { content: [label] } } : null;
};
